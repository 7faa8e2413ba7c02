using System.Collections.Concurrent;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Ladders;

/// <summary>Arranges all rungs of one song at each place, and says how good a place to play the place is.</summary>
internal sealed class PlaceArranger
{
    private static readonly PlaceWeights W = PlaceWeights.Default;
    private const double Hair = 1e-9;
    private const int Halvings = 5;
    private const int MostUsual = 3;   // times that a usual shape nobody plays gives way

    private readonly ResultCache _cache;
    private readonly ArrangementRequest _request;
    private readonly PlayerKind _kind;
    private readonly Dictionary<double, RungSong> _songs = [];
    private readonly ConcurrentDictionary<int, Arranger> _arrangers = new();

    public PlaceArranger(ResultCache cache, ArrangementRequest request, Chart chart, WorkLimits work = default)
    {
        _cache = cache;
        Work = work;
        // Grips of one's own are of standard tuning: elsewhere they would sound something else.
        if (request.Wishes.Grips.Count > 0 && !chart.Strings.Equals(Fretboard.Tuning.Standard)) request = request with { Wishes = request.Wishes with { Grips = [] } };
        (_request, Chart) = (request, chart);
        // Whoever plays with the record tunes as it does; slacker strings are easier to press.
        _kind = request.Kind with { Guitar = request.Kind.Guitar.Tuned(chart.TuningShift).Strung(chart.Strings), Thumb = request.Kind.Thumb && !request.Wishes.NoThumb };
        Flow = new ChordFlow(chart);
        _strums = new(() => RightHand.LaddersOf(chart, cache));
        Guards = GuardFinder.Find(Flow, chart.Key);
        Rungs = OwnRungs.Of(request.Rungs, request.Wishes.Rungs);
        foreach (var below in Rungs.Select(r => r.LeavesOutBelow).Append(0).Distinct()) _songs[below] = new RungSong(chart, Flow.Chords, below);
    }

    /// <summary>How long and on how many threads positions are worked out.</summary>
    public WorkLimits Work { get; }

    /// <summary>The song, in the key it is to sound in.</summary>
    public Chart Chart { get; }

    /// <summary>Its chords and changes.</summary>
    public ChordFlow Flow { get; }

    /// <summary>The rungs as the teacher wants them, the lowest first.</summary>
    public IReadOnlyList<RungLimits> Rungs { get; }

    /// <summary>What the chart forbids for each chord.</summary>
    public IReadOnlyList<Guard> Guards { get; }

    /// <summary>The song with nothing left out.</summary>
    public RungSong WholeSong => _songs[0];

    /// <summary>What a rung plays of the song.</summary>
    public RungSong SongOf(RungLimits limits) => _songs[limits.LeavesOutBelow];

    /// <summary>Hand and guitar, tuned as it is played.</summary>
    public PlayerKind Kind => _kind;

    private Fretboard.Tuning Strings => Chart.Strings;

    /// <summary>What the right hand plays on a rung.</summary>
    public RightHand HandOf(RungLimits limits) => _hands.GetOrAdd(limits, l => new RightHand(Chart, l, _request.Wishes, _strums.Value));

    private readonly Lazy<Strums.StrumLadder[]> _strums;

    private readonly ConcurrentDictionary<RungLimits, RightHand> _hands = new(ReferenceEqualityComparer.Instance);

    /// <summary>The key of the shapes.</summary>
    public Key ShapeKey(int capo) => Chart.Key.Transpose(-(capo + Chart.TuningShift));

    /// <summary>The chords at the pitch of the shapes.</summary>
    public IReadOnlyList<Chord> ShapeChords(int capo) => [.. Flow.Chords.Select(c => c.Transpose(Chart.Key, ShapeKey(capo)))];

    /// <summary>The arranger of a place.</summary>
    public Arranger ArrangerAt(int capo) => _arrangers.GetOrAdd(capo, MakeArranger);

    private Arranger MakeArranger(int capo) => new(
        _cache, SongOf, ShapeChords(capo), Guards, _kind, _request.Timed, capo, _request.Accompaniment, ArrangerWeights.Default.ReferenceTempo, HandOf,
        [.. Flow.Melody.Select(mask => Lower(mask, capo + Chart.TuningShift))], WishesAt(capo), Work.Cancel);

