using Tembri.Core.Chords;

namespace Tembri.Core.Substitutions;

/// <summary>What is done to a chord to make it easier, from the least to the most intrusive.</summary>
public enum SubstitutionKind
{
    /// <summary>Nothing: the chord as the record has it.</summary>
    None,
    /// <summary>Another fingering of the usual shape.</summary>
    OtherFingering,
    /// <summary>The same chord on fewer strings.</summary>
    FewerStrings,
    /// <summary>The bass after the slash is left off.</summary>
    DropBass,
    /// <summary>Extensions or the seventh are left off.</summary>
    DropExtension,
    /// <summary>A relative with most of the same notes and one more.</summary>
    ColourRelative,
    /// <summary>A chord that shares the upper notes.</summary>
    SharedTones,
    /// <summary>Root and fifth only.</summary>
    PowerChord,
    /// <summary>The teacher's own: another chord she wants, or allows, here.</summary>
    Own,
}

/// <summary>A chord that can stand in for another.</summary>
/// <param name="Kind">What is done.</param>
/// <param name="Chord">The chord played.</param>
public sealed record Substitution(SubstitutionKind Kind, Chord Chord);

/// <summary>What the chart forbids for one of its chords.</summary>
/// <param name="NoSuspension">The chord resolves a suspension, so a suspension may not replace it.</param>
/// <param name="KeepsThird">The chord is a dominant at a cadence and keeps its leading tone.</param>
/// <param name="StepwiseBass">Its bass is part of a line that moves by step.</param>
/// <param name="IsTonic">It is the song's tonic, which a minor seventh would turn into a dominant.</param>
/// <param name="Line">Tones that an inner line over one root moves by, bit n for n semitones above the root; 0 for none.</param>
public readonly record struct Guard(bool NoSuspension, bool KeepsThird, bool StepwiseBass, bool IsTonic = false, int Line = 0);
