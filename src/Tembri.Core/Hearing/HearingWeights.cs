namespace Tembri.Core.Hearing;

/// <summary>Numbers of the ear. Read from <c>hearing-weights.data.json</c>, where each has its reason.</summary>
public sealed record HearingWeights
{
    private static readonly Lazy<HearingWeights> Shipped =
        new(() => EmbeddedData.Json<HearingWeights>("hearing-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static HearingWeights Default => Shipped.Value;

    /// <summary>How much of the middle is the root, before scaling.</summary>
    public required double Root { get; init; }

    /// <summary>The third.</summary>
    public required double Third { get; init; }

    /// <summary>The fifth.</summary>
    public required double Fifth { get; init; }

    /// <summary>Any other tone of the chord.</summary>
    public required double FurtherTone { get; init; }

    /// <summary>A tone the chord does not have.</summary>
    public required double Foreign { get; init; }

    /// <summary>How much of the bass is the lowest tone of the chord.</summary>
    public required double BassNote { get; init; }

    /// <summary>The root, where another tone is lowest.</summary>
    public required double BassRoot { get; init; }

    /// <summary>Any other tone of the chord.</summary>
    public required double BassTone { get; init; }

    /// <summary>A tone the chord does not have.</summary>
    public required double BassForeign { get; init; }

    /// <summary>What the bass counts beside the middle.</summary>
    public required double BassShare { get; init; }

    /// <summary>What a beginning is worth that falls on a beat, in beats that agree; see <see cref="FormAligner"/>.</summary>
    public required double OnsetOnBeat { get; init; }

    /// <summary>The same for the first beat of a bar.</summary>
    public required double OnsetOnBar { get; init; }

    /// <summary>What a beat costs that is longer or shorter, by the square of the share.</summary>
    public required double Uneven { get; init; }

    /// <summary>What it costs to go on elsewhere at the end of a section.</summary>
    public required double Jump { get; init; }

    /// <summary>The same at the end of a bar inside a section.</summary>
    public required double JumpInside { get; init; }

    /// <summary>What it costs to begin with another section than the first, or to end with another than the last.</summary>
    public required double Cut { get; init; }

    /// <summary>The same inside a section.</summary>
    public required double CutInside { get; init; }

    /// <summary>Half the way from the usual to the likeliest chord, in logarithms, from which a stretch counts in
    /// full.</summary>
    public required double TrustedFrom { get; init; }

    /// <summary>How sharply differences in likelihood of a place turn into certainty.</summary>
    public required double Certainty { get; init; }

    /// <summary>From this certainty on a chord is said to be another.</summary>
    public required double SaidFrom { get; init; }

    /// <summary>What any chord but the written one has to make up for, in logarithms.</summary>
    public required double WrittenFirst { get; init; }

    /// <summary>What kinds beyond major and minor have to make up for.</summary>
    public required IReadOnlyDictionary<HeardKind, double> Rare { get; init; }

    /// <summary>What a form that is played otherwise takes off the likeness of a song, were all its bars other ones.</summary>
    public required double FormOff { get; init; }

    /// <summary>What a semitone of another key takes off it.</summary>
    public required double KeyOff { get; init; }

    /// <summary>From this likeness on (the mean of agreeing time and standing, less those) a recording is taken for one of the
    /// song.</summary>
    public required double SameSongFrom { get; init; }
}
