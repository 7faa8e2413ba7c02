namespace Tembri.Core.Strums;

/// <summary>What a rung of the right hand may play at each step, given the rung above and the record.</summary>
/// <remarks>
/// Every choice is as the rung above has it, or less: no accent, no stroke, down for up, sounding for damped. Rung 4 strikes
/// where the record passes (or rests), 3 leaves fine divisions and most
/// strokes between the beats out, 2 keeps to the beats, 1 to the bar line. Picked patterns: 4 one string at a time, 3 each run
/// of the fingers in one direction, 2 thumb and then the rest at once, 1 all at once.
/// </remarks>
internal sealed class StrumRules
{
    private readonly StrumPattern _record;
    private readonly StrumPattern _above;
    private readonly int _rung;

    public StrumRules(StrumPattern record, StrumPattern above, int rung)
    {
        (_record, _above, _rung) = (record, above, rung);
        StepsPerBar = record.StepsPerBeat * record.Meter.Beats;
        IsPicked = record.IsPicked;
        MostOffbeats = rung != 3 || IsPicked ? int.MaxValue : record.Meter.IsCompound ? 1 : (record.Meter.Beats + 1) / 2;
    }

    public int StepsPerBar { get; }

    public bool IsPicked { get; }

    /// <summary>The most strokes between the beats: in a bar, in compound meters in a beat.</summary>
    public int MostOffbeats { get; }

    /// <summary>True when the fingers may only go one way until the thumb comes again.</summary>
    public bool OneWay => IsPicked && _rung == 3;

    /// <summary>True when the rest is plucked at most once until the thumb comes again.</summary>
    public bool GathersOnce => IsPicked && _rung == 2;

    /// <summary>What may stand at a step whatever stands elsewhere, the likeliest first.</summary>
    public List<HandStep> OptionsAt(int i)
    {
        var a = _above.Steps[i];
        var options = new List<HandStep>();
        void Add(HandStep step) { if (!options.Contains(step)) options.Add(step); }
        var level = _record.Level(i);
        if (level <= HighestLevel)
        {
            if (IsPicked) AddPicked(a, i, Add);
            else AddStruck(a, i, level, Add);
        }
        Add(HandStep.Rest);
        return options;
    }

    private int HighestLevel => _rung switch { 4 => IsPicked ? 2 : 3, 3 => 2, 2 => 1, _ => 0 };

    private void AddStruck(HandStep a, int i, int level, Action<HandStep> add)
    {
        if (_rung == 1)
        {
            if (Any(_above, i, StepsPerBar)) add(HandStep.Down);
            return;
        }
        if (a.Stroke == Stroke.Miss && _record.IsDownward(i)) add(HandStep.Down);
        if (_rung == 2 && !a.Sounds && Any(_above, i, _record.StepsPerBeat)) add(HandStep.Down);
        if (a.Stroke is Stroke.Rest or Stroke.Miss) return;
        if (a.Stroke == Stroke.Muted && _rung <= 3) a = a with { Stroke = _record.IsDownward(i) ? Stroke.Down : Stroke.Up };
        if (a.Stroke == Stroke.Up && _rung == 2) a = a with { Stroke = Stroke.Down };
        if (level <= 1 || _rung == 4) add(a);
        add(a with { Accent = false });
        if (a.Stroke == Stroke.Up) add(a with { Stroke = Stroke.Down, Accent = a.Accent && _rung == 4 });
    }

    private void AddPicked(HandStep a, int i, Action<HandStep> add)
    {
        if (_rung == 1)
        {
            if (Any(_above, i, StepsPerBar)) add(new HandStep(Stroke.Pick, false, AllOf(i)));
            return;
        }
        if (_rung == 2)
        {
            if (a.HasThumb) add(a with { Accent = false, Picks = Thumbs(a) });
            else if (Union(SpellFrom(i), SpellTo(i)) is { Length: > 0 } rest) add(new HandStep(Stroke.Pick, false, rest));
            return;
        }
        if (a.Stroke == Stroke.Stop) add(a);
        if (a.Stroke != Stroke.Pick) return;
        // Fingers close together as one; thumb and fingers at once are two things.
        var hands = a.HasThumb && a.Picks.Any(p => !IsThumbs(p))
            ? new[] { Thumbs(a), string.Concat(a.Picks.Where(p => !IsThumbs(p))) }
            : [a.Picks];
        foreach (var picks in hands)
        {
            if (_rung == 4) add(a with { Picks = picks });
            add(new HandStep(Stroke.Pick, false, picks));
        }
    }

    private static string Thumbs(HandStep step) => string.Concat(step.Picks.Where(IsThumbs));

    /// <summary>All strings the record picks in a bar, of the bass strings one.</summary>
    private string AllOf(int bar)
    {
        var all = Enumerable.Range(bar, StepsPerBar).SelectMany(k => _record.Steps[k].Picks).Distinct()
            .OrderByDescending(StringOf).ToList();
        return string.Concat(all.Where(IsThumbs).Take(1).Concat(all.Where(p => !IsThumbs(p))));
    }

