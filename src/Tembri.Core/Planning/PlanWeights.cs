namespace Tembri.Core.Planning;

/// <summary>How a day of practice is put together; read from <c>plan-weights.data.json</c>, where each number has its
/// reason.</summary>
public sealed record PlanWeights
{
    private static readonly Lazy<PlanWeights> Shipped = new(() => EmbeddedData.Json<PlanWeights>("plan-weights.data.json"));

    /// <summary>The numbers that ship with Tembri.</summary>
    public static PlanWeights Default => Shipped.Value;

    /// <summary>Days until something that went on so many days in a row comes back; the last holds for more.</summary>
    public required IReadOnlyList<int> ComesBackAfterDays { get; init; }

    /// <summary>Minutes a day of barre and stretch work for a grown-up, by skill in steps of 20 points.</summary>
    public required IReadOnlyList<int> BarreMinutes { get; init; }

    /// <summary>What of that a child gets.</summary>
    public required double ChildShare { get; init; }

    /// <summary>A demand of stretch from which a shape counts as stretch work, points.</summary>
    public required double StretchWorkFrom { get; init; }

    /// <summary>Minutes at a time for a grown-up before a break.</summary>
    public required int MinutesToBreak { get; init; }

    /// <summary>The same for a child.</summary>
    public required int MinutesToBreakChild { get; init; }

    /// <summary>Minutes of a break.</summary>
    public required int BreakMinutes { get; init; }

    /// <summary>New shapes a day at most.</summary>
    public required int NewShapes { get; init; }

    /// <summary>Changes a day at most.</summary>
    public required int Pairs { get; init; }

    /// <summary>Share of the minutes for what comes back.</summary>
    public required double ComesBackShare { get; init; }

    /// <summary>Share of the minutes for shapes and changes, before anything is put together.</summary>
    public required double ApartShare { get; init; }

    /// <summary>How much the tempo of the whole form rises from day to day.</summary>
    public required double TempoStep { get; init; }

    /// <summary>The chance from which a strum, a figure or a section needs no work of its own.</summary>
    public required double GoodFrom { get; init; }

    /// <summary>The chance from which a shape can be used in changes and sections.</summary>
    public required double UsableFrom { get; init; }
}