    /// <summary>What the teacher wants of each chord at a place; null when she wants nothing of chords and shapes.</summary>
    private IReadOnlyList<ChordWish>? WishesAt(int capo)
    {
        var wishes = _request.Wishes;
        if (wishes is { Instead.Count: 0, StandIns.Count: 0, Shapes.Count: 0, Kinds.Count: 0, Grips.Count: 0 }) return null;
        var (book, finder, key, shapes) = (BookAt(capo), new CandidateFinder(_cache), ShapeKey(capo), ShapeChords(capo));
        return [.. Flow.Chords.Select((c, i) => new ChordWish(
            wishes, c.DegreeIn(Chart.Key), shapes[i], degree => Chords.Chord.OfDegree(degree, Chart.Key)?.Transpose(Chart.Key, key), finder, book, _request.Accompaniment, Lower(Flow.Melody[i], capo + Chart.TuningShift)))];
    }

    /// <summary>Looks at a shape for a chord at a place.</summary>
    public ShapeStudy Study(int chord, int capo, Shape shape)
    {
        var (book, asked) = (BookAt(capo), ShapeChords(capo)[chord]);
        var (finder, tune) = (new CandidateFinder(_cache), Lower(Flow.Melody[chord], capo + Chart.TuningShift));
        var fingerings = book.Of(shape).Select(f => finder.Locked(asked, f, _request.Accompaniment, tune, Strings)).ToList();
        return new ShapeStudy(
            shape, asked, fingerings, finder.ClosenessOf(asked, shape, _request.Accompaniment, tune, Strings),
            [.. Chords.ChordNamer.Name(shape.PitchClassMask(Strings), shape.BassPitchClass(Strings), ShapeKey(capo), asked).Take(3)],
            fingerings.Count > 0 ? null : Reach.Of(shape, book.Neck, _kind.Hand, _kind.Thumb));
    }

    private FingeringBook BookAt(int capo) => new(_cache, _kind.Guitar, _kind.Hand, _kind.Thumb, capo);

    private static int Lower(int mask, int semitones)
    {
        var by = (semitones % 12 + 12) % 12;
        return (mask >> by | mask << (12 - by)) & 0xFFF;
    }

    /// <summary>The teacher's shapes for a rung at a place, by chord.</summary>
    public Dictionary<int, Candidate> LocksFor(RungLimits limits, int capo)
    {
        var locks = new Dictionary<int, Candidate>();
        var grips = _request.Wishes.Grips.Where(g => g.Always && g.Rungs.Holds(limits.Height)).ToList();
        if (_request.Locks.Count == 0 && grips.Count == 0) return locks;
        var book = BookAt(capo);
        var tonic = ShapeKey(capo).Tonic.PitchClass;
        if (grips.Count > 0)
        {
            var shapes = ShapeChords(capo);
            for (var i = 0; i < shapes.Count; i++)
                if (grips.Find(g => g.Chord == shapes[i].Name) is { } grip && book.Finder.Weigh(grip.ToShape(), grip.ToFingers()) is { } held)
                    locks[i] = new CandidateFinder(_cache).Locked(shapes[i], held, _request.Accompaniment, Lower(Flow.Melody[i], capo + Chart.TuningShift), Strings);
        }
        foreach (var lockedShape in _request.Locks.Where(l => l.Rung == limits.Number && l.ShapeTonic == tonic))
            for (var i = 0; i < Flow.Chords.Count; i++)
            {
                if (Flow.Chords[i].DegreeIn(Chart.Key) != lockedShape.Chord) continue;
                var fingering = lockedShape.Fingers is { } fingers ? book.Finder.Weigh(lockedShape.Shape, fingers) : book.Of(lockedShape.Shape).FirstOrDefault();
                if (fingering is not null) locks[i] = new CandidateFinder(_cache).Locked(ShapeChords(capo)[i], fingering, _request.Accompaniment, Lower(Flow.Melody[i], capo + Chart.TuningShift), Strings);
            }
        return locks;
    }

    /// <summary>Arranges every rung at a place.</summary>
    public ArrangedPlace At(int capo)
    {
        var arranger = ArrangerAt(capo);
        var rungs = new Arrangement?[Rungs.Count];
        var blocked = new Blocked?[Rungs.Count];
        Arrangement? below = null, free = null;
        for (var r = 0; r < rungs.Length; r++)
        {
            var limits = Rungs[r];
            var locks = LocksFor(limits, capo);
            var (found, why) = limits.AimsAtLoad is { } load ? NearLoad(arranger, limits, load, locks, below) : arranger.Arrange(limits, limits.ClosenessWeight, locks, below);
            // The record is what it is; where it is lighter than the rungs below, those give way.
            if (found is not null && free is not null && !limits.IsRecord && IsFree(found)) found = Climb(arranger, limits, locks, free, found);
            (rungs[r], blocked[r]) = (found, why);
            below = found ?? below;
            if (found is not null && IsFree(found)) free = found;
        }
        LowerTooHeavy(arranger, rungs, capo);
        var barres = rungs[^1]?.Choices.Count(c => c.Fingering.LongestBarre > Barre.LongestShort) ?? 0;
        return new ArrangedPlace(capo, ShapeKey(capo), rungs, blocked, barres, Score(capo, rungs, barres));
    }

