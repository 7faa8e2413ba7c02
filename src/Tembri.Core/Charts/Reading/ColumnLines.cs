namespace Tembri.Core.Charts.Reading;

/// <summary>The lines of a text in the order they are read: where two headings stand side by side, the left column comes before
/// the right one.</summary>
internal static class ColumnLines
{
    /// <summary>Lines with their numbers, from 1; what stands in the right column keeps its columns behind blanks.</summary>
    public static List<(string Text, int Number)> Of(string[] lines) => Ordered(lines, at => new string(' ', at));

    /// <summary>A text with its columns one below the other, and what it ends on below all else, to be changed line by line; the
    /// same text where it has none.</summary>
    public static string OneBelowTheOther(string text)
    {
        text = ChartTextRun.EndingsBelow(text);
        var lines = text.Split('\n');
        return lines.Any(l => l.Length <= ChartLimits.LongestLine && HeadingLine.SecondColumn(l.TrimEnd()) is not null)
            ? string.Join('\n', Ordered([.. lines.Select(l => l.TrimEnd())], _ => "").Select(l => l.Text.TrimEnd()))
            : text;
    }

    private static List<(string Text, int Number)> Ordered(string[] lines, Func<int, string> before)
    {
        var ordered = new List<(string, int)>(lines.Length);
        for (var i = 0; i < lines.Length; i++)
        {
            if (lines[i].Length > ChartLimits.LongestLine || HeadingLine.SecondColumn(lines[i]) is not { } at)
            {
                ordered.Add((lines[i], i + 1));
                continue;
            }
            var right = new List<(string, int)>();
            for (; i < lines.Length && IsSplit(lines[i], at); i++)
            {
                var line = lines[i];
                ordered.Add((line[..Math.Min(at, line.Length)], i + 1));
                if (line.Length > at) right.Add((before(at) + line[at..], i + 1));
                // The next pair of headings has columns of its own.
                if (i + 1 < lines.Length && HeadingLine.SecondColumn(lines[i + 1]) is not null) { i++; break; }
            }
            ordered.AddRange(right);
            i--;
        }
        return ordered;
    }

    private static bool IsSplit(string line, int at) =>
        line.Length <= ChartLimits.LongestLine && (line.Length <= at || line[at - 1] == ' ');
}
