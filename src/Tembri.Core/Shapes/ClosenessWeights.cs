namespace Tembri.Core.Shapes;

/// <summary>What the tones of a chord weigh, and what is taken off for what does not belong. Read from
/// <c>closeness-weights.data.json</c>, where each number has its reason.</summary>
public sealed record ClosenessWeights
{
    private static readonly Lazy<ClosenessWeights> Shipped =
        new(() => EmbeddedData.Json<ClosenessWeights>("closeness-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static ClosenessWeights Default => Shipped.Value;

    /// <summary>The third, or what stands for it, tells major from minor.</summary>
    public required double ThirdOrSuspension { get; init; }

    /// <summary>The third of an eleventh is usually left out.</summary>
    public required double ThirdOfEleventh { get; init; }

    /// <summary>The seventh gives a chord its place in the cadence.</summary>
    public required double Seventh { get; init; }

    /// <summary>The root.</summary>
    public required double Root { get; init; }

    /// <summary>An altered fifth is what such a chord is named for.</summary>
    public required double AlteredFifth { get; init; }

    /// <summary>Ninth, eleventh, thirteenth, sixth.</summary>
    public required double Colour { get; init; }

    /// <summary>A plain fifth is missed least.</summary>
    public required double Fifth { get; init; }

    /// <summary>The plain fifth of a chord with a seventh is hardly missed.</summary>
    public required double FifthOfSeventh { get; init; }

    /// <summary>Share of the third's weight that a second or a fourth in its place keeps.</summary>
    public required double SuspendedThird { get; init; }

    /// <summary>Two lowest tones a step apart are mud.</summary>
    public required double Muddy { get; init; }

    /// <summary>A foreign ninth.</summary>
    public required double AddedNinth { get; init; }

    /// <summary>A foreign sixth.</summary>
    public required double Sixth { get; init; }

    /// <summary>More for a foreign sixth in a plain major chord where the root sounds on one string alone.</summary>
    public required double SixthOverOneRoot { get; init; }

    /// <summary>A foreign sixth in minor, where it makes another chord.</summary>
    public required double SixthInMinor { get; init; }

    /// <summary>A foreign minor seventh in minor.</summary>
    public required double MinorSeventhInMinor { get; init; }

    /// <summary>A foreign minor seventh with a major third: a dominant that was not meant.</summary>
    public required double MinorSeventhInMajor { get; init; }

    /// <summary>A foreign minor seventh where there is no third.</summary>
    public required double MinorSeventh { get; init; }

    /// <summary>A foreign major seventh in minor.</summary>
    public required double MajorSeventhInMinor { get; init; }

    /// <summary>A foreign major seventh against a minor one.</summary>
    public required double MajorSeventhAgainstMinor { get; init; }

    /// <summary>A foreign major seventh else.</summary>
    public required double MajorSeventh { get; init; }

    /// <summary>A foreign fourth.</summary>
    public required double Fourth { get; init; }

    /// <summary>A foreign fourth against a major third.</summary>
    public required double FourthAgainstMajorThird { get; init; }

    /// <summary>A plain fifth beside an altered one.</summary>
    public required double PlainFifth { get; init; }

    /// <summary>The other third.</summary>
    public required double OtherThird { get; init; }

    /// <summary>A third where the chord has none.</summary>
    public required double AnyThird { get; init; }

    /// <summary>Any other foreign tone.</summary>
    public required double AnythingElse { get; init; }

    /// <summary>More for a foreign tone a semitone from a note of the tune.</summary>
    public required double RubsTheTune { get; init; }

    /// <summary>Share of its cost that a foreign tone keeps when the tune has it.</summary>
    public required double BelongsToTheTune { get; init; }

    /// <summary>A wrong bass under a slash chord when the guitar is alone.</summary>
    public required double WrongSlashBassAlone { get; init; }

    /// <summary>A wrong bass when the guitar is alone.</summary>
    public required double WrongBassAlone { get; init; }

    /// <summary>A wrong bass under a slash chord with the record or a bass.</summary>
    public required double WrongSlashBass { get; init; }

    /// <summary>A wrong bass with the record or a bass.</summary>
    public required double WrongBass { get; init; }

    /// <summary>What is left of it by strings fewer than the fullest shape taught for the chord.</summary>
    public required IReadOnlyList<double> Fullness { get; init; }
}
