namespace Tembri.Core.Arranging;

/// <summary>One rung at one position: a candidate for every chord.</summary>
/// <param name="Choices">For each chord of the flow.</param>
/// <param name="Objective">The sum that was minimised, in load points.</param>
/// <param name="Load">Time-weighted mean load, 0 to 100.</param>
/// <param name="Closeness">Time-weighted mean closeness, 0 to 1.</param>
public sealed record Arrangement(IReadOnlyList<Candidate> Choices, double Objective, double Load, double Closeness)
{
    /// <summary>True when it was proved that no sum is less; false when the search was left off before, or nothing was
    /// searched.</summary>
    public bool IsProved { get; init; }

    /// <summary>Chords the rung does not play; their choices are without meaning.</summary>
    public IReadOnlyList<int> LeftOut { get; init; } = [];

    /// <summary>How a chord is heard; null when it is left out.</summary>
    public Candidate? Heard(int chord) => LeftOut.Contains(chord) ? null : Choices[chord];
}

/// <summary>Another shape or fingering of a chord, for where it pays.</summary>
/// <param name="ChordIndex">The chord.</param>
/// <param name="Next">The chord that follows where it is used; −1 for the end of the song.</param>
/// <param name="Choice">How it is played there.</param>
public sealed record SecondShape(int ChordIndex, int Next, Candidate Choice);

/// <summary>Why a rung cannot be arranged at a position.</summary>
/// <param name="ChordIndex">The chord that blocks it.</param>
/// <param name="Nearest">What comes nearest, and what forbids it; null when no shape of the chord fits the hand.</param>
public sealed record Blocked(int ChordIndex, (Candidate Candidate, RungLimit Broken)? Nearest);
