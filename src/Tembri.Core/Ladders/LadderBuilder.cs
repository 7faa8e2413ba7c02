using System.Collections.Concurrent;
using System.Globalization;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Swaps;

namespace Tembri.Core.Ladders;

/// <summary>Builds ladders: arranges every rung at every position, chooses the position, and grades the rungs for the student.</summary>
public sealed class LadderBuilder
{
    private const double CapoAtAll = 4.0;        // points a capo costs before it gains anything
    private const double CapoPerFret = 0.9;      // points per fret: high capos thin the sound and crowd the fingers
    private const double HighCapo = 1.8;         // more per fret beyond the fourth
    private const double SeekNoCapo = 3.0;       // points per fret against a capo for a student who seeks barres
    private const double BlockedRung = 60;       // points for a rung that cannot be arranged

    private readonly LadderRequest _request;
    private readonly Chart _chart;
    private readonly ChordFlow _flow;
    private readonly IReadOnlyList<Guard> _guards;
    private readonly Dictionary<double, RungSong> _songs = [];
    private readonly ConcurrentDictionary<int, Arranger> _arrangers = new();

    private LadderBuilder(LadderRequest request)
    {
        _request = request;
        _chart = request.Aim == Aim.Voice && request.Chart.VoiceShift != 0
            ? ChartTransposer.Move(request.Chart, request.Chart.Key.Transpose(request.Chart.VoiceShift))
            : request.Chart;
        _flow = new ChordFlow(_chart);
        _guards = GuardFinder.Find(_flow, _chart.Key);
        foreach (var below in request.Rungs.Select(r => r.LeavesOutBelow).Append(0).Distinct()) _songs[below] = new RungSong(_chart, _flow.Chords, below);
    }

    private RungSong SongOf(RungLimits limits) => _songs[limits.LeavesOutBelow];

    /// <summary>Builds the ladder.</summary>
    /// <exception cref="ArgumentException">The chart has no chords, or the highest capo is out of range.</exception>
    public static Ladder Build(LadderRequest request)
    {
        if (request.HighestCapo is < 0 or > NeckGeometry.HighestCapo) throw new ArgumentException($"The highest capo is 0 to {NeckGeometry.HighestCapo}.", nameof(request));
        if (request.Capo is < 0 or > NeckGeometry.HighestCapo) throw new ArgumentException($"A capo is 0 to {NeckGeometry.HighestCapo}.", nameof(request));
        var builder = new LadderBuilder(request);
        if (builder._flow.Chords.Count == 0) throw new ArgumentException("The chart has no chord to arrange.", nameof(request));
        return builder.Build();
    }

    /// <summary>Everything that could be played for one chord at the ladder's capo, with what a rung thinks of it.</summary>
    /// <param name="request">The same request the ladder was built from.</param>
    /// <param name="capo">The capo.</param>
    /// <param name="chordIndex">Which chord of the song.</param>
    /// <param name="limits">The rung.</param>
    /// <returns>Candidates, those the rung would choose first.</returns>
    public static IReadOnlyList<(Candidate Candidate, string? Objection)> Alternatives(LadderRequest request, int capo, int chordIndex, RungLimits limits)
    {
        var builder = new LadderBuilder(request);
        return [.. builder.ArrangerAt(capo).CandidatesOf(chordIndex)
            .GroupBy(c => c.Fingering.ToString()).Select(g => g.First())
            .Select(c => (c, limits.Objection(c)))
            .OrderBy(x => x.Item2 is null ? 0 : 1)
            .ThenBy(x => x.c.Load + limits.ClosenessWeight * 100 * (1 - x.c.Closeness.Value) + x.c.Idiom)
            .ThenBy(x => x.c.Fingering.ToString(), StringComparer.Ordinal)];
    }

