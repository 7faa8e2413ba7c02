namespace Tembri.Core.Roads;

/// <summary>What new things cost, in things. Read from <c>road-weights.data.json</c>, where each number has its
/// reason.</summary>
public sealed record RoadWeights
{
    private static readonly Lazy<RoadWeights> Shipped = new(() => EmbeddedData.Json<RoadWeights>("road-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static RoadWeights Default => Shipped.Value;

    /// <summary>A shape that does not sound yet.</summary>
    public required double Shape { get; init; }

    /// <summary>A change in a time shorter by the factor √2.</summary>
    public required double ChangeLevel { get; init; }

    /// <summary>Ten points of a technique of the left hand.</summary>
    public required double TechniqueLevel { get; init; }

    /// <summary>Ten points of the right hand.</summary>
    public required double RightHandLevel { get; init; }

    /// <summary>The least a step without a goal brings.</summary>
    public required double LeastStep { get; init; }

    /// <summary>What a fading shape that is met again takes off a step.</summary>
    public required double Repeat { get; init; }

    /// <summary>How many of those count.</summary>
    public required int MostRepeats { get; init; }

    /// <summary>What a wished song takes off a step.</summary>
    public required double Wish { get; init; }

    /// <summary>Beginnings of roads that are followed at once while a good road is looked for.</summary>
    public required int Beam { get; init; }

    /// <summary>Versions looked at before the proof that a road is the best is left off.</summary>
    public required int MostLooks { get; init; }
}
