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
        var arranger = places.ArrangerAt(place.Capo);
        var wanted = new RungShapes[place.Rungs.Count];
        // What a rung would like does not depend on the others, so they are asked side by side.
        Parallel.For(0, wanted.Length, places.Work.Parallel, r =>
        {
            if (place.Rungs[r] is { } usual)
                wanted[r] = Wanted(places.NewArrangerAt(place.Capo), places.Rungs[r], usual, place.Capo);
        });
        var shapes = new RungShapes[wanted.Length];
        Arrangement? below = null;
        for (var r = 0; r < shapes.Length; r++)
        {
            shapes[r] = new RungShapes(place.Rungs[r], []);
            if (place.Rungs[r] is not { } alone) continue;
            var (usual, seconds) = wanted[r];
            var weighed = seconds.Count == 0 ? usual! : WithSeconds(places.Rungs[r], arranger, usual!, seconds);
            var above = place.Rungs.Skip(r + 1).FirstOrDefault(RungOrder.IsFree);
            var staysALadder = RungOrder.IsAbove(weighed, below) && RungOrder.IsAbove(above, weighed);
            if (!RungOrder.IsFree(alone) || staysALadder) shapes[r] = wanted[r];
            else weighed = alone;
            if (RungOrder.IsFree(alone)) below = weighed;
        }
        return shapes;
    }

    private RungShapes Wanted(Arranger arranger, RungLimits limits, Arrangement usual, int capo)
    {
        var locks = places.LocksFor(limits, capo);
        var found = arranger.SecondShapes(limits, usual, locks);
        for (var again = 0; again < MostUsual && UsualIsPlayed(limits, arranger, usual, found) is { } changed; again++)
            (usual, found) = (changed, arranger.SecondShapes(limits, changed, locks));
        return new RungShapes(usual, found);
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
