using Tembri.Core.Arranging;

namespace Tembri.Core.Ladders;

/// <summary>Sees to it that a shape which several rungs in a row play is held by the same fingers on all of them, and by those
/// that are best for all of them together: a hand learns it once.</summary>
/// <remarks>Rungs are arranged upward, each against what the hand knows from the one below; so the lowest rung decides, for
/// which few changes speak, and those above would each pay alone for other fingers.</remarks>
internal sealed class FingerAgreement(PlaceArranger places)
{
    private const double Hair = 1e-9;   // points

    /// <summary>Takes other fingers on all rungs of a row where that costs less than what they play, all together.</summary>
    /// <param name="place">The place that is played.</param>
    /// <param name="asked">Chords and the fingers to try for them.</param>
    /// <returns>The place with fingers changed, and the rungs on which they were.</returns>
    public (ArrangedPlace Place, IReadOnlySet<int> Changed) Agree(ArrangedPlace place,
        IEnumerable<(int Chord, Candidate Fingers)> asked)
    {
        var rungs = place.Rungs.ToArray();
        var changed = new SortedSet<int>();
        foreach (var (chord, fingers) in asked.DistinctBy(a => (a.Chord, a.Fingers.Fingering.ToString()))
            .OrderBy(a => a.Chord).ThenBy(a => a.Fingers.Fingering.ToString(), StringComparer.Ordinal))
            foreach (var row in Rows(rungs, place.Capo, chord, fingers))
            {
                var tried = rungs.ToArray();
                foreach (var r in row) tried[r] = With(place.Capo, r, rungs[r]!, chord, fingers);
                if (Cost(place.Capo, tried, row, chord) >= Cost(place.Capo, rungs, row, chord) - Hair
                    || IsLadder(rungs) && !IsLadder(tried))
                    continue;
                changed.UnionWith(row.Where(r => !rungs[r]!.Choices[chord].SameAs(fingers)));
                rungs = tried;
            }
        return (place with { Rungs = rungs }, changed);
    }

    /// <summary>Where a rung holds the shape of the rung below with other fingers: the chord, and both ways.</summary>
    public static IEnumerable<(int Chord, Candidate Fingers)> BetweenRungs(IReadOnlyList<Arrangement?> rungs)
    {
        for (var r = 1; r < rungs.Count; r++)
            for (var chord = 0; chord < (rungs[r]?.Choices.Count ?? 0); chord++)
                if (rungs[r - 1]?.Heard(chord) is { } was && rungs[r]!.Heard(chord) is { } here
                    && here.Fingering.Shape.Equals(was.Fingering.Shape) && !here.SameAs(was))
                {
                    yield return (chord, was);
                    yield return (chord, here);
                }
    }

    /// <summary>Rows of rungs, one above the other, that play the shape and may hold it so.</summary>
    private List<List<int>> Rows(Arrangement?[] rungs, int capo, int chord, Candidate fingers)
    {
        var arranger = places.ArrangerAt(capo);
        var rows = new List<List<int>>();
        for (var r = 0; r < rungs.Length; r++)
        {
            if (rungs[r]?.Heard(chord) is not { Locked: false, Wanted: false } here
                || !here.Fingering.Shape.Equals(fingers.Fingering.Shape)
                || arranger.WishOf(chord)?.Grip(places.Rungs[r]) is not null
                || !arranger.MayPlay(chord, places.Rungs[r], fingers))
                continue;
            if (rows.Count == 0 || rows[^1][^1] != r - 1) rows.Add([]);
            rows[^1].Add(r);
        }
        return rows;
    }

    private Arrangement With(int capo, int rung, Arrangement here, int chord, Candidate fingers) =>
        places.ArrangerAt(capo).Weigh(places.Rungs[rung], [.. here.Choices.Select((c, i) => i == chord ? fingers : c)],
            here.Objective) with { IsProved = here.IsProved, LeftOut = here.LeftOut };

    /// <summary>What a chord costs on the rungs of a row, and a hand that changes its fingers between them.</summary>
    private double Cost(int capo, Arrangement?[] rungs, List<int> row, int chord)
    {
        var arranger = places.ArrangerAt(capo);
        return row.Sum(r => arranger.CostOf(places.Rungs[r], rungs[r]!.Choices, chord, r == row[0] ? null : rungs[r - 1]));
    }

    private static bool IsLadder(Arrangement?[] rungs)
    {
        Arrangement? below = null;
        foreach (var rung in rungs.Where(RungOrder.IsFree))
        {
            if (!RungOrder.IsAbove(rung, below)) return false;
            below = rung;
        }
        return true;
    }
}
