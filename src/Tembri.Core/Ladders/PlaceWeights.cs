namespace Tembri.Core.Ladders;

/// <summary>What is weighed when a place is chosen, in load points. Read from <c>place-weights.data.json</c>, where each number
/// has its reason.</summary>
public sealed record PlaceWeights
{
    private static readonly Lazy<PlaceWeights> Shipped = new(() => EmbeddedData.Json<PlaceWeights>("place-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static PlaceWeights Default => Shipped.Value;

    /// <summary>A capo costs this before it gains anything: it has to be put on, and off for the next song.</summary>
    public required double CapoAtAll { get; init; }

    /// <summary>Per fret: high capos thin the sound and crowd the fingers.</summary>
    public required double CapoPerFret { get; init; }

    /// <summary>More per fret beyond the next number.</summary>
    public required double HighCapo { get; init; }

    /// <summary>The fret from which a capo counts as high.</summary>
    public required int HighCapoFrom { get; init; }

    /// <summary>Another place than the record's own capo, where the chart names it.</summary>
    public required double LeavesRecordCapo { get; init; }

    /// <summary>A tuning that is not the one now.</summary>
    public required double OtherTuning { get; init; }

    /// <summary>A capo as high as the record is tuned down.</summary>
    public required double UndoesTuning { get; init; }

    /// <summary>Per chord beyond the first that is a full barre as recorded, to a student who avoids them.</summary>
    public required double BarreAvoided { get; init; }

    /// <summary>The highest capo to which somebody is sent to be rid of barres.</summary>
    public required int HighestForBarres { get; init; }

    /// <summary>Barres beyond the first that a higher capo counts as.</summary>
    public required int BarresAbove { get; init; }

    /// <summary>Per chord that is a full barre as recorded, to all who do not seek them.</summary>
    public required double Barre { get; init; }

    /// <summary>Per fret against a capo, to a student who seeks barres.</summary>
    public required double SeekNoCapo { get; init; }

    /// <summary>A rung that cannot be arranged weighs as a full barre shape on every chord.</summary>
    public required double BlockedRung { get; init; }

    /// <summary>How much each rung counts: the middle ones are those most students play.</summary>
    public required IReadOnlyList<double> Rungs { get; init; }

    /// <summary>Points a percent of closeness counts at most; else the record's rung would decide alone.</summary>
    public required double MostClosenessWeight { get; init; }

    /// <summary>Rungs that differ by less load are hardly a step.</summary>
    public required double AlikeLoad { get; init; }

    /// <summary>A step of load worth dividing.</summary>
    public required double WideStep { get; init; }

    /// <summary>Weight of the sound below which a version is not tried when a step is divided.</summary>
    public required double LowestWeight { get; init; }

    /// <summary>Per semitone the tune lies off the middle of the voice.</summary>
    public required double VoiceOffCentre { get; init; }

    /// <summary>Per semitone beyond what the voice reaches.</summary>
    public required double VoiceOutOfReach { get; init; }
}
