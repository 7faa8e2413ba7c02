using Tembri.Core.Shapes;
using Tembri.Core.Swaps;

namespace Tembri.Core.Arranging;

/// <summary>What a rung of the ladder allows, and how much it minds the sound. The defaults are in <c>rungs.data.json</c>.</summary>
public sealed record RungLimits
{
    private static readonly Lazy<IReadOnlyList<RungLimits>> Shipped = new(() => EmbeddedData.Json<List<RungLimits>>("rungs.data.json"));

    /// <summary>The five default rungs, 1 first.</summary>
    public static IReadOnlyList<RungLimits> Defaults => Shipped.Value;

    private readonly int _swaps;

    /// <summary>1 to 5.</summary>
    public required int Number { get; init; }

    /// <summary>Name.</summary>
    public required string Name { get; init; }

    /// <summary>What it allows, in a few words.</summary>
    public required string Motto { get; init; }

    /// <summary>Most fingers, 1 to 4.</summary>
    public required int MostFingers { get; init; }

    /// <summary>The longest barre in strings; 1 allows none.</summary>
    public required int LongestBarre { get; init; }

    /// <summary>True when the thumb may be used by a student who does.</summary>
    public required bool Thumb { get; init; }

    /// <summary>The fewest strings that must sound.</summary>
    public required int FewestStrings { get; init; }

    /// <summary>The highest load of a shape, 0 to 100.</summary>
    public required double LoadCeiling { get; init; }

    /// <summary>The lowest closeness of a chord, 0 to 1.</summary>
    public required double ClosenessFloor { get; init; }

    /// <summary>Load points that one percent of closeness is worth.</summary>
    public required double ClosenessWeight { get; init; }

    /// <summary>How much unusual shapes are minded; 1 is usual.</summary>
    public required double IdiomWeight { get; init; }

    /// <summary>Chords that last less than this share of their bar are left out; 0 keeps all.</summary>
    public double LeavesOutBelow { get; init; }

    /// <summary>How much the time of changes counts; the record is played as it is.</summary>
    public double ChangeWeight => IsRecord ? 0.15 : 1;

    /// <summary>The swaps allowed.</summary>
    public required IReadOnlyList<SwapKind> Swaps
    {
        get;
        init
        {
            field = value;
            _swaps = value.Aggregate(0, (mask, kind) => mask | 1 << (int)kind);
        }
    }

    /// <summary>True for the rung that plays what the record plays.</summary>
    public bool IsRecord => Swaps.All(s => s is SwapKind.None or SwapKind.OtherFingering);

    private enum Limit { Swap, Fingers, Barre, Thumb, Strings, Load, Closeness }

    /// <summary>True when a candidate is allowed here. What the teacher locked always is.</summary>
    public bool Allows(Candidate c) => Broken(c) is null;

    /// <summary>Why a candidate is not allowed here, or null when it is. The words finish the sentence "it …".</summary>
    public string? Objection(Candidate c) => Broken(c) switch
    {
        null => null,
        Limit.Swap => $"is a swap ({SwapReasons.Name(c.Kind)}) this rung does not take",
        Limit.Fingers => $"needs {c.Fingering.FingerCount} fingers, the rung has {MostFingers}",
        Limit.Barre => $"needs a barre over {c.Fingering.LongestBarre} strings",
        Limit.Thumb => "needs the thumb over the neck",
        Limit.Strings => $"sounds only {c.Closeness.Sounding} strings",
        Limit.Load => $"weighs {c.Load:0}, the rung stops at {LoadCeiling:0}",
        _ => $"keeps {100 * c.Closeness.Value:0} % of the sound, the rung asks for {100 * ClosenessFloor:0} %",
    };

    private Limit? Broken(Candidate c)
    {
        if (c.Locked) return null;
        if ((_swaps & 1 << (int)c.Kind) == 0) return Limit.Swap;
        if (c.Fingering.FingerCount > MostFingers) return Limit.Fingers;
        if (c.Fingering.LongestBarre > LongestBarre) return Limit.Barre;
        if (c.Fingering.UsesThumb && !Thumb) return Limit.Thumb;
        if (c.Closeness.Sounding < (c.ThinByNature ? 2 : FewestStrings)) return Limit.Strings;
        if (c.Load > LoadCeiling) return Limit.Load;
        return c.Closeness.Value < ClosenessFloor ? Limit.Closeness : null;
    }
}
