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

    /// <summary>Seconds a change took when it was timed, 60/N for N clean changes a minute; null when it was not.</summary>
    public double? Seconds(Fingering from, Fingering to) =>
        !IsEmpty && CleanAMinute.TryGetValue((from.Shape, to.Shape), out var count) && count > 0 ? 60 / count : null;
}