    private Ladder Build()
    {
        var capos = _request.Aim == Aim.None ? [0] : Enumerable.Range(0, _request.HighestCapo + 1).ToList();
        if (_request.Capo is { } wanted && !capos.Contains(wanted)) capos.Add(wanted);
        // Positions do not know of each other, so they are worked out side by side; the result does not depend on which is done first.
        var positions = new Position[capos.Count];
        Parallel.For(0, capos.Count, i => positions[i] = Evaluate(capos[i]));
        var best = positions.MinBy(p => p.Score)!;
        var used = positions.FirstOrDefault(p => p.Capo == _request.Capo) ?? best;
        var rungs = BuildRungs(used, positions);
        return new Ladder
        {
            Chart = _chart, Flow = _flow, Guards = _guards, Positions = positions, Capo = used.Capo, RecommendedCapo = best.Capo,
            ShapeKey = used.ShapeKey, Rungs = rungs, WorkingRung = ChooseWorkingRung(rungs),
            TradeOffs = TradeOffCurve.Of(ArrangerAt(used.Capo), _songs[0], _request.Rungs),
        };
    }

    private Key ShapeKey(int capo) => _chart.Key.Transpose(-(capo + _chart.TuningShift));

    private IReadOnlyList<Chord> ShapeChords(int capo) => [.. _flow.Chords.Select(c => c.Transpose(_chart.Key, ShapeKey(capo)))];

    private Arranger ArrangerAt(int capo) => _arrangers.GetOrAdd(capo,
        c => new Arranger(SongOf, ShapeChords(c), _guards, _request.Player, c, _request.Company, _chart.Tempo, _chart.Meter));

    private Dictionary<int, Candidate> LocksFor(int rung, int capo)
    {
        var locks = new Dictionary<int, Candidate>();
        var book = FingeringBook.For(_request.Player.Guitar, _request.Player.Hand, _request.Player.Thumb, capo);
        foreach (var lockedShape in _request.Locks.Where(l => l.Rung == rung && l.Capo == capo))
            for (var i = 0; i < _flow.Chords.Count; i++)
            {
                if (_flow.Chords[i].Name != lockedShape.Chord) continue;
                var fingering = lockedShape.Fingers is { } fingers ? book.Finder.Weigh(lockedShape.Shape, fingers) : book.Of(lockedShape.Shape).FirstOrDefault();
                if (fingering is not null) locks[i] = CandidateFinder.Locked(ShapeChords(capo)[i], fingering, _request.Company);
            }
        return locks;
    }

    private Position Evaluate(int capo)
    {
        var arranger = ArrangerAt(capo);
        var rungs = new Arrangement?[_request.Rungs.Count];
        var blocked = new Blocked?[_request.Rungs.Count];
        Arrangement? below = null;
        for (var r = 0; r < rungs.Length; r++)
        {
            var limits = _request.Rungs[r];
            var locks = LocksFor(limits.Number, capo);
            var (found, why) = arranger.Arrange(limits, limits.ClosenessWeight, locks, below);
            if (found is not null && below is not null) found = Climb(arranger, limits, locks, below, found);
            (rungs[r], blocked[r]) = (found, why);
            below = found ?? below;
        }
        LowerTooHeavy(arranger, rungs, capo);
        var record = rungs[^1];
        var barres = record?.Choices.Count(c => c.Fingering.LongestBarre > Barre.LongestShort) ?? 0;
        return new Position(capo, ShapeKey(capo), rungs, blocked, barres, Score(capo, rungs));
    }

    /// <summary>Makes sure a rung neither weighs less nor sounds farther off than the rung below.</summary>
    /// <remarks>Weighing the sound more moves along the supported trade-offs, so load and closeness both rise; if that is not enough the rung repeats the one below.</remarks>
    private static Arrangement Climb(Arranger arranger, RungLimits limits, Dictionary<int, Candidate> locks, Arrangement below, Arrangement found)
    {
        bool Above(Arrangement a) => a.Load >= below.Load - 1e-9 && a.Closeness >= below.Closeness - 1e-9;
        for (var weight = limits.ClosenessWeight * 1.6; !Above(found) && weight < limits.ClosenessWeight * 20; weight *= 2.2)
            found = arranger.Arrange(limits, weight, locks, below).Found ?? found;
        if (Above(found)) return found;
        var repeated = below.Choices.Select((c, i) => locks.GetValueOrDefault(i, c)).ToList();
        return arranger.Weigh(limits, repeated, found.Objective);
    }

