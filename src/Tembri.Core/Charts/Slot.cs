using Tembri.Core.Chords;

namespace Tembri.Core.Charts;

/// <summary>A chord with its length.</summary>
/// <param name="Symbol">As written in the chart, under the names used here.</param>
/// <param name="Chord">The chord; null for silence or for a symbol nobody could read.</param>
/// <param name="Beats">Length in beats of its bar's meter, above 0.</param>
/// <param name="Lyric">Words that begin with the chord; empty when there are none.</param>
/// <param name="Line">Line in the text it was read from, from 1.</param>
/// <param name="Column">Column in that line, from 1.</param>
public sealed record Slot(string Symbol, Chord? Chord, double Beats, string Lyric = "", int Line = 0, int Column = 0)
{
    /// <summary>True when the change comes pushed: one division of a beat before its place, on the "and".</summary>
    public bool IsEarly { get; init; }

    /// <summary>Characters the chord takes in the text it was read from; 0 when it comes from none.</summary>
    public int Length { get; init; }

    /// <summary>What stands where a chord is not known yet.</summary>
    public const string Unknown = "?";

    /// <summary>True when the symbol is meant as a chord but could not be read.</summary>
    public bool IsUnread => Chord is null && !IsSilence;

    /// <summary>True for N.C.</summary>
    public bool IsSilence => Chord is null && ChordReader.Read(Symbol).IsSilence;
}
