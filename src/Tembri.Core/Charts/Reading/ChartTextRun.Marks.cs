using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Marks in curly brackets that are no facts of the song: around tablature and bars, of the page, remarks that name a
/// section.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"^\s*\{\s*(?:start_of_tab|sot)\b[^{}]*\}\s*$", LinePatterns.AnyCase)]
    private static partial Regex TabBegins();

    [GeneratedRegex(@"^\s*\{\s*(?:end_of_tab|eot)\s*\}\s*$", LinePatterns.AnyCase)]
    private static partial Regex TabEnds();

    [GeneratedRegex(@"^\s*\{\s*(?:(?:start_of_grid|sog)\b[^{}]*|eog|new_page|np|new_physical_page|npp|column_break|colb|cb"
            + @"|ns)\}\s*$", LinePatterns.AnyCase)]
    private static partial Regex SaysNothing();

    [GeneratedRegex(@"^(?<before>\s*\{\s*(?:comment(?:_italic|_box)?|ci?|cb)\s*:\s*)(?<said>[^{}]+)\}\s*$",
        LinePatterns.AnyCase)]
    private static partial Regex Comment();

    [GeneratedRegex(@"^\s*\{\s*(?:start_of_|so[cvbg]\b)", LinePatterns.AnyCase)]
    private static partial Regex Begins();

    /// <summary>Reads a line of marks that says nothing of the bars.</summary>
    /// <param name="lines">All lines.</param>
    /// <param name="at">The line; after it the last that was read with it.</param>
    /// <returns>False when it is no such line.</returns>
    private bool TryMark(List<(string Text, int Number)> lines, ref int at)
    {
        var line = lines[at].Text;
        if (line.TrimStart() is not ['{', ..]) return false;
        if (SaysNothing().IsMatch(line)) return true;
        if (!TabBegins().IsMatch(line)) return false;
        // One that is never closed takes nothing with it.
        var end = lines.FindIndex(at + 1,
            l => TabEnds().IsMatch(l.Text) || TabBegins().IsMatch(l.Text) || Begins().IsMatch(l.Text));
        if (end < 0 || !TabEnds().IsMatch(lines[end].Text)) return true;
        if (end > at + 1) Problem(lines[at].Number, 1, PageDebris.Say(Debris.Tablature, end - at - 1));
        at = end;
        return true;
    }

    /// <summary>What a remark names that stands in place of a heading; the line itself for any other.</summary>
    private static string WithoutComment(List<(string Text, int Number)> lines, int at)
    {
        var line = lines[at].Text;
        if (line.TrimStart() is not ['{', ..] || Comment().Match(line) is not { Success: true } comment) return line;
        if (comment.Groups["said"] is var count && IsCountAlone(count.Value))
        {
            lines[at] = (new string(' ', count.Index) + count.Value.TrimEnd(), lines[at].Number);
            return lines[at].Text;
        }
        if (HeadingLine.Alone(comment.Groups["said"].Value, _ => false, beforeBars: false) is null)
            return line;
        // Where a mark opens the section, the remark only says it once more.
        for (var i = at + 1; i < lines.Count; i++)
            if (lines[i].Text.Trim().Length > 0)
                return Begins().IsMatch(lines[i].Text)
                    ? line
                    : new string(' ', comment.Groups["before"].Length) + comment.Groups["said"].Value;
        return line;
    }

    /// <summary>True for the word for the end where nothing sends the player there: it says nothing then.</summary>
    private bool IsIdleSign(string line) =>
        line.AsSpan().Trim().TrimEnd('.').Equals("fine", StringComparison.OrdinalIgnoreCase)
            && !(_sendsToTheEnd ??= Array.Exists(_raw, l => l.Contains("al fine", StringComparison.OrdinalIgnoreCase)));

    private bool? _sendsToTheEnd;
}
