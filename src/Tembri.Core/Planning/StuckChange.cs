using Tembri.Core.Practice;
using Tembri.Core.Shapes;

namespace Tembri.Core.Planning;

/// <summary>A change that is counted again and again and does not get quicker.</summary>
/// <param name="From">The shape left.</param>
/// <param name="To">The shape reached.</param>
/// <param name="Now">Clean changes a minute, the mean of the last third of the counts.</param>
/// <param name="Before">The mean of the first third.</param>
/// <param name="Days">On how many days it was counted.</param>
public sealed record StuckChange(Shape From, Shape To, double Now, double Before, int Days)
{
    private const int LookBackDays = 28;
    private const int FewestCounts = 9;    // a third of them is three: one count alone scatters by a seventh
    private const int FewestDays = 12;     // from the first to the last
    private const double NoBetter = 1.05;

    /// <summary>Finds the changes that are stuck, the slowest first.</summary>
    /// <param name="evidence">The log.</param>
    /// <param name="now">The day.</param>
    /// <param name="isEnough">Whether a count a minute is quick enough where the change is needed.</param>
    public static IReadOnlyList<StuckChange> Of(IEnumerable<Evidence> evidence, DateTimeOffset now,
        Func<Shape, Shape, double, bool> isEnough) =>
    [
        .. evidence.OfType<ChangeCount>().Where(c => c.Between is not null && (now - c.At).TotalDays <= LookBackDays)
            .GroupBy(c => c.Between!.Value)
            .Select(g =>
                (g.Key, Counts: g.OrderBy(c => c.At).Select(c => (Day: c.At.Date, AMinute: 60 * c.Count / c.Seconds)).ToList()))
            .Where(g => g.Counts.Count >= FewestCounts && (g.Counts[^1].Day - g.Counts[0].Day).TotalDays >= FewestDays)
            .Select(g => new StuckChange(
                g.Key.From, g.Key.To, g.Counts.TakeLast(g.Counts.Count / 3).Average(c => c.AMinute),
                g.Counts.Take(g.Counts.Count / 3).Average(c => c.AMinute), g.Counts.Select(c => c.Day).Distinct().Count()))
            .Where(s => s.Now <= NoBetter * s.Before && !isEnough(s.From, s.To, s.Now)).OrderBy(s => s.Now),
    ];
}
