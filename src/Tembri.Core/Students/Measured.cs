using Tembri.Core.Shapes;

namespace Tembri.Core.Students;

/// <summary>Tries of one shape, weighed by how long ago they were.</summary>
/// <param name="Tries">How many they are worth, above 0.</param>
/// <param name="Clean">How many of those were clean.</param>
public readonly record struct MeasuredShape(double Tries, double Clean);

/// <summary>Counts of one change, weighed by how long ago they were.</summary>
/// <param name="Counts">How many they are worth, above 0.</param>
/// <param name="LogSeconds">The mean of the logarithm of the seconds of way.</param>
public readonly record struct MeasuredChange(double Counts, double LogSeconds);

/// <summary>What was measured of single shapes and changes: it counts beside what the skills say of them, and more, the more was
/// measured.</summary>
/// <remarks>
/// A shape's chance is the mean of a beta distribution whose prior is the skills' own prediction, worth
/// <see cref="FitWeights.ShapePredictionWorth"/> tries; the logarithm of a change's time is the
/// weighted mean of what was counted and of the prediction, worth <see cref="FitWeights.ChangePredictionWorth"/> counts. Frets
/// are counted from the capo, whatever the capo and the guitar.
/// </remarks>
public sealed class Measured
{
    private static readonly FitWeights W = FitWeights.Default;

    /// <summary>Nothing was measured.</summary>
    public static readonly Measured None =
        new(new Dictionary<Shape, MeasuredShape>(), new Dictionary<(Shape, Shape), MeasuredChange>());

    /// <summary>Keeps what was measured.</summary>
    public Measured(IReadOnlyDictionary<Shape, MeasuredShape> shapes,
        IReadOnlyDictionary<(Shape From, Shape To), MeasuredChange> changes) =>
        (Shapes, Changes) = (shapes, changes);

    /// <summary>By shape.</summary>
    public IReadOnlyDictionary<Shape, MeasuredShape> Shapes { get; }

    /// <summary>By change.</summary>
    public IReadOnlyDictionary<(Shape From, Shape To), MeasuredChange> Changes { get; }

    /// <summary>The chance of a shape.</summary>
    /// <param name="shape">The shape; null for something that has none.</param>
    /// <param name="predicted">What the skills say, 0 to 1.</param>
    public double Clean(Shape? shape, double predicted) =>
        shape is not null && Shapes.Count > 0 && Shapes.TryGetValue(shape, out var m)
        ? (W.ShapePredictionWorth * predicted + m.Clean) / (W.ShapePredictionWorth + m.Tries) : predicted;

    /// <summary>The seconds of way of a change.</summary>
    /// <param name="from">The shape left; null for something that has none.</param>
    /// <param name="to">The shape reached.</param>
    /// <param name="predicted">What the skills say, s; 0 when nothing moves.</param>
    public double Seconds(Shape? from, Shape? to, double predicted) =>
        Of(from, to) is { } measured ? Seconds(measured, predicted) : predicted;

    /// <summary>True when something was measured of a change.</summary>
    public bool Knows(Shape? from, Shape? to) => Of(from, to) is not null;

    /// <summary>What was measured of a change; null when nothing was.</summary>
    internal MeasuredChange? Of(Shape? from, Shape? to) =>
        Changes.Count > 0 && from is not null && to is not null && Changes.TryGetValue((from, to), out var m) ? m : null;

    /// <summary>The seconds of way of a change of which something was measured.</summary>
    internal static double Seconds(MeasuredChange m, double predicted) =>
        predicted > 0
            ? Math.Exp(
                (W.ChangePredictionWorth * Math.Log(predicted) + m.Counts * m.LogSeconds) / (W.ChangePredictionWorth + m.Counts))
            : predicted;
}
