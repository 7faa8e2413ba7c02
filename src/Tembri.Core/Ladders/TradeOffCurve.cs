using Tembri.Core.Arranging;

namespace Tembri.Core.Ladders;

/// <summary>A version on the trade-off curve.</summary>
/// <param name="Load">Time-weighted load, 0 to 100.</param>
/// <param name="Closeness">Time-weighted closeness, 0 to 1.</param>
public readonly record struct TradeOff(double Load, double Closeness);

/// <summary>All supported trade-offs of load against closeness: versions that are best for some price of closeness.</summary>
/// <remarks>
/// Load and closeness of a version are sums over its chords, so its supported points are the Minkowski sum of the chords' upper
/// hulls: start with the lightest
/// candidate of every chord and take the steps of all hulls in the order of what they gain. Exact, in the time of sorting.
/// </remarks>
public static class TradeOffCurve
{
    /// <summary>The curve from the lightest version to the closest; load and closeness both rise along it.</summary>
    /// <param name="chords">For each chord its share of the time and what could be played.</param>
    /// <exception cref="ArgumentException">A chord has no candidate.</exception>
    public static IReadOnlyList<TradeOff> Of(IReadOnlyList<(double Share, IReadOnlyList<TradeOff> Options)> chords)
    {
        double load = 0, closeness = 0;
        var steps = new List<(double Load, double Closeness)>();
        foreach (var (share, options) in chords)
        {
            if (options.Count == 0) throw new ArgumentException("Every chord needs something to play.", nameof(chords));
            var hull = UpperHull(options);
            load += share * hull[0].Load;
            closeness += share * hull[0].Closeness;
            for (var i = 1; i < hull.Count; i++)
                steps.Add((share * (hull[i].Load - hull[i - 1].Load), share * (hull[i].Closeness - hull[i - 1].Closeness)));
        }
        var curve = new List<TradeOff> { new(load, closeness) };
        foreach (var step in steps.Where(s => s.Load > 0).OrderByDescending(s => s.Closeness / s.Load))
            curve.Add(new TradeOff(load += step.Load, closeness += step.Closeness));
        return curve;
    }

    /// <summary>The curve of what the rungs allow for each chord.</summary>
    internal static IReadOnlyList<TradeOff> Of(Arranger arranger, RungSong song, IReadOnlyList<RungLimits> rungs) => Of(
        [.. Enumerable.Range(0, song.Flow.Chords.Count).Where(i => song.Flow.Beats[i] > 0)
            .Select(i => (song.Share(i), (IReadOnlyList<TradeOff>)[.. arranger.CandidatesOf(i, rungs)
            .Select(c => new TradeOff(c.Load, c.Closeness.Value))])).Where(x => x.Item2.Count > 0)]);

    /// <summary>From the lightest option to the closest, only those that are best for some price of closeness.</summary>
    private static List<TradeOff> UpperHull(IReadOnlyList<TradeOff> options)
    {
        var hull = new List<TradeOff>();
        foreach (var option in options.OrderBy(o => o.Load).ThenByDescending(o => o.Closeness))
        {
            if (hull.Count > 0 && option.Closeness <= hull[^1].Closeness) continue;
            while (hull.Count > 1 && Gain(hull[^2], hull[^1]) <= Gain(hull[^2], option)) hull.RemoveAt(hull.Count - 1);
            hull.Add(option);
        }
        return hull;
    }

    private static double Gain(TradeOff from, TradeOff to) =>
        to.Load - from.Load <= 0 ? double.PositiveInfinity : (to.Closeness - from.Closeness) / (to.Load - from.Load);
}
