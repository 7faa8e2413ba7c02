using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Counts that stand alone in their line.</content>
internal sealed partial class ChartTextRun
{
    private static bool IsCountAlone(string line) =>
        line.Length <= LongestNaming
            && (HeadingLine.CountAt(line) is { At: 0, Times: > 1 } && line.Any(char.IsAsciiDigit)
                || HeadingLine.TimesOfAll(line) > 1 || HeadingLine.CountedWith(line) is not null);

    /// <summary>A count of the row above in front of what follows it: <c>Repeat 4x, then | Am |</c>.</summary>
    [GeneratedRegex(@"^\s*\(?(?<count>(?:repeat|play)\s(?:this\s|that\s|it\s)?(?:[0-9]{1,2}\s?(?:x|×|times)|[x×]\s?[0-9]{1,2}))\)?\s?[,;:.]?\s(?:and\s)?then:?(?=\s*\S)",
        LinePatterns.AnyCase)]
    private static partial Regex CountAndThen();

    /// <summary>Takes a count of the row above in front of chords; what is left of the line is what follows it.</summary>
    private string WithoutCountInFront(List<(string Text, int Number)> lines, int at, string line)
    {
        if (line.Length > ChartLimits.LongestLine || CountAndThen().Match(line) is not { Success: true } match
            || _section is not { Bars.Count: > 0, OpenRepeat: null, Ending: null } open || !IsOneRow(open)
            || Above(lines, at)?.Number != open.Bars[0].Span?.Line)
            return line;
        var rest = new string(' ', match.Length) + line[match.Length..];
        if (!rest.Contains('|') && !IsChordLine(rest)) return line;
        RepeatBars(open, 0, Times(HeadingLine.CountAt(match.Groups["count"].Value)!.Value.Times, lines[at].Number, 1), lines[at].Number);
        return rest;
    }

    /// <summary>Takes a line that is nothing but a count, where there is no doubt what it counts; else it is said.</summary>
    private bool TryCountAlone(List<(string Text, int Number)> lines, int at)
    {
        var (line, number) = lines[at];
        var open = _section is { Bars.Count: > 0, OpenRepeat: null, Ending: null } ? _section : null;
        if (HeadingLine.TimesOfAll(line) is > 1 and var all && open is not null)
        {
            RepeatBars(open, 0, Times(all, number, 1), number);
            return true;
        }
        var (times, said) = HeadingLine.CountedWith(line)
            ?? (HeadingLine.CountAt(line) is { At: 0, Times: > 1 and var alone } ? (alone, "") : (0, ""));
        if (times == 0) return false;
        // Under a name alone it says how often that section is played again.
        if (said.Length == 0 && _section is { IsEmpty: true, Times: 1 } again && Above(lines, at)?.Number == again.Line)
        {
            again.Times = Times(times, number, 1);
            return true;
        }
        // Where there is one section only, "play 3 times" can mean no other.
        if (_sections is [{ Times: 1, Bars.Count: > 0 } only] && AsksToPlay(line)) only.Times = Times(times, number, 1);
        else if (open is not null && IsOneRow(open) && Above(lines, at)?.Number == open.Bars[0].Span?.Line)
            RepeatBars(open, 0, Times(times, number, 1), number);
        else
        {
            Problem(number, 1,
                "A count stands in the line of the bars it counts, behind them, such as | G | D | x2; this one is left out.");
            return true;
        }
        if (said.Length > 0 && _section is { Bars: [.., var last] bars })
            bars[^1] = last with { Remarks = [.. last.Remarks, said] };
        return true;
    }

    /// <summary>A line whose last bar is not closed before a count, <c>G | D | C (2x)</c>, with a bar line there, in place of a
    /// blank; the count is that of the line.</summary>
    private string ClosedBeforeCount(string line) =>
        HeadingLine.CountAt(line) is { At: > 0 and var at } && line[at] == ' ' && line.LastIndexOf('|') is >= 0 and var last
            // Beside another bar with a count of its own it is that of its bar.
            && last < at && !line[..last].Split('|').Any(cell => HeadingLine.CountAt(cell) is { At: > 0, Times: > 1 })
            && IsChordLine(line[(last + 1)..at])
                ? $"{line[..at]}|{line[(at + 1)..]}"
                : line;

    private static bool AsksToPlay(string line) =>
        line.Contains("play", StringComparison.OrdinalIgnoreCase) || line.Contains("repeat", StringComparison.OrdinalIgnoreCase);

    /// <summary>True when all bars of a section stand in one line, none of them twice.</summary>
    private static bool IsOneRow(OpenSection section) =>
        section.Bars[0].Span is { } first && section.Bars.TrueForAll(b => b.Span?.Line == first.Line)
            && !section.Repeats.Where((repeated, bar) => repeated != bar).Any();

    /// <summary>Behind a row, how often it and the rows above it are played: (each 4x).</summary>
    [GeneratedRegex(@"^(?<row>.{1,200}?)\s+\(?(?:each|every)(?:\s(?:line|row|one))?\s(?<count>[x×]\s?[1-9]|[1-9]\s?[x×])\)?\s*$", LinePatterns.AnyCase)]
    private static partial Regex RowCountedAlike();

    /// <summary>Writes a count that is that of several rows behind each of them.</summary>
    private void FindRowsCountedAlike(List<(string Text, int Number)> lines)
    {
        for (var i = 0; i < lines.Count; i++)
        {
            if (lines[i].Text is not { Length: > 0 and <= ChartLimits.LongestLine } line
                || line.AsSpan().TrimEnd() is not [.., 'x' or 'X' or '×' or ')' or (>= '0' and <= '9')]
                || RowCountedAlike().Match(line) is not { Success: true } counted || !IsRow(counted.Groups["row"].Value))
                continue;
            var count = $" ({counted.Groups["count"].Value})";
            lines[i] = (counted.Groups["row"].Value + count, lines[i].Number);
            for (var above = i - 1; above >= 0 && i - above <= MostRowsAlike && IsRow(lines[above].Text); above--)
                lines[above] = (lines[above].Text.TrimEnd() + count, lines[above].Number);
        }

        bool IsRow(string text) =>
            text.Length is > 0 and <= ChartLimits.LongestLine && !text.Contains('(') && !text.Contains('[')
                && (IsChordLine(text) || text.AsSpan().TrimStart() is ['|', ..] && text.AsSpan().TrimEnd() is [.., '|']);
    }

    private const int MostRowsAlike = 8;
}
