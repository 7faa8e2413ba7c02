using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Chords written as they are spoken: <c>A minor, F sharp minor, B flat</c>.</content>
internal sealed partial class ChartTextRun
{
    private const int FewestAlone = 3;

    /// <summary>A name of its own kind in front of what else is in the line.</summary>
    [GeneratedRegex(@"^\s*" + HeadingLine.KnownNames + @"\s+(?=[A-G|])", LinePatterns.AnyCase)]
    private static partial Regex NameAhead();

    /// <summary>Puts the signs of chords in the place of their words, where a row of them leaves nothing else over, and in
    /// lines of one where a text has such rows; every column stays what it is.</summary>
    private void FindSpoken(List<(string Text, int Number)> lines)
    {
        var rows = new List<(int At, string Row, int Chords)>();
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i].Text;
            if (line.Length > ChartLimits.LongestLine || !SpokenChords.MayBeIn(line)) continue;
            // Behind a name and its colon, or a name alone, or all of it.
            var from = line.IndexOf(':') is >= 0 and var colon ? colon + 1 : NameAhead().Match(line).Length;
            if (from > 0 && from < line.Length && line[from] == '|') from = 0;
            var row = line[..from] + SpokenChords.InPlace(line[from..]);
            var end = Remarked(row)?.End ?? row.Length;
            row = row[..from] + Apart(row[from..end]) + row[end..];
            var bars = row[from..end].Replace('|', ' ').Replace(':', ' ');
            if (IsChordLine(bars)) rows.Add((i, row, ChordsOf(bars).Count));
        }
        // One alone may be the key: before its name, or above the first row, a line of facts or nothing.
        var first = rows.Find(r => r.Chords > 1).At;
        bool IsApart(int at) => at == first || lines[at].Text is var line && (line.Length == 0 || line.Contains(':'));
        bool MayBeKey((int At, string Row, int Chords) row) => row.Chords == 1
            && (row.At == 0 || row.Row.Contains(':')
                || row.At < first && !HeadingLine.IsKnown(lines[row.At - 1].Text) && IsApart(row.At + 1));
        if (!rows.Exists(r => r.Chords > 1) && rows.Count(r => !MayBeKey(r)) < FewestAlone) return;
        foreach (var row in rows)
            if (!MayBeKey(row)) lines[row.At] = (row.Row, lines[row.At].Number);
    }
}
