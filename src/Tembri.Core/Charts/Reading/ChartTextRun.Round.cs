using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Chords among the words in round, curly or pointed brackets.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"\((?<chord>[A-H][^()\s]{0,11})\)|\{(?<chord>[A-H][^{}\s]{0,11})\}|<(?<chord>[A-H][^<>\s]{0,11})>")]
    private static partial Regex RoundChords();

    private bool _roundIsUsual;   // chords stand in round brackets among the words, so one alone in its line is one

    private const int FewestRound = 2;

    private void FindRound(List<(string Text, int Number)> lines) =>
        _roundIsUsual = lines.Where(l => l.Text.Length is > 0 and <= ChartLimits.LongestLine && l.Text.Contains('(')
            && WithRoundChords(l.Text) is not null).Take(FewestRound).Count() == FewestRound;

    /// <summary>Words with chords in round, curly or pointed brackets, in square ones; null for any other line. A chord in curly
    /// brackets is one wherever it stands.</summary>
    private string? WithRoundChords(string line)
    {
        if (line.Contains('|') || !line.AsSpan().ContainsAny('(', '{', '<')) return null;
        var chords = RoundChords().Matches(line).Where(m => IsChord(m.Groups["chord"].Value)).ToList();
        var hasWords = (chords.Count > 1 || _roundIsUsual && chords.Count == 1) && (Word().IsMatch(RoundChords().Replace(line, " ")) || line.Any(char.IsAsciiLetterLower));
        if (!hasWords || line.Contains('[')) chords.RemoveAll(m => m.Value[0] != '{');
        if (chords.Count == 0 || !chords.Exists(m => m.Value[0] == '{') && IsChordLine(line)) return null;
        var squared = line.ToCharArray();
        foreach (var chord in chords) (squared[chord.Index], squared[chord.Index + chord.Length - 1]) = ('[', ']');
        return new string(squared);
    }
}