    /// <summary>A rung that came out heavier than the record, or closer than it, takes the record's own shapes where its limits allow, else repeats the rung below.</summary>
    private void LowerTooHeavy(Arranger arranger, Arrangement?[] rungs, int capo)
    {
        for (var r = rungs.Length - 2; r >= 0; r--)
        {
            var above = rungs.Skip(r + 1).FirstOrDefault(a => a is not null);
            if (rungs[r] is not { } here || above is null || here.Load <= above.Load + 1e-9 && here.Closeness <= above.Closeness + 1e-9) continue;
            var limits = _request.Rungs[r];
            var below = rungs.Take(r).LastOrDefault(a => a is not null);
            var locks = LocksFor(limits.Number, capo);
            for (var weight = limits.ClosenessWeight / 2; weight > 0.02 && (here.Load > above.Load + 1e-9 || here.Closeness > above.Closeness + 1e-9); weight /= 2)
                if (arranger.Arrange(limits, weight, locks, below).Found is { } lighter && (below is null || lighter.Load >= below.Load - 1e-9 && lighter.Closeness >= below.Closeness - 1e-9))
                    here = lighter;
            if (here.Load > above.Load + 1e-9 || here.Closeness > above.Closeness + 1e-9)
                here = arranger.Weigh(limits, [.. (below ?? above).Choices.Select((c, i) => locks.GetValueOrDefault(i, c))], here.Objective);
            rungs[r] = here;
        }
    }

    private double Score(int capo, Arrangement?[] rungs)
    {
        // The middle rungs are the ones most students play.
        double sum = 0, weights = 0;
        for (var r = 0; r < rungs.Length; r++)
        {
            var weight = _request.Rungs[r].Number switch { 1 => 0.5, 2 or 3 => 1.0, 4 => 0.8, _ => 0.5 };
            weights += weight;
            sum += weight * (rungs[r] is { } a ? a.Load + Math.Min(_request.Rungs[r].ClosenessWeight, 1.2) * 100 * (1 - a.Closeness) : BlockedRung);
        }
        var score = sum / weights + (capo > 0 ? CapoAtAll + CapoPerFret * capo + HighCapo * Math.Max(0, capo - 4) : 0);
        if (_request.Player.Barres == BarreGoal.Seek) score += SeekNoCapo * capo;
        return score;
    }

    private List<Rung> BuildRungs(Position position, IReadOnlyList<Position> positions)
    {
        var arranger = ArrangerAt(position.Capo);
        var shapeChords = ShapeChords(position.Capo);
        var rungs = new List<Rung>();
        Arrangement? below = null;
        var playedBelow = new HashSet<int>();
        for (var r = 0; r < _request.Rungs.Count; r++)
        {
            var limits = _request.Rungs[r];
            var strum = StrumPattern.For(_chart.Meter.Beats, limits.Number, _chart.Meter.IsCompound);
            var song = SongOf(limits);
            var rung = new Rung { Limits = limits, Song = song, Capo = position.Capo, Chords = [], Strum = strum, StrumLoad = strum.LoadAt(_chart.Tempo) };
            if (position.Rungs[r] is not { } arrangement)
            {
                rungs.Add(rung with { BlockedBy = SayBlocked(position.Blocked[r], r, positions) });
                continue;
            }
            var chords = arrangement.Choices.Select((c, i) => new RungChord(
                i, _flow.Chords[i], shapeChords[i], c,
                SwapReasons.For(c.Kind, shapeChords[i], c.Played, c.Description, c.Closeness, _guards[i]),
                !playedBelow.Contains(i) || below is null || !c.SameAs(below.Choices[i]), song.LeavesOut(i))).ToList();
            playedBelow.UnionWith(chords.Where(c => !c.IsLeftOut).Select(c => c.Index));
            var fit = new VersionFit(song.Flow, [.. arrangement.Choices.Select(c => c.Fingering)], arranger.Changes, _request.Player, _chart.Tempo, strum,
                (step, tempo) => arranger.Available(step, limits.Number, tempo));
            rungs.Add(rung with
            {
                Chords = chords, Load = arrangement.Load, Closeness = arrangement.Closeness, Fit = fit,
                SameAsBelow = below is not null && chords.All(c => !c.IsNew) && chords.All(c => c.IsLeftOut == rungs[^1].Chords.ElementAtOrDefault(c.Index)?.IsLeftOut), Reason = SayReason(chords, fit, song.Flow, rung.StrumLoad),
            });
            below = arrangement;
        }
        return rungs;
    }

