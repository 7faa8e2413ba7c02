using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>A limit of a rung that a candidate can break.</summary>
public enum RungLimit
{
    /// <summary>The kind of substitution.</summary>
    Substitution,
    /// <summary>How many fingers.</summary>
    Fingers,
    /// <summary>How long a barre.</summary>
    Barre,
    /// <summary>The thumb.</summary>
    Thumb,
    /// <summary>How many strings must sound.</summary>
    Strings,
    /// <summary>The load.</summary>
    Load,
    /// <summary>The closeness.</summary>
    Closeness,
    /// <summary>How high on the neck, where there is a choice.</summary>
    Fret,
    /// <summary>The teacher's own word.</summary>
    Forbidden,
}

/// <summary>What a rung of the ladder allows, and how much it minds the sound. The defaults are in
/// <c>rungs.data.json</c>.</summary>
public sealed record RungLimits
{
    private static readonly Lazy<IReadOnlyList<RungLimits>> Shipped =
        new(() => EmbeddedData.Json<List<RungLimits>>("rungs.data.json"));

    /// <summary>The five default rungs, 1 first.</summary>
    public static IReadOnlyList<RungLimits> Defaults => Shipped.Value;

    /// <summary>True for one of the default rungs as they are.</summary>
    internal bool IsShipped => Defaults.Any(d => ReferenceEquals(d, this));

    private readonly int _swaps;

    /// <summary>1 to 5; 10 n + 5 for a rung taken in between n and n + 1.</summary>
    public required int Number { get; init; }

    /// <summary>How high it stands on the ladder: 3, or 2.5 for the rung in between 2 and 3.</summary>
    public double Height => IsBetween ? Number / 10.0 : Number;

    /// <summary>True for a rung that was taken in between two others.</summary>
    public bool IsBetween => Number > 9;

    /// <summary>The number as it is read: <c>3</c>, <c>2½</c>.</summary>
    public string Label => LabelOf(Number);

    /// <summary>A rung's number as it is read.</summary>
    public static string LabelOf(int number) => number > HandMade ? $"{number / 10}½" : number == HandMade ? "own" : $"{number}";

    /// <summary>Number of a version that was made by hand.</summary>
    public const int HandMade = 9;

    /// <summary>The rung of the right hand, 1 to 5, or 0 for a hand that swings as it likes; null for the rung's own.</summary>
    public int? RightHand { get; init; }

    /// <summary>The rung of the right hand that is played, 0 to 5.</summary>
    public int StrumRung => RightHand ?? (int)Height;

    /// <summary>For a rung taken in between: the load it comes near to, 0 to 100.</summary>
    public double? AimsAtLoad { get; init; }

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

    /// <summary>The highest fret, as long as there is a choice; null for any.</summary>
    public int? HighestFret { get; init; }

    /// <summary>Fingers that a chord may take whose root and third <see cref="MostFingers"/> cannot hold; null for no
    /// more.</summary>
    public int? FingersForRootAndThird { get; init; }

    /// <summary>Fingers that a chord of an inner line may take so that the line is kept; null for no more.</summary>
    public int? FingersForLines { get; init; }

    /// <summary>The fewest strings of a chord that the rung could not play at all otherwise.</summary>
    public int FewestStringsAtNeed { get; init; } = 3;

    /// <summary>True when open triads are played whole.</summary>
    public bool WholeTriads { get; init; }

    /// <summary>True when a slash bass is there.</summary>
    public bool SlashBass { get; init; }

    /// <summary>How much the time of changes counts; the record is played as it is.</summary>
    public double ChangeWeight => IsRecord ? ArrangerWeights.Default.RecordChangeWeight : 1;

    /// <summary>The substitutions allowed.</summary>
    public required IReadOnlyList<SubstitutionKind> Substitutions
    {
        get;
        init
        {
            field = value;
            _swaps = value.Aggregate(0, (mask, kind) => mask | 1 << (int)kind);
            IsRecord = value.All(s => s is SubstitutionKind.None or SubstitutionKind.OtherFingering);
        }
    }

    /// <summary>True for the rung that plays what the record plays.</summary>
    public bool IsRecord { get; private init; }

    /// <summary>True when a candidate is allowed here. What the teacher locked always is.</summary>
    public bool Allows(Candidate c) => Objection(c) is null;

    /// <summary>What forbids a candidate here, the first limit it breaks; null when it is allowed.</summary>
    public RungLimit? Objection(Candidate c)
    {
        if (c.Locked) return null;
        // What the teacher typed in place of a chord is a substitution, and as close, as she wants it.
        var isOwn = c.Wanted || c.Kind == SubstitutionKind.Own && !IsRecord;
        if (!isOwn && (_swaps & 1 << (int)c.Kind) == 0) return RungLimit.Substitution;
        if (c.Fingering.FingerCount > MostFingers) return RungLimit.Fingers;
        if (c.Fingering.LongestBarre > LongestBarre) return RungLimit.Barre;
        if (c.Fingering.UsesThumb && !Thumb) return RungLimit.Thumb;
        if (c.Closeness.Sounding < (c.ThinByNature ? 2 : FewestStrings)) return RungLimit.Strings;
        if (c.Load > LoadCeiling) return RungLimit.Load;
        return !isOwn && c.Closeness.Value < ClosenessFloor ? RungLimit.Closeness : null;
    }
}
