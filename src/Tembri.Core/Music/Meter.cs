namespace Tembri.Core.Music;

/// <summary>A meter. In 6/8, 9/8 and 12/8 a beat is the dotted quarter, three eighths long.</summary>
/// <param name="Count">Upper number.</param>
/// <param name="Unit">Lower number: 2, 4, 8 or 16.</param>
public readonly record struct Meter(int Count, int Unit)
{
    /// <summary>4/4.</summary>
    public static readonly Meter Common = new(4, 4);

    /// <summary>True for 6/8, 9/8 and 12/8.</summary>
    public bool IsCompound => Unit >= 8 && Count % 3 == 0 && Count > 3;

    /// <summary>Beats a bar.</summary>
    public int Beats => IsCompound ? Count / 3 : Count;

    /// <summary>Quarter notes a beat lasts: 1.5 in 6/8.</summary>
    public double BeatInQuarters => (IsCompound ? 3 : 1) * 4.0 / Unit;

    /// <summary>The parts a beat is naturally divided in: 3 in compound meters, else 2.</summary>
    public int Division => IsCompound ? 3 : 2;

    /// <summary>Reads <c>6/8</c>.</summary>
    public static bool TryParse(string? text, out Meter meter)
    {
        meter = Common;
        var parts = text?.Trim().Split('/');
        if (parts is not [var upper, var lower] || !int.TryParse(upper, out var count) || !int.TryParse(lower, out var unit))
            return false;
        if (count is < 1 or > 24 || unit is not (1 or 2 or 4 or 8 or 16)) return false;
        meter = new Meter(count, unit);
        return true;
    }

    /// <summary>As written: <c>6/8</c>.</summary>
    public override string ToString() => $"{Count}/{Unit}";
}
