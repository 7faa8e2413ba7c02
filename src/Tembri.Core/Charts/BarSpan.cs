namespace Tembri.Core.Charts;

/// <summary>How the text writes a bar.</summary>
public enum BarNotation
{
    /// <summary>Chords between bar lines.</summary>
    Grid,
    /// <summary>Chords in square brackets among words, between bar lines.</summary>
    Words,
    /// <summary>A chord in square brackets before its words, a bar a chord.</summary>
    Bracket,
    /// <summary>A chord on a line above the words, a bar a chord.</summary>
    Over,
}

/// <summary>Where a bar stands in the text it was read from. Repeated bars share a place.</summary>
/// <param name="Line">Line, from 1.</param>
/// <param name="Column">Column where it begins, from 1, without the bar line and the space before it.</param>
/// <param name="Length">Characters it takes, words included.</param>
/// <param name="Notation">How it is written there.</param>
/// <param name="Content">Its chords as a cell of a bar grid has them: <c>C . F .</c>, <c>2/4 G7</c>, <c>%</c>.</param>
public sealed record BarSpan(int Line, int Column, int Length, BarNotation Notation, string Content);