    private int SpellFrom(int i)
    {
        var from = i;
        while (from % StepsPerBar != 0 && !_above.Steps[from].HasThumb) from--;
        return from;
    }

    private int SpellTo(int i)
    {
        var to = i + 1;
        while (to % StepsPerBar != 0 && !_above.Steps[to].HasThumb) to++;
        return to;
    }

    private string Union(int from, int to) =>
        string.Concat(Enumerable.Range(from, to - from).SelectMany(k => _above.Steps[k].Picks).Distinct()
            .Where(p => !IsThumbs(p)).OrderByDescending(StringOf));

    private static bool Any(StrumPattern pattern, int from, int count)
    {
        for (var i = from; i < from + count; i++) if (pattern.Steps[i].Sounds) return true;
        return false;
    }

    internal static bool IsThumbs(char pick) => pick is 'b' or 'a' or >= '4';

    /// <summary>The string of a pick for their order: the bass strings first.</summary>
    internal static int StringOf(char pick) => pick switch { 'b' => 8, 'a' => 7, _ => pick - '0' };

    /// <summary>True when steps that may stand each by itself may stand together.</summary>
    public bool MayStand(IReadOnlyList<HandStep> steps)
    {
        var state = ReductionState.Start;
        for (var i = 0; i < steps.Count; i++)
            if (!TryGo(state, i, steps[i], out state)) return false;
        return true;
    }

    /// <summary>What a step leaves behind for those after it.</summary>
    /// <returns>False when it may not stand after what came before.</returns>
    public bool TryGo(in ReductionState before, int i, HandStep q, out ReductionState after)
    {
        var s = before;
        if (i % StepsPerBar == 0) s = s with { Offbeats = 0, Way = 0, LastString = 0, Gathered = false };
        if (i % _record.StepsPerBeat == 0) s = s with { InBeat = 0, Offbeats = _record.Meter.IsCompound ? 0 : s.Offbeats };
        after = s;
        var p = _record.Steps[i];
        // A passed beat after an up-stroke: the hand comes down anyway, so it strikes.
        if (s.WasUp && p.Stroke == Stroke.Miss && _record.IsDownward(i) && !q.Sounds) return false;
        if (q.Sounds && s.WasTurned) return false;
        var isTurned = p.Stroke == Stroke.Up && q.Stroke == Stroke.Down && _record.Level(i) >= 2;
        if (isTurned && s.InBeat != 0) return false;
        // The hand comes up from a down-stroke of the same beat, or it would have passed one.
        if (q.Stroke == Stroke.Up && s.InBeat != 1) return false;
        if (q.Sounds && _record.Level(i) >= 2)
        {
            if (MostOffbeats < int.MaxValue) s = s with { Offbeats = s.Offbeats + 1 };
            if (s.Offbeats > MostOffbeats) return false;
        }
        if (q.Stroke == Stroke.Pick && !GoPicked(ref s, q)) return false;
        after = s with { InBeat = q.Sounds ? q.Stroke == Stroke.Up ? 2 : 1 : s.InBeat, WasUp = q.Stroke == Stroke.Up,
            WasTurned = isTurned };
        return true;
    }

    private bool GoPicked(ref ReductionState s, HandStep q)
    {
        if (q.HasThumb)
        {
            s = s with { Way = 0, LastString = 0, Gathered = false };
            return true;
        }
        if (GathersOnce)
        {
            if (s.Gathered) return false;
            s = s with { Gathered = true };
        }
        if (!OneWay) return true;
        var here = StringOf(q.Picks[0]);
        if (s.LastString != 0)
        {
            var way = Math.Sign(here - s.LastString);
            if (way == 0 || s.Way != 0 && way != s.Way) return false;
            s = s with { Way = way };
        }
        s = s with { LastString = here };
        return true;
    }
}

/// <summary>What of the steps chosen so far matters for those to come.</summary>
/// <param name="InBeat">The last stroke of this beat: 0 none, 1 not up, 2 up.</param>
/// <param name="WasUp">The step before is an up-stroke.</param>
/// <param name="WasTurned">The step before is an up-stroke played down.</param>
/// <param name="Offbeats">Strokes between the beats in this bar, in compound meters in this beat.</param>
/// <param name="Way">Which way the fingers go: −1, 0 for not yet, 1.</param>
/// <param name="LastString">The string of the finger before; 0 for none.</param>
/// <param name="Gathered">The rest was plucked already.</param>
/// <param name="Push">The push under way: 0 none, 1 kept, 2 dropped.</param>
/// <param name="Fill">How the beat's own stroke was added: 0 it was not, 1 in place of a push, 2 otherwise.</param>
/// <param name="Later">Strokes of this beat after it: 0 none on the record, 1 dropped, 2 kept.</param>
/// <param name="First">The first step of the cycle sounds.</param>
internal readonly record struct ReductionState(int InBeat, bool WasUp, bool WasTurned, int Offbeats, int Way, int LastString,
    bool Gathered, int Push, int Fill, int Later, bool First)
{
    public static readonly ReductionState Start;
}
