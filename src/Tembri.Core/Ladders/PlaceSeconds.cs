using Tembri.Core.Arranging;
using Tembri.Core.Charts;

namespace Tembri.Core.Ladders;

/// <summary>What a rung plays: the usual shape of each chord, and second ones in some places.</summary>
/// <param name="Usual">The usual shapes; null on a rung that is blocked.</param>
/// <param name="Seconds">Where another shape is played.</param>
internal readonly record struct RungShapes(Arrangement? Usual, IReadOnlyList<SecondShape> Seconds);

/// <summary>Second shapes of the rungs of a place, and what becomes the usual one.</summary>
internal sealed class PlaceSeconds(PlaceArranger places)
{
    private const int MostUsual = 3;   // times that a usual shape nobody plays gives way

    /// <summary>Second shapes that pay for themselves on each rung, as long as the ladder stays a ladder.</summary>
    /// <returns>For each rung its shapes.</returns>
    public IReadOnlyList<RungShapes> Of(ArrangedPlace place)
    {
        var wanted = Wanted(place, [.. Enumerable.Range(0, place.Rungs.Count)]);
        var asked = wanted.SelectMany(w => w?.Refingered ?? []).Concat(FingerAgreement.BetweenRungs(place.Rungs));
        (place, var changed) = new FingerAgreement(places).Agree(place, asked);
        if (changed.Count > 0) foreach (var (r, again) in changed.Zip(Wanted(place, [.. changed]))) wanted[r] = again;
        var arranger = places.ArrangerAt(place.Capo);
        var shapes = new RungShapes[wanted.Length];
        Arrangement? below = null;
        for (var r = 0; r < shapes.Length; r++)
        {
            shapes[r] = new RungShapes(place.Rungs[r], []);
            if (place.Rungs[r] is not { } alone || wanted[r] is not { Shapes: var (usual, seconds) }) continue;
            var weighed = seconds.Count == 0 ? usual! : WithSeconds(places.Rungs[r], arranger, usual!, seconds);
            var above = place.Rungs.Skip(r + 1).FirstOrDefault(RungOrder.IsFree);
            var staysALadder = RungOrder.IsAbove(weighed, below) && RungOrder.IsAbove(above, weighed);
            if (!RungOrder.IsFree(alone) || staysALadder) shapes[r] = wanted[r]!.Shapes;
            else weighed = alone;
            if (RungOrder.IsFree(alone)) below = weighed;
        }
        return shapes;
    }

    /// <summary>What a rung would like to play.</summary>
    /// <param name="Shapes">Its shapes.</param>
    /// <param name="Refingered">Chords whose shape it would hold with other fingers wherever it is played, and those
    /// fingers.</param>
    private sealed record Wish(RungShapes Shapes, IReadOnlyList<(int Chord, Candidate Fingers)> Refingered);

    /// <summary>What some rungs would like, one for one; it does not depend on the others, so they are asked side by
    /// side.</summary>
    private Wish?[] Wanted(ArrangedPlace place, IReadOnlyList<int> rungs)
    {
        var wanted = new Wish?[rungs.Count];
        Parallel.For(0, wanted.Length, places.Work.Parallel, i =>
        {
            if (place.Rungs[rungs[i]] is { } usual)
                wanted[i] = Wanted(places.NewArrangerAt(place.Capo), places.Rungs[rungs[i]], usual, place.Capo);
        });
        return wanted;
    }

    private Wish Wanted(Arranger arranger, RungLimits limits, Arrangement usual, int capo)
    {
        var locks = places.LocksFor(limits, capo);
        var found = arranger.SecondShapes(limits, usual, locks);
        // Fingers for the whole song were weighed with the arrangement, against what the hand knows from the rung below; places
        // one by one do not know of that.
        var refingered = Refingered(limits, usual, found);
        if (refingered.Count > 0)
        {
            foreach (var (chord, _) in refingered) locks[chord] = usual.Choices[chord];
            found = arranger.SecondShapes(limits, usual, locks);
        }
        for (var again = 0; again < MostUsual && UsualIsPlayed(limits, arranger, usual, found) is { } changed; again++)
            (usual, found) = (changed, arranger.SecondShapes(limits, changed, locks));
        return new Wish(new RungShapes(usual, found), refingered);
    }

    /// <summary>Chords that would play their usual shape nowhere with its usual fingers, but with others, and those.</summary>
    private List<(int Chord, Candidate Fingers)> Refingered(RungLimits limits, Arrangement main,
        IReadOnlyList<SecondShape> seconds)
    {
        if (seconds.Count == 0) return [];
        var split = SplitFlow(limits, seconds);
        return [.. seconds.Where(s => split.Beats[s.ChordIndex] <= 0).GroupBy(s => s.ChordIndex)
            .Where(g => g.All(s => s.Choice.Fingering.Shape.Equals(main.Choices[g.Key].Fingering.Shape)))
            .SelectMany(g => g.Select(s => (g.Key, s.Choice)))];
    }

    /// <summary>Where every place of a chord takes another shape, the one that sounds longest becomes the usual one.</summary>
    /// <returns>The arrangement with its usual shapes changed; null when each is played somewhere.</returns>
    private Arrangement? UsualIsPlayed(RungLimits limits, Arranger arranger, Arrangement main,
        IReadOnlyList<SecondShape> seconds)
    {
        if (seconds.Count == 0) return null;
        var split = SplitFlow(limits, seconds);
        var choices = main.Choices.ToArray();
        var isChanged = false;
        foreach (var group in seconds.Select((s, i) => (s, Beats: split.Beats[choices.Length + i])).GroupBy(x => x.s.ChordIndex))
        {
            if (split.Beats[group.Key] > 0) continue;
            choices[group.Key] =
                group.GroupBy(x => x.s.Choice.Fingering.ToString()).MaxBy(g => g.Sum(x => x.Beats))!.First().s.Choice;
            isChanged = true;
        }
        return isChanged
            ? arranger.Weigh(limits, choices, main.Objective) with { IsProved = main.IsProved, LeftOut = main.LeftOut }
            : null;
    }

    /// <summary>An arrangement weighed with its second shapes, which are numbered after the chords.</summary>
    public Arrangement WithSeconds(RungLimits limits, Arranger arranger, Arrangement main, IReadOnlyList<SecondShape> seconds) =>
        arranger.Weigh(limits, [.. main.Choices, .. seconds.Select(s => s.Choice)], main.Objective, SplitFlow(limits, seconds))
            with { IsProved = main.IsProved };

    /// <summary>The rung's flow with second shapes as chords of their own.</summary>
    public ChordFlow SplitFlow(RungLimits limits, IReadOnlyList<SecondShape> seconds) =>
        places.SongOf(limits).Flow.Split([.. seconds.Select(s => (s.ChordIndex, s.Next))]);
}
