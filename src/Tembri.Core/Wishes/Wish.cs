using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Wishes;

/// <summary>The rungs a wish holds for.</summary>
/// <param name="From">The lowest, by its height on the ladder.</param>
/// <param name="To">The highest.</param>
public readonly record struct RungSpan(double From, double To)
{
    /// <summary>Every rung.</summary>
    public static readonly RungSpan All = new(0, 9);

    /// <summary>One rung.</summary>
    public static RungSpan Only(double height) => new(height, height);

    /// <summary>A rung and those above it.</summary>
    public static RungSpan Up(double height) => new(height, All.To);

    /// <summary>True when a rung is within.</summary>
    /// <param name="height">Its height.</param>
    public bool Holds(double height) => height >= From && height <= To;

    /// <summary>True when every rung of another span is within.</summary>
    public bool Covers(RungSpan other) => From <= other.From && To >= other.To;

    /// <summary>True when some rung is within both.</summary>
    public bool Meets(RungSpan other) => From <= other.To && other.From <= To;
}

/// <summary>A chord that is played in place of a chord of the song.</summary>
/// <param name="Chord">The chord of the song, as <see cref="Chords.Chord.DegreeIn"/> writes it.</param>
/// <param name="Plays">What is played, written alike.</param>
/// <param name="Rungs">On which rungs.</param>
/// <param name="Reason">Why, in the teacher's words; may be empty.</param>
public sealed record ChordInstead(string Chord, string Plays, RungSpan Rungs, string Reason = "");

/// <summary>A substitution of the teacher's own: a chord that can stand in for another, on every root alike.</summary>
/// <param name="Chord">Symbol of the chord on the record, such as <c>B7b9</c>.</param>
/// <param name="Plays">Symbol of what can be played, such as <c>F#dim</c>.</param>
public sealed record StandIn(string Chord, string Plays);

/// <summary>A shape that is not to be played.</summary>
/// <param name="Frets">Frets from the capo, lowest string first, −1 for a string left out.</param>
/// <param name="Rungs">On which rungs.</param>
public sealed record ShapeBan(IReadOnlyList<int> Frets, RungSpan Rungs);

/// <summary>A kind of substitution that is not to be used.</summary>
/// <param name="Kind">The kind.</param>
/// <param name="Rungs">On which rungs.</param>
public sealed record KindBan(SubstitutionKind Kind, RungSpan Rungs);

/// <summary>How the teacher plays a chord.</summary>
/// <param name="Chord">Name of the chord as the hand sees it.</param>
/// <param name="Frets">Frets from the capo, lowest string first, −1 for a string left out.</param>
/// <param name="Fingers">Fingers, lowest string first, as <see cref="Finger"/> numbers them.</param>
/// <param name="Rungs">On which rungs.</param>
/// <param name="Always">True when it is played whatever else there is; else as long as no change pays clearly for
/// another.</param>
public sealed record OwnGrip(string Chord, IReadOnlyList<int> Frets, IReadOnlyList<int> Fingers, RungSpan Rungs,
    bool Always = false)
{
    /// <summary>The shape.</summary>
    public Shape ToShape() => new([.. Frets]);

    /// <summary>The fingers.</summary>
    public IReadOnlyList<Finger> ToFingers() => [.. Fingers.Select(f => (Finger)f)];
}

/// <summary>A chord that is looked at by itself in one section of the song, so that something else can be played
/// there.</summary>
/// <param name="Chord">The chord, as <see cref="Chords.Chord.DegreeIn"/> writes it, without a section.</param>
/// <param name="Section">Name of the section.</param>
public sealed record SetApart(string Chord, string Section);

/// <summary>Another rung of the right hand in a section of the song.</summary>
/// <param name="Section">Name of the section.</param>
/// <param name="Hand">The right hand's rung, 1 to 5, or 0 for a hand that swings as it likes.</param>
/// <param name="Rungs">On which rungs.</param>
public sealed record HandWish(string Section, int Hand, RungSpan Rungs);

/// <summary>What is different about a rung; null leaves a limit as it is.</summary>
/// <param name="Number">The rung's number.</param>
public sealed record RungWish(int Number)
{
    /// <summary>Another name.</summary>
    public string? Name { get; init; }

    /// <summary>True when the rung is left out of the ladder, false when it is in although it is left out elsewhere.</summary>
    public bool? LeftOut { get; init; }

    /// <summary>For a rung taken in between: the load it comes near to.</summary>
    public double? AimsAtLoad { get; init; }

    /// <summary>Most fingers, 1 to 4.</summary>
    public int? MostFingers { get; init; }

    /// <summary>The longest barre in strings; 1 allows none.</summary>
    public int? LongestBarre { get; init; }

    /// <summary>True when the thumb may be used.</summary>
    public bool? Thumb { get; init; }

    /// <summary>The fewest strings, 1 to 6.</summary>
    public int? FewestStrings { get; init; }

    /// <summary>The highest fret, 1 to 12.</summary>
    public int? HighestFret { get; init; }

    /// <summary>The highest load of a shape, 0 to 100.</summary>
    public double? LoadCeiling { get; init; }

    /// <summary>The lowest closeness of a chord, 0 to 1.</summary>
    public double? ClosenessFloor { get; init; }

    /// <summary>The kinds of substitution.</summary>
    public IReadOnlyList<SubstitutionKind>? Substitutions { get; init; }

    /// <summary>The rung whose right hand is played, 1 to 5, or 0 for a hand that swings as it likes.</summary>
    public int? RightHand { get; init; }

    /// <summary>These differences on top of wider ones.</summary>
    public RungWish Over(RungWish wider) => new(Number)
    {
        Name = Name ?? wider.Name, LeftOut = LeftOut ?? wider.LeftOut, AimsAtLoad = AimsAtLoad ?? wider.AimsAtLoad,
        MostFingers = MostFingers ?? wider.MostFingers,
        LongestBarre = LongestBarre ?? wider.LongestBarre, Thumb = Thumb ?? wider.Thumb,
        FewestStrings = FewestStrings ?? wider.FewestStrings, HighestFret = HighestFret ?? wider.HighestFret,
        LoadCeiling = LoadCeiling ?? wider.LoadCeiling, ClosenessFloor = ClosenessFloor ?? wider.ClosenessFloor,
        Substitutions = Substitutions ?? wider.Substitutions, RightHand = RightHand ?? wider.RightHand,
    };
}
