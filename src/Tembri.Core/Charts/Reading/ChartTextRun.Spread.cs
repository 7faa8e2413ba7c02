using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Chords written close together above words that nobody set below them sign by sign: <c>G D Em C</c> above a whole
/// line of a song.</content>
internal sealed partial class ChartTextRun
{
    private const int WidestTight = 2;   // signs between two chords: a blank, a comma and a blank

    [GeneratedRegex(@"[^\s,;()|–—-][^\s,;()|]*")]
    private static partial Regex ChordsWritten();

    /// <summary>True where chords stand close together and not above the beginnings of words, and the words are much longer than
    /// the row, or a name stands in front of the chords.</summary>
    /// <param name="row">The chords; blanks in place of a name.</param>
    /// <param name="words">The words below.</param>
    /// <param name="isNamed">True where a name of a section stood in front.</param>
    internal static bool AreSpread(string row, string words, bool isNamed)
    {
        var chords = ChordsWritten().Matches(row);
        if (chords.Count < 2 || words.Length == 0) return false;
        for (var i = 1; i < chords.Count; i++)
            if (row[(chords[i - 1].Index + chords[i - 1].Length)..chords[i].Index] is { Length: > WidestTight } between
                && between != " - ")
                return false;
        var (start, end) = (chords[0].Index, chords[^1].Index + chords[^1].Length);
        return !chords.All(c => BeginsWord(words, c.Index))
            && (isNamed || words.TrimEnd().Length - start > (end - start) * MostOverhang);
    }

    private static bool BeginsWord(string words, int at) =>
        at < words.Length && words[at] != ' ' && (at == 0 || words[at - 1] == ' ');

    /// <summary>Where the words of each chord of such a row begin: as far along the line as the chord is in the row, at the
    /// nearest beginning of a word, the first at the beginning of the line.</summary>
    /// <param name="columns">Where the chords stand, from 1, in their order.</param>
    /// <param name="end">Where the row ends.</param>
    /// <param name="words">The words.</param>
    private static List<int> SpreadOver(IReadOnlyList<int> columns, int end, string words)
    {
        var begins = LinePatterns.WordsOf(words).Select(w => w.Offset).ToList();
        var (first, last) = (begins[0], words.TrimEnd().Length);
        var stretched = (double)(last - first) / (end - columns[0] + 1);
        var above = columns.Select(c => begins.MinBy(b => Math.Abs(b - first - (c - columns[0]) * stretched))).ToList();
        // Of two chords above one word the first has it.
        for (var i = above.Count - 1; i > 0; i--)
            if (above[i] == above[i - 1]) above[i] = i + 1 < above.Count ? above[i + 1] : words.Length;
        return above;
    }
}
