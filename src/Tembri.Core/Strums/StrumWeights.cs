namespace Tembri.Core.Strums;

/// <summary>Effort of the right hand, and the time a strum leaves for a change. Read from <c>strum-weights.data.json</c>, where
/// each number has its reason.</summary>
public sealed record StrumWeights
{
    private static readonly Lazy<StrumWeights> Shipped = new(() => EmbeddedData.Json<StrumWeights>("strum-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static StrumWeights Default => Shipped.Value;

    /// <summary>Effort per movement a second.</summary>
    public required double StrokeASecond { get; init; }

    /// <summary>Effort per square of the pace of the grid beyond the next number; see <see cref="StrumEffort"/>.</summary>
    public required double QuickStroke { get; init; }

    /// <summary>Parts of the grid a second from which it becomes quick.</summary>
    public required double QuickFrom { get; init; }

    /// <summary>Effort per up-stroke a bar.</summary>
    public required double UpStroke { get; init; }

    /// <summary>Effort per stroke between the beats.</summary>
    public required double Offbeat { get; init; }

    /// <summary>Effort per stroke that passes the strings on the way down: the hand must trust its swing.</summary>
    public required double Miss { get; init; }

    /// <summary>The same on the way up, where the hand only returns.</summary>
    public required double LightMiss { get; init; }

    /// <summary>Effort per up-stroke after an up-stroke.</summary>
    public required double UpRun { get; init; }

    /// <summary>Effort per accent.</summary>
    public required double Accent { get; init; }

    /// <summary>More for an accent between the beats.</summary>
    public required double OffbeatAccent { get; init; }

    /// <summary>Effort per damped stroke.</summary>
    public required double Muted { get; init; }

    /// <summary>Effort per stop.</summary>
    public required double Stop { get; init; }

    /// <summary>Effort per pick of named strings.</summary>
    public required double Aim { get; init; }

    /// <summary>Share of a pick that each further string at once counts.</summary>
    public required double MoreAtOnce { get; init; }

    /// <summary>Effort per string that the thumb jumps.</summary>
    public required double Jump { get; init; }

    /// <summary>Effort per stroke to keep in mind.</summary>
    public required double Remember { get; init; }

    /// <summary>Share of a chord with one stroke that is free for the change after it.</summary>
    public required double LoneStrokeFree { get; init; }

    /// <summary>Beats that are free at least.</summary>
    public required double LeastFree { get; init; }

    /// <summary>Share of the chord before that is free at most.</summary>
    public required double MostFreeShare { get; init; }
}
