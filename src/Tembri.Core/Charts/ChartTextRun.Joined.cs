using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts;

/// <content>What stands before or between chords and is no name: which bars they fill, and words that only join
/// them.</content>
internal sealed partial class ChartTextRun
{
    private const int MostNamedBars = 64, MostJoined = 32;

    [GeneratedRegex(@"^\s*[\[(]?(?:bars?|measures?)\s{1,3}(?<from>[0-9]{1,3})(?:\s{0,3}(?:[-–—&]|to|and)\s{0,3}(?<to>[0-9]{1,3}))?\s{0,3}[\])]?\s{0,3}[:=]\s{0,8}(?=[^\s|])",
        LinePatterns.AnyCase)]
    private static partial Regex BarsNamed();

    [GeneratedRegex(@"(?<=[\s,;])(?:(?:and\s)?then|and|to|into)(?=\s)", LinePatterns.AnyCase)]
    private static partial Regex Then();

    [GeneratedRegex(@"^\s*v(?:s|erse)?\.?\s?[1-9]?(?:\s*[:.)\]-]|\s|$)", LinePatterns.AnyCase)]
    private static partial Regex ShortVerse();

    private bool _hasVerses;   // so that C1 and B2 may be a chorus and a bridge

    /// <summary>True for a line that names a verse, in short or not.</summary>
    internal static bool NamesVerse(string line) => line.AsSpan().TrimStart() is ['V' or 'v', ..] && ShortVerse().IsMatch(line);

    /// <summary>Makes rows of chords of lines that say more: <c>Bars 1-4: Am</c>, <c>G D x2, then C G</c>.</summary>
    private void FindJoined(List<(string Text, int Number)> lines)
    {
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i].Text;
            if (line.Length is 0 or > ChartLimits.LongestLine) continue;
            _hasVerses |= NamesVerse(line);
            if (line.AsSpan().TrimStart() is ['B' or 'b' or 'M' or 'm' or '[' or '(', ..]
                && BarsNamed().Match(line) is { Success: true } bars)
                lines[i] = (FillingBars(line, bars), lines[i].Number);
            else if (!line.Contains('[') && Then().Count(line) is > 0 and < MostJoined)
            {
                // Behind a name and its colon, or all of it; a title can be of two letters, joined.
                var from = line.IndexOf(':') + 1;
                var row = Then().Replace(line, m => m.Index < from ? m.Value : new string(' ', m.Length));
                if ((i > 0 || from > 0 || ChordsOf(row).Count > 2) && IsChordLine(row[from..])) lines[i] = (row, lines[i].Number);
            }
        }
    }

    /// <summary>The chords behind the numbers of their bars, as a row that fills as many; as it stands where they do not share
    /// them evenly.</summary>
    private string FillingBars(string line, Match named)
    {
        var row = new string(' ', named.Length) + line[named.Length..].TrimEnd(' ', ',', ';');
        // A full stop close behind the last chord; apart it holds that chord.
        if (row is [.., not ' ', '.']) row = row[..^1];
        if (!IsChordLine(row)) return line;
        int Number(string group) => int.Parse(named.Groups[group].ValueSpan, CultureInfo.InvariantCulture);
        var bars = named.Groups["to"].Success ? Number("to") - Number("from") + 1 : 1;
        var chords = ChordsOf(row);
        if (bars is < 1 or > MostNamedBars || row.Contains('(') || !chords.TrueForAll(c => IsChord(c.Text))) return row;
        if (bars % chords.Count == 0) return bars == chords.Count ? row : $"{row} ({bars / chords.Count} bars each)";
        if (chords.Count % bars != 0) return row;
        var lined = row.ToCharArray();
        for (var i = 0; i < chords.Count; i += chords.Count / bars) lined[chords[i].Column - 2] = '|';
        return new string(lined) + " |";
    }

    /// <summary>True for a chord that might be the short name of a section in front of others, C2, where no verses are
    /// named.</summary>
    private bool IsChordInFront(string line, HeadingLine front) =>
        !_hasVerses && front.Name.Length == 2 && IsChord(front.Name)
            && line.AsSpan(0, front.RestAt).Trim().SequenceEqual(front.Name);
}
