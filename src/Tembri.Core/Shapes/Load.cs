namespace Tembri.Core.Shapes;

/// <summary>A load from 0 (nothing to do) to 100 (out of reach), as felt by one hand on one guitar.</summary>
/// <remarks>Monotone in the effort behind it: <c>100·(1 − e^(−effort/60))</c>.</remarks>
public readonly record struct Load : IComparable<Load>
{
    private const double Scale = 60;

    /// <summary>0 up to, but not including, 100.</summary>
    public double Value { get; }

    private Load(double value) => Value = value;

    /// <summary>The load that comes from an effort.</summary>
    /// <param name="effort">A sum of parts, 0 or more; no unit.</param>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="effort"/> is negative or not a number.</exception>
    public static Load FromEffort(double effort)
    {
        if (double.IsNaN(effort) || effort < 0)
            throw new ArgumentOutOfRangeException(nameof(effort), effort, "An effort is 0 or more.");
        return new Load(100 * (1 - Math.Exp(-effort / Scale)));
    }

    /// <summary>The effort that gives a load value below 100.</summary>
    public static double EffortOf(double load) => -Scale * Math.Log(1 - load / 100);

    /// <inheritdoc/>
    public int CompareTo(Load other) => Value.CompareTo(other.Value);

    /// <inheritdoc/>
    public override string ToString() => Value.ToString("0.0", System.Globalization.CultureInfo.InvariantCulture);
}
