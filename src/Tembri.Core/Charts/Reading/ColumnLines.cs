namespace Tembri.Core.Charts.Reading;

/// <summary>The lines of a text in the order they are read: where two headings stand side by side, the left column comes before
/// the right one.</summary>
internal static class ColumnLines
{
    /// <summary>Lines with their numbers, from 1; what stands in the right column keeps its columns behind blanks.</summary>
    public static List<(string Text, int Number)> Of(string[] lines) => Ordered(Numbered(lines), at => new string(' ', at));

    private static List<(string Text, int Number)> Numbered(string[] lines) => [.. lines.Select((line, i) => (line, i + 1))];

    /// <summary>A text with its columns one below the other, and what it ends on below all else, to be changed line by line; the
    /// same text where it has none.</summary>
    public static string OneBelowTheOther(string text)
    {
        text = ChartTextRun.EndingsBelow(text);
        var lines = text.Split('\n');
        return lines.Any(l => l.Length <= ChartLimits.LongestLine && HeadingLine.SecondColumn(l.TrimEnd()) is not null)
            ? string.Join('\n', Ordered(Numbered([.. lines.Select(l => l.TrimEnd())]), _ => "").Select(l => l.Text.TrimEnd()))
            : text;
    }

    private static List<(string Text, int Number)> Ordered(List<(string Text, int Number)> lines, Func<int, string> before)
    {
        var ordered = new List<(string, int)>(lines.Count);
        for (var i = 0; i < lines.Count; i++)
        {
            if (ColumnIn(lines[i].Text) is not { } at)
            {
                ordered.Add(lines[i]);
                continue;
            }
            var right = new List<(string Text, int Number)>();
            for (; i < lines.Count && IsSplit(lines[i].Text, at); i++)
            {
                var (line, number) = lines[i];
                ordered.Add((line[..Math.Min(at, line.Length)], number));
                if (line.Length > at) right.Add((before(at) + line[at..], number));
                // The next pair of headings has columns of its own.
                if (i + 1 < lines.Count && ColumnIn(lines[i + 1].Text) is not null) { i++; break; }
            }
            // A third column stands beside the second.
            ordered.AddRange(right.Count > 0 && ColumnIn(right[0].Text) is not null ? Ordered(right, before) : right);
            i--;
        }
        return ordered;
    }

    private static int? ColumnIn(string line) => line.Length > ChartLimits.LongestLine ? null : HeadingLine.SecondColumn(line);

    // The order of the sections stands below all columns.
    private static bool IsSplit(string line, int at) =>
        line.Length <= ChartLimits.LongestLine && (line.Length <= at || line[at - 1] == ' ' && !ChartHeader.IsForm(line));
}
