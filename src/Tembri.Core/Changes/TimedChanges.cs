using Tembri.Core.Shapes;

namespace Tembri.Core.Changes;

/// <summary>Changes of one student that were counted against the clock; they override the model.</summary>
/// <param name="CleanAMinute">Clean changes a minute from one shape to another, above 0.</param>
public sealed record TimedChanges(IReadOnlyDictionary<(Shape From, Shape To), double> CleanAMinute)
{
    /// <summary>Nothing was timed.</summary>
    public static readonly TimedChanges None = new(new Dictionary<(Shape, Shape), double>());

    /// <summary>True when nothing was timed.</summary>
    public bool IsEmpty => CleanAMinute.Count == 0;

    private const double LeastWay = 0.05;   // s; nobody is quicker, however high the count

    /// <summary>Seconds the way of a change took when it was timed; null when it was not.</summary>
    public double? Seconds(Fingering from, Fingering to) =>
        !IsEmpty && CleanAMinute.TryGetValue((from.Shape, to.Shape), out var count) && count > 0 ? SecondsOf(count) : null;

    /// <summary>Seconds of way in each of N clean changes a minute: 60/N less the dwell, at least 0.05.</summary>
    /// <param name="cleanAMinute">N, above 0.</param>
    public static double SecondsOf(double cleanAMinute) => Math.Max(LeastWay, 60 / cleanAMinute - ChangeWeights.Default.Dwell);

    /// <summary>Clean changes a minute of somebody who needs so many seconds for the way; the other direction of
    /// <see cref="SecondsOf"/>.</summary>
    /// <param name="seconds">0 or more.</param>
    public static double CountOf(double seconds) => 60 / (ChangeWeights.Default.Dwell + seconds);
}
