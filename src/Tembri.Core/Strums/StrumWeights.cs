namespace Tembri.Core.Strums;

/// <summary>Effort of the right hand, and the time a strum leaves for a change. Read from <c>strum-weights.data.json</c>, where each number has its reason.</summary>
public sealed record StrumWeights
{
    private static readonly Lazy<StrumWeights> Shipped = new(() => EmbeddedData.Json<StrumWeights>("strum-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static StrumWeights Default => Shipped.Value;

    /// <summary>Effort per stroke a second.</summary>
    public required double StrokeASecond { get; init; }

    /// <summary>More, as a share, for each stroke a second beyond the next number.</summary>
    public required double QuickStroke { get; init; }

    /// <summary>Strokes a second from which it becomes quick.</summary>
    public required double QuickFrom { get; init; }

    /// <summary>Effort per up-stroke of the pattern.</summary>
    public required double UpStroke { get; init; }

    /// <summary>Effort per stroke that passes the strings: the hand must trust its swing.</summary>
    public required double Miss { get; init; }

    /// <summary>Effort per accent.</summary>
    public required double Accent { get; init; }

    /// <summary>Share of a bar with one stroke that is free for the change after it.</summary>
    public required double LoneStrokeFree { get; init; }

    /// <summary>Beats that are free at least.</summary>
    public required double LeastFree { get; init; }

    /// <summary>Share of the chord before that is free at most.</summary>
    public required double MostFreeShare { get; init; }
}
