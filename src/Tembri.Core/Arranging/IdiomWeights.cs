namespace Tembri.Core.Arranging;

/// <summary>How unusual a way to play a chord is, in load points; 0 is what everybody teaches. Read from
/// <c>idiom-weights.data.json</c>, where each number has its reason.</summary>
public sealed record IdiomWeights
{
    private static readonly Lazy<IdiomWeights> Shipped = new(() => EmbeddedData.Json<IdiomWeights>("idiom-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static IdiomWeights Default => Shipped.Value;

    /// <summary>A grip with strings left out or a finger lifted.</summary>
    public required double Reduction { get; init; }

    /// <summary>More for each bass string a reduction leaves out.</summary>
    public required double ReductionBassString { get; init; }

    /// <summary>A shape that was only found by searching.</summary>
    public required double Search { get; init; }

    /// <summary>A relative with one note more.</summary>
    public required double ColourRelative { get; init; }

    /// <summary>A chord that shares the upper notes.</summary>
    public required double SharedTones { get; init; }

    /// <summary>Root and fifth only.</summary>
    public required double PowerChord { get; init; }

    /// <summary>A lifted finger: an open string in a closed shape sounds odd to many.</summary>
    public required double Lifted { get; init; }

    /// <summary>A grip few teach.</summary>
    public required double Rare { get; init; }

    /// <summary>A relative over another bass is heard as another chord: G6 over E is E minor.</summary>
    public required double RelativeOverAnotherBass { get; init; }

    /// <summary>Open strings alone are hardly a chord to teach, however easy.</summary>
    public required double OpenStringsAlone { get; init; }

    /// <summary>A treble string a library grip leaves out.</summary>
    public required double TrebleLeftOutOfGrip { get; init; }

    /// <summary>A treble string any other shape leaves out.</summary>
    public required double TrebleLeftOut { get; init; }

    /// <summary>A string kept silent inside a shape that is not of the library.</summary>
    public required double InnerMute { get; init; }

    /// <summary>Open strings under a hand far up the neck are a colour of their own.</summary>
    public required double OpenUnderHighHand { get; init; }

    /// <summary>The fret above which a shape counts as high.</summary>
    public required int HighFret { get; init; }

    /// <summary>A fret of the lowest finger above that.</summary>
    public required double FretAboveHigh { get; init; }

    /// <summary>Other fingers than those usual for the shape.</summary>
    public required double UnusualFingers { get; init; }

    /// <summary>More for each unit of log odds by which people use others first, as <see cref="Shapes.Fingering.Oddness"/> has
    /// it.</summary>
    public required double OddFingers { get; init; }

    /// <summary>Effort a further fingering may cost beyond the first and still be offered.</summary>
    public required double FingeringSlack { get; init; }

    /// <summary>Closeness below which a shape keeps next to nothing of the chord and is not offered.</summary>
    public required double LeastCloseness { get; init; }
}
