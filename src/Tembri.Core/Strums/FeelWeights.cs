namespace Tembri.Core.Strums;

/// <summary>What carries the feel of a pattern. Read from <c>feel-weights.data.json</c>, where each number has its
/// reason.</summary>
public sealed record FeelWeights
{
    private static readonly Lazy<FeelWeights> Shipped = new(() => EmbeddedData.Json<FeelWeights>("feel-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static FeelWeights Default => Shipped.Value;

    /// <summary>What a stroke carries by its place: on the bar line, on a beat, half a beat, finer; see
    /// <see cref="StrumPattern.Level"/>.</summary>
    public required IReadOnlyList<double> Level { get; init; }

    /// <summary>More for the beat in the middle of a bar.</summary>
    public required double MiddleOfBar { get; init; }

    /// <summary>More for an accent that is kept.</summary>
    public required double Accent { get; init; }

    /// <summary>More for a push that is kept: a stroke before a beat that is not struck itself.</summary>
    public required double Push { get; init; }

    /// <summary>Share of a push that is left when its beat is struck as well.</summary>
    public required double PushFilled { get; init; }

    /// <summary>More for a stroke that leads on to the next beat.</summary>
    public required double OverBeat { get; init; }

    /// <summary>More again for the stroke that leads over the bar line.</summary>
    public required double OverBarLine { get; init; }

    /// <summary>For a beat that is struck in place of strokes between the beats.</summary>
    public required double Moved { get; init; }

    /// <summary>For a beat that is struck although the record passes it; below 0.</summary>
    public required double Filled { get; init; }

    /// <summary>For an up-stroke played down; below 0.</summary>
    public required double Turned { get; init; }

    /// <summary>Share of a damped stroke that is left when it sounds.</summary>
    public required double Undamped { get; init; }

    /// <summary>For strings that are stopped where the record stops them.</summary>
    public required double Stop { get; init; }

    /// <summary>More for the thumb.</summary>
    public required double Thumb { get; init; }

    /// <summary>More for each further string at once.</summary>
    public required double MoreStrings { get; init; }
}