    private string SayBlocked(Blocked? blocked, int rung, IReadOnlyList<Position> positions)
    {
        var free = positions.Where(p => p.Rungs[rung] is not null).Select(p => p.Capo.ToString(CultureInfo.InvariantCulture)).ToList();
        var elsewhere = free.Count == 0 ? "No position frees it; a swap of your own would." : $"Capo {string.Join(", ", free.Take(4))} would free it.";
        return blocked is null ? elsewhere : $"{_flow.Chords[blocked.ChordIndex].Name} blocks this rung: {blocked.Words}. {elsewhere}";
    }

    private string SayReason(IReadOnlyList<RungChord> chords, VersionFit fit, ChordFlow flow, double strumLoad)
    {
        var loss = chords.Select(c => (Chord: c, Lost: (1 - fit.Clean[c.Index]) * flow.Beats[c.Index])).MaxBy(x => x.Lost);
        var late = fit.Changes.Select(c => (Change: c, Lost: (1 - c.InTime) * c.Count)).OrderByDescending(x => x.Lost).FirstOrDefault();
        var total = Math.Max(1, flow.TotalBeats);
        if (1 - fit.Strummed > Math.Max(0.02, Math.Max(loss.Lost, late.Lost) / total))
            return string.Create(CultureInfo.InvariantCulture, $"The strum asks {strumLoad:0} of the right hand, the skill is {_request.Player.Skills.RightHand:0}.");
        if (Math.Max(loss.Lost, late.Lost) / total < 0.02) return string.Create(CultureInfo.InvariantCulture, $"Every shape and change is within reach at {_chart.Tempo:0}.");
        if (late.Change is { } change && late.Lost >= loss.Lost)
        {
            var (from, to) = (chords[change.From].ShapeChord.Name, chords[change.To].ShapeChord.Name);
            return string.Create(CultureInfo.InvariantCulture, $"The change {from} → {to} needs {change.NeededSeconds:0.0} s, there are {change.AvailableSeconds:0.0} s at {_chart.Tempo:0}.");
        }
        var (technique, demand) = FitModel.Weakest(loss.Chord.Choice.Fingering, _request.Player.Skills);
        return string.Create(CultureInfo.InvariantCulture, $"{loss.Chord.ShapeChord.Name} asks {demand:0} of {Words(technique)}, the skill is {_request.Player.Skills[technique]:0}.");
    }

    private static string Words(Technique technique) => technique switch
    {
        Technique.Fingers => "the fingers",
        Technique.Stretch => "the stretch",
        Technique.ShortBarre => "the short barre",
        Technique.FullBarre => "the full barre",
        Technique.Muting => "muting",
        Technique.Thumb => "the thumb",
        _ => technique.ToString(),
    };

    /// <summary>The rung to work on: the lowest one that is growing, else the highest ready one, else the lowest of all. Who seeks barres goes to the lowest growing rung with one.</summary>
    private int? ChooseWorkingRung(List<Rung> rungs)
    {
        var open = rungs.Where(r => r.IsFeasible).ToList();
        if (open.Count == 0) return null;
        var growing = open.Where(r => r.Fit!.Verdict == Verdict.Growing).ToList();
        if (_request.Player.Barres == BarreGoal.Seek && growing.FirstOrDefault(r => r.Chords.Any(c => c.Choice.Fingering.Barres.Count > 0)) is { } barre) return barre.Limits.Number;
        var highestReady = open.LastOrDefault(r => r.Fit!.Verdict == Verdict.Ready);
        var next = growing.FirstOrDefault(r => r.Limits.Number > (highestReady?.Limits.Number ?? 0));
        return (next ?? highestReady ?? open[0]).Limits.Number;
    }
}
