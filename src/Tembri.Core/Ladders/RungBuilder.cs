using System.Globalization;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Swaps;

namespace Tembri.Core.Ladders;

/// <summary>Turns the arrangements of the position that is played into rungs: what is new, why, and how each fits the student.</summary>
internal sealed class RungBuilder(LadderRequest request, Positions positions)
{
    private readonly ChordFlow _flow = positions.Flow;

    /// <summary>The rungs of a position.</summary>
    /// <param name="position">The position that is played.</param>
    /// <param name="all">All positions, to say what would free a blocked rung.</param>
    public List<Rung> Build(Position position, IReadOnlyList<Position> all)
    {
        var arranger = positions.ArrangerAt(position.Capo);
        var seconds = positions.SecondShapes(position);
        var rungs = new List<Rung>();
        Arrangement? below = null;
        var playedBelow = new HashSet<int>();
        for (var r = 0; r < request.Rungs.Count; r++)
        {
            var limits = request.Rungs[r];
            var (chart, song) = (positions.Chart, positions.SongOf(limits));
            var strum = StrumPattern.For(chart.Meter.Beats, limits.Number, chart.Meter.IsCompound);
            var rung = new Rung { Limits = limits, Song = song, Flow = song.Flow, Capo = position.Capo, Chords = [], Strum = strum, StrumLoad = strum.LoadAt(chart.Tempo) };
            if (position.Rungs[r] is not { } main)
            {
                rungs.Add(rung with { BlockedBy = SayBlocked(position.Blocked[r], r, all) });
                continue;
            }
            var arrangement = positions.WithSeconds(limits, arranger, main, seconds[r]);
            var flow = positions.SplitFlow(limits, seconds[r]);
            var chords = Chords(main, seconds[r], position.Capo, song, i => playedBelow.Contains(i) ? below?.Choices[i] : null, rungs.LastOrDefault(b => b.IsFeasible));
            var fit = new VersionFit(flow, [.. arrangement.Choices.Select(c => c.Fingering)], arranger.Changes, request.Player, chart.Tempo, strum,
                (step, tempo) => arranger.Available(step, limits.Number, tempo));
            rungs.Add(rung with
            {
                Chords = chords, Flow = flow, Load = arrangement.Load, Closeness = arrangement.Closeness, Fit = fit,
                SameAsBelow = below is not null && chords.Count == rungs[^1].Chords.Count && chords.All(c => !c.IsNew) && chords.All(c => c.IsLeftOut == rungs[^1].Chords.ElementAtOrDefault(c.Index)?.IsLeftOut),
                Reason = SayReason(chords, fit, flow, rung.StrumLoad),
            });
            playedBelow.UnionWith(chords.Where(c => !c.IsLeftOut).Select(c => c.Index));
            below = main;
        }
        return rungs;
    }

    private List<RungChord> Chords(Arrangement main, IReadOnlyList<SecondShape> seconds, int capo, RungSong song, Func<int, Candidate?> below, Rung? rungBelow)
    {
        var shapeChords = positions.ShapeChords(capo);
        string Reason(int i, Candidate c) => SwapReasons.For(c.Kind, shapeChords[i], c.Played, c.Description, c.Closeness, positions.Guards[i]);
        var chords = main.Choices.Select((c, i) => new RungChord(
            i, _flow.Chords[i], shapeChords[i], c, Reason(i, c), below(i) is not { } known || !c.SameAs(known), song.LeavesOut(i))).ToList();
        foreach (var second in seconds)
        {
            var (i, c) = (second.ChordIndex, second.Choice);
            var next = second.Next < 0 ? null : shapeChords[second.Next];
            chords.Add(new RungChord(chords.Count, _flow.Chords[i], shapeChords[i], c, $"{(next is null ? "At the end" : $"Before {next.Name}")}, because the change is quicker. {Reason(i, c)}",
                IsNew: rungBelow is null || !rungBelow.Chords.Any(b => b.IsSecond && b.SongChord == i && b.Before?.Name == next?.Name && b.Choice.SameAs(c)))
            {
                Before = next, SongChord = i,
            });
        }
        return chords;
    }

    private string SayBlocked(Blocked? blocked, int rung, IReadOnlyList<Position> all)
    {
        var free = all.Where(p => p.Rungs[rung] is not null).Select(p => p.Capo.ToString(CultureInfo.InvariantCulture)).ToList();
        var elsewhere = free.Count == 0 ? "No position frees it; a swap of your own would." : $"Capo {string.Join(", ", free.Take(4))} would free it.";
        return blocked is null ? elsewhere : $"{_flow.Chords[blocked.ChordIndex].Name} blocks this rung: {blocked.Words}. {elsewhere}";
    }

    private string SayReason(IReadOnlyList<RungChord> chords, VersionFit fit, ChordFlow flow, double strumLoad)
    {
        var loss = chords.Select(c => (Chord: c, Lost: (1 - fit.Clean[c.Index]) * flow.Beats[c.Index])).MaxBy(x => x.Lost);
        var late = fit.Changes.Select(c => (Change: c, Lost: (1 - c.InTime) * c.Count)).OrderByDescending(x => x.Lost).FirstOrDefault();
        var total = Math.Max(1, flow.TotalBeats);
        if (1 - fit.Strummed > Math.Max(0.02, Math.Max(loss.Lost, late.Lost) / total))
            return string.Create(CultureInfo.InvariantCulture, $"The strum asks {strumLoad:0} of the right hand, the skill is {request.Player.Skills.RightHand:0}.");
        if (Math.Max(loss.Lost, late.Lost) / total < 0.02) return string.Create(CultureInfo.InvariantCulture, $"Every shape and change is within reach at {positions.Chart.Tempo:0}.");
        if (late.Change is { } change && late.Lost >= loss.Lost)
        {
            var (from, to) = (chords[change.From].ShapeChord.Name, chords[change.To].ShapeChord.Name);
            return string.Create(CultureInfo.InvariantCulture, $"The change {from} → {to} needs {change.NeededSeconds:0.0} s, there are {change.AvailableSeconds:0.0} s at {positions.Chart.Tempo:0}.");
        }
        var (technique, demand) = FitModel.Weakest(loss.Chord.Choice.Fingering, request.Player.Skills);
        return string.Create(CultureInfo.InvariantCulture, $"{loss.Chord.ShapeChord.Name} asks {demand:0} of {Words(technique)}, the skill is {request.Player.Skills[technique]:0}.");
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
}