    /// <summary>True when the arranger chose everything. A rung on which the teacher had her way stands where she put it: the others do not give way to it.</summary>
    private static bool IsFree(Arrangement? arrangement) => arrangement is not null && arrangement.Choices.All(c => !c.Locked && !c.Wanted);

    private static bool IsAbove(Arrangement? a, Arrangement? below) => a is null || below is null || a.Load >= below.Load - Hair && a.Closeness >= below.Closeness - Hair;

    /// <summary>A rung that was taken in between: the weight of the sound is found by halving with which it comes nearest to the load wanted.</summary>
    private static (Arrangement? Found, Blocked? Blocked) NearLoad(Arranger arranger, RungLimits limits, double load, Dictionary<int, Candidate> locks, Arrangement? below)
    {
        var (best, blocked) = arranger.Arrange(limits, limits.ClosenessWeight, locks, below);
        var (low, high) = (W.LowestWeight, limits.ClosenessWeight * MostOfBetween);
        for (var i = 0; i < HalvingsOfBetween && best is not null; i++)
        {
            var weight = Math.Sqrt(low * high);
            if (arranger.Arrange(limits, weight, locks, below).Found is not { } found) break;
            if (Math.Abs(found.Load - load) < Math.Abs(best.Load - load)) best = found;
            if (found.Load > load) high = weight;
            else low = weight;
        }
        return (best, blocked);
    }

    private const double MostOfBetween = 4;     // times the rung's own weight of the sound
    private const int HalvingsOfBetween = 8;

    /// <summary>Makes sure a rung neither weighs less nor sounds farther off than the rung below.</summary>
    /// <remarks>Weighing the sound more moves along the supported trade-offs, so load and closeness both rise; if that is not enough the rung repeats the one below.</remarks>
    private static Arrangement Climb(Arranger arranger, RungLimits limits, Dictionary<int, Candidate> locks, Arrangement below, Arrangement found)
    {
        for (var weight = limits.ClosenessWeight * 1.6; !IsAbove(found, below) && weight < limits.ClosenessWeight * 20; weight *= 2.2)
            found = arranger.Arrange(limits, weight, locks, below).Found ?? found;
        if (IsAbove(found, below)) return found;
        var repeated = Repeat(arranger, limits, locks, below, found);
        return IsAbove(repeated, below) ? repeated : Repeat(arranger, limits, locks, below, found, whatever: true);
    }

    /// <summary>Plays what another rung plays, as far as this rung may.</summary>
    private static Arrangement Repeat(Arranger arranger, RungLimits limits, Dictionary<int, Candidate> locks, Arrangement other, Arrangement here, bool whatever = false) =>
        arranger.Weigh(limits, [.. other.Choices.Select((c, i) => locks.GetValueOrDefault(i, arranger.Refuses(i, limits, c) ? here.Choices[i] : whatever || here.Heard(i) is null || other.Heard(i) is not null && arranger.MayPlay(i, limits, c) ? c with { Locked = false } : here.Choices[i]))], here.Objective)
            with { IsProved = here.IsProved && other.IsProved, LeftOut = here.LeftOut };

