namespace Tembri.Core.Practice;

/// <summary>How skills are learnt from practice; read from <c>learning-weights.data.json</c>, where each number has its
/// reason.</summary>
public sealed record LearningWeights
{
    private static readonly Lazy<LearningWeights> Shipped =
        new(() => EmbeddedData.Json<LearningWeights>("learning-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static LearningWeights Default => Shipped.Value;

    /// <summary>How far off a teacher's first guess of a skill is, points (one standard deviation).</summary>
    public required double FirstDeviation { get; init; }

    /// <summary>How much a skill may move by itself, points² a day.</summary>
    public required double DriftADay { get; init; }

    /// <summary>Days without a technique before it begins to be forgotten.</summary>
    public required double ForgottenAfterDays { get; init; }

    /// <summary>Points that are forgotten at most.</summary>
    public required double MostForgotten { get; init; }

    /// <summary>Days in which half of that goes.</summary>
    public required double HalfForgottenDays { get; init; }

    /// <summary>Scatter of a count from day to day, as a share of it (one standard deviation).</summary>
    public required double CountScatter { get; init; }

    /// <summary>Counts the first value of the scatter is worth, when a student's own is learnt.</summary>
    public required double CountScatterWorth { get; init; }

    /// <summary>How alike tries of one sitting are, 0 to 1: the correlation within a group of tries.</summary>
    public required double TriesAlike { get; init; }

    /// <summary>Days after which what was measured of one shape or change counts half.</summary>
    public required double MeasuredHalfLifeDays { get; init; }
}
