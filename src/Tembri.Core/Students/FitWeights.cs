namespace Tembri.Core.Students;

/// <summary>The chances of a clean shape and of a change in time; docs/model.md has the calibration. Read from
/// <c>fit-weights.data.json</c>, where each number has its reason.</summary>
public sealed record FitWeights
{
    private static readonly Lazy<FitWeights> Shipped = new(() => EmbeddedData.Json<FitWeights>("fit-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static FitWeights Default => Shipped.Value;

    /// <summary>Scales the effort of reaching up to the load of a whole shape that is hard for that alone.</summary>
    public required double StretchScale { get; init; }

    /// <summary>The same for a short barre.</summary>
    public required double ShortBarreScale { get; init; }

    /// <summary>The same for a full barre.</summary>
    public required double FullBarreScale { get; init; }

    /// <summary>The same for strings to keep silent.</summary>
    public required double MutingScale { get; init; }

    /// <summary>The same for the thumb.</summary>
    public required double ThumbScale { get; init; }

    /// <summary>Points: a skill equal to the demand plays it clean most of the time.</summary>
    public required double Margin { get; init; }

    /// <summary>Points of skill from doubtful to likely.</summary>
    public required double Softness { get; init; }

    /// <summary>How quickly a chance falls with the time that is missing.</summary>
    public required double TimeSteepness { get; init; }

    /// <summary>With exactly the time needed a change is in time four times in five.</summary>
    public required double TimeEase { get; init; }

    /// <summary>The fit from which a version counts as ready.</summary>
    public required double ReadyFrom { get; init; }

    /// <summary>The fit from which a version counts as growing.</summary>
    public required double GrowingFrom { get; init; }

    /// <summary>Share of the changes in time at a comfortable tempo.</summary>
    public required double ComfortableInTime { get; init; }

    /// <summary>The chance of a clean chord below which no version is ready.</summary>
    public required double LeastClean { get; init; }

    /// <summary>The skill below which a full barre does not sound yet.</summary>
    public required double FullBarreAtAll { get; init; }

    /// <summary>Share of all changes from which a change is frequent.</summary>
    public required double FrequentChange { get; init; }

    /// <summary>Share of the beats below which nothing stands in the way.</summary>
    public required double LeastInTheWay { get; init; }

    /// <summary>Tries of one shape that the skills' own prediction is worth.</summary>
    public required double ShapePredictionWorth { get; init; }

    /// <summary>Counts of one change that the skills' own prediction is worth.</summary>
    public required double ChangePredictionWorth { get; init; }
}