    /// <summary>A rung that came out heavier than the one above, or closer than it, weighs the sound less; if that is not enough it repeats the rung below, or, where that is too heavy as well, the one above.</summary>
    private void LowerTooHeavy(Arranger arranger, Arrangement?[] rungs, int capo)
    {
        for (var r = rungs.Length - 2; r >= 0; r--)
        {
            var above = rungs.Skip(r + 1).FirstOrDefault(IsFree);
            if (rungs[r] is not { } here || !IsFree(here) || above is null || IsAbove(above, here)) continue;
            var limits = Rungs[r];
            var below = rungs.Take(r).LastOrDefault(IsFree);
            var locks = LocksFor(limits, capo);
            for (var weight = limits.ClosenessWeight / 2; weight > 0.02 && !IsAbove(above, here); weight /= 2)
                if (arranger.Arrange(limits, weight, locks, below, above).Found is { } lighter && IsAbove(lighter, below)) here = lighter;
            // One finger more than the rung has is nearer to its promise than a thinner chord; a barre where there is none is not.
            var fits = MayLay(limits, above);
            foreach (var (other, whatever) in new[] { (below, false), (above, false), (fits ? above : below, true), (fits ? below : above, true) })
                if (!IsAbove(above, here) && other is not null && Repeat(arranger, limits, locks, other, here, whatever) is var repeated && IsAbove(repeated, below)) here = repeated;
            // The record is never changed, so what overtakes it plays it; the rungs below follow.
            rungs[r] = IsAbove(above, here) ? here : Repeat(arranger, limits, locks, above, here, whatever: true);
        }
        // What was left with a barre it may not lay plays the rung below, now that this one gave way as well.
        for (var r = 1; r < rungs.Length - 1; r++)
        {
            var limits = Rungs[r];
            if (rungs[r] is not { } here || rungs[r - 1] is not { } below || !IsFree(here) || !IsFree(below) || MayLay(limits, here)) continue;
            var repeated = Repeat(arranger, limits, LocksFor(limits, capo), below, here, whatever: true);
            if (IsAbove(repeated, below) && IsAbove(rungs.Skip(r + 1).FirstOrDefault(IsFree), repeated)) rungs[r] = repeated;
        }
    }

    /// <summary>True when no finger lies over more strings than a rung has it, and no thumb is used that it does not have; shapes of the teacher's are as she wants them.</summary>
    private static bool MayLay(RungLimits limits, Arrangement arrangement) =>
        arrangement.Choices.All(c => c.Locked || c.Fingering.LongestBarre <= limits.LongestBarre && (limits.Thumb || !c.Fingering.UsesThumb));

    /// <summary>Uses a rung that hardly differs from the one above to divide a wide step below it, where the song allows.</summary>
    /// <remarks>For the place that is played only; positions are compared as each rung likes itself best.</remarks>
    public ArrangedPlace EvenOut(ArrangedPlace place)
    {
        var rungs = place.Rungs.ToArray();
        for (var r = rungs.Length - 2; r > 0; r--)
        {
            if (rungs[r - 1] is not { } below || rungs[r] is not { } here || rungs[r + 1] is not { } above || !IsFree(below) || !IsFree(here) || !IsFree(above)) continue;
            if (above.Load - here.Load > W.AlikeLoad || here.Load - below.Load < W.WideStep) continue;
            var limits = Rungs[r];
            var locks = LocksFor(limits, place.Capo);
            var enough = here.Load - (here.Load - below.Load) / 3;
            // The less the sound weighs, the lighter the version: the weight that just makes a step is found by halving.
            var (low, high) = (W.LowestWeight, limits.ClosenessWeight);
            for (var i = 0; i < Halvings; i++)
            {
                var weight = Math.Sqrt(low * high);
                if (ArrangerAt(place.Capo).Arrange(limits, weight, locks, below, above).Found is not { } lighter) break;
                if (lighter.Load > enough) { high = weight; continue; }
                low = weight;
                if (lighter.Load - below.Load >= W.AlikeLoad && IsAbove(lighter, below) && IsAbove(above, lighter)) rungs[r] = lighter;
            }
        }
        return place with { Rungs = rungs };
    }

    /// <summary>Second shapes that pay for themselves on each rung, as long as the ladder stays a ladder.</summary>
    /// <returns>The usual shapes of each rung, and its second ones.</returns>
    public (IReadOnlyList<Arrangement?> Mains, IReadOnlyList<IReadOnlyList<SecondShape>> Seconds) SecondShapes(ArrangedPlace place)
    {
        var arranger = ArrangerAt(place.Capo);
        var found = new (Arrangement Main, IReadOnlyList<SecondShape> Seconds)[place.Rungs.Count];
        // What a rung would like does not depend on the others, so they are asked side by side.
        Parallel.For(0, found.Length, Work.Parallel, r =>
        {
            if (place.Rungs[r] is { } main) found[r] = SecondShapes(MakeArranger(place.Capo), Rungs[r], main, place.Capo);
        });
        var mains = place.Rungs.ToArray();
        var seconds = new IReadOnlyList<SecondShape>[place.Rungs.Count];
        Arrangement? below = null;
        for (var r = 0; r < seconds.Length; r++)
        {
            seconds[r] = [];
            if (place.Rungs[r] is not { } alone) continue;
            var (main, wanted) = found[r];
            var weighed = wanted.Count == 0 ? main : WithSeconds(Rungs[r], arranger, main, wanted);
            var above = place.Rungs.Skip(r + 1).FirstOrDefault(IsFree);
            if (!IsFree(alone) || IsAbove(weighed, below) && IsAbove(above, weighed)) (mains[r], seconds[r]) = (main, wanted);
            else weighed = alone;
            if (IsFree(alone)) below = weighed;
        }
        return (mains, seconds);
    }

