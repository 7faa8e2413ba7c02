using Tembri.Core.Chords;

namespace Tembri.Core.Hearing;

/// <summary>A chord as an ear may tell it: a root and a kind.</summary>
/// <param name="Root">Pitch class, 0 for C.</param>
/// <param name="Kind">Its kind.</param>
public readonly record struct HeardChord(int Root, HeardKind Kind)
{
    /// <summary>Every root with every kind.</summary>
    public static IReadOnlyList<HeardChord> All { get; } =
        [.. Enum.GetValues<HeardKind>().SelectMany(kind => Enumerable.Range(0, 12).Select(root => new HeardChord(root, kind)))];

    /// <summary>Semitones over the root.</summary>
    public IReadOnlyList<int> Intervals => Kind switch
    {
        HeardKind.Major => [0, 4, 7],
        HeardKind.Minor => [0, 3, 7],
        HeardKind.Dominant => [0, 4, 7, 10],
        HeardKind.MinorSeventh => [0, 3, 7, 10],
        HeardKind.MajorSeventh => [0, 4, 7, 11],
        HeardKind.Suspended => [0, 5, 7],
        HeardKind.Diminished => [0, 3, 6],
        _ => throw new InvalidOperationException(),
    };

    /// <summary>How the kind is written after the root.</summary>
    public string Suffix => Kind switch
    {
        HeardKind.Minor => "m", HeardKind.Dominant => "7", HeardKind.MinorSeventh => "m7", HeardKind.MajorSeventh => "maj7",
        HeardKind.Suspended => "sus4", HeardKind.Diminished => "dim", _ => "",
    };

    /// <summary>The triad under it.</summary>
    public HeardTriad Triad => new(Root, Kind switch
    {
        HeardKind.Minor or HeardKind.MinorSeventh => TriadKind.Minor,
        HeardKind.Suspended => TriadKind.Open,
        HeardKind.Diminished => TriadKind.Diminished,
        _ => TriadKind.Major,
    });

    /// <summary>The triad of a chord of a chart.</summary>
    /// <param name="chord">The chord.</param>
    /// <param name="semitones">How far the record lies above the chart.</param>
    public static HeardTriad TriadOf(Chord chord, int semitones) => new(((chord.Root.PitchClass + semitones) % 12 + 12) % 12,
        chord.Has(4) ? TriadKind.Major
            : chord.Has(3) ? (chord.Has(6) && !chord.Has(7) ? TriadKind.Diminished : TriadKind.Minor)
            : TriadKind.Open);
}

/// <summary>Kinds of chords that are told apart by ear.</summary>
public enum HeardKind
{
    /// <summary>Major.</summary>
    Major,
    /// <summary>Minor.</summary>
    Minor,
    /// <summary>Major with a minor seventh.</summary>
    Dominant,
    /// <summary>Minor with a minor seventh.</summary>
    MinorSeventh,
    /// <summary>Major with a major seventh.</summary>
    MajorSeventh,
    /// <summary>Fourth and fifth.</summary>
    Suspended,
    /// <summary>Diminished.</summary>
    Diminished,
}

/// <summary>What is under a chord.</summary>
public enum TriadKind
{
    /// <summary>Major third.</summary>
    Major,
    /// <summary>Minor third.</summary>
    Minor,
    /// <summary>Minor third and diminished fifth.</summary>
    Diminished,
    /// <summary>No third: suspended, or fifths alone.</summary>
    Open,
}

/// <summary>A root with its triad.</summary>
/// <param name="Root">Pitch class, 0 for C.</param>
/// <param name="Kind">The triad.</param>
public readonly record struct HeardTriad(int Root, TriadKind Kind);