    private (Arrangement Main, IReadOnlyList<SecondShape> Seconds) SecondShapes(Arranger arranger, RungLimits limits, Arrangement main, int capo)
    {
        var locks = LocksFor(limits, capo);
        var found = arranger.SecondShapes(limits, main, locks);
        for (var again = 0; again < MostUsual && UsualIsPlayed(limits, arranger, main, found) is { } changed; again++)
            (main, found) = (changed, arranger.SecondShapes(limits, changed, locks));
        return (main, found);
    }

    /// <summary>Where every place of a chord takes another shape, the one that sounds longest becomes the usual one.</summary>
    /// <returns>The arrangement with its usual shapes changed; null when each is played somewhere.</returns>
    private Arrangement? UsualIsPlayed(RungLimits limits, Arranger arranger, Arrangement main, IReadOnlyList<SecondShape> seconds)
    {
        if (seconds.Count == 0) return null;
        var split = SplitFlow(limits, seconds);
        var choices = main.Choices.ToArray();
        var isChanged = false;
        foreach (var group in seconds.Select((s, i) => (s, Beats: split.Beats[choices.Length + i])).GroupBy(x => x.s.ChordIndex))
        {
            if (split.Beats[group.Key] > 0) continue;
            choices[group.Key] = group.GroupBy(x => x.s.Choice.Fingering.ToString()).MaxBy(g => g.Sum(x => x.Beats))!.First().s.Choice;
            isChanged = true;
        }
        return isChanged ? arranger.Weigh(limits, choices, main.Objective) with { IsProved = main.IsProved, LeftOut = main.LeftOut } : null;
    }

    /// <summary>An arrangement weighed with its second shapes, which are numbered after the chords.</summary>
    public Arrangement WithSeconds(RungLimits limits, Arranger arranger, Arrangement main, IReadOnlyList<SecondShape> seconds) =>
        arranger.Weigh(limits, [.. main.Choices, .. seconds.Select(s => s.Choice)], main.Objective, SplitFlow(limits, seconds)) with { IsProved = main.IsProved };

    /// <summary>The rung's flow with second shapes as chords of their own.</summary>
    public ChordFlow SplitFlow(RungLimits limits, IReadOnlyList<SecondShape> seconds) => SongOf(limits).Flow.Split([.. seconds.Select(s => (s.ChordIndex, s.Next))]);

    private double Score(int capo, Arrangement?[] rungs, int barres)
    {
        double sum = 0, weights = 0;
        for (var r = 0; r < rungs.Length; r++)
        {
            // What was taken in between is for this place: it has no say in which place that is.
            if (Rungs[r].IsBetween) continue;
            var weight = W.Rungs[Math.Min(Rungs[r].Number, W.Rungs.Count) - 1];
            weights += weight;
            var perPercent = Math.Min(Rungs[r].ClosenessWeight, W.MostClosenessWeight);
            sum += weight * (rungs[r] is { } a ? a.Load + perPercent * 100 * (1 - a.Closeness) : W.BlockedRung);
        }
        var score = sum / weights;
        // The record's capo is a place of the record's pitch; a song moved for a voice has none.
        var recordCapo = _request.Aim == Aim.Voice ? 0 : Chart.RecordCapo;
        if (capo > 0 && capo != recordCapo) score += W.CapoAtAll + W.CapoPerFret * capo + W.HighCapo * Math.Max(0, capo - W.HighCapoFrom);
        if (recordCapo > 0 && capo != recordCapo) score += W.LeavesRecordCapo;
        if (capo > 0 && capo == -Chart.TuningShift && _request.Kind.Strings is null) score += W.UndoesTuning;
        return score + _kind.Barres switch
        {
            BarreGoal.Seek => W.SeekNoCapo * capo,
            BarreGoal.Avoid => W.Barre * barres + W.BarreAvoided * (capo > W.HighestForBarres ? W.BarresAbove : Math.Max(0, barres - 1)),
            _ => W.Barre * barres,
        };
    }
}
