using System.Text.RegularExpressions;

namespace Tembri.Core.Charts;

/// <content>Lines that are the title of the song.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>The first words of a text that stand by themselves are its title.</summary>
    private bool IsTitle(List<(string Text, int Number)> lines, int at)
    {
        if (_header.Title.Length > 0 || _sections.Count > 0 || _lead.Length > 0
            || lines[at].Text.Length > ChartLimits.LongestName || !ThreeLetters().IsMatch(lines[at].Text))
            return false;
        if (at + 1 >= lines.Count || lines[at + 1].Text is not { Length: <= ChartLimits.LongestLine } next) return false;
        return next.Length == 0 || ChartHeader.IsTitleWithFacts(lines[at].Text) || SaysSomething().IsMatch(next)
            || ChartHeader.IsTitleWithFacts(next) || Credit().IsMatch(next) || ChartHeader.IsHeader(next)
            || ChartHeader.SaysCapo(next) || PageDebris.Of(next, IsChord) is not null || IsStrum(next)
            || HeadingLine.Alone(next, IsChord, beforeBars: false) is not null
            || HeadingLine.WithBars(next, IsChord, IsChordLine) is not null
            || !next.Contains('[') && (next.Contains('|') || IsChordLine(next));
    }

    [GeneratedRegex(@"\[(?<inside>[^\[\]]*)\]")]
    private static partial Regex InSquares();

    /// <summary>A title with a remark in square brackets, <c>Gravel Lane [slow version]</c>: none of them holds a
    /// chord.</summary>
    private bool IsTitleInBrackets(List<(string Text, int Number)> lines, int at, string line) =>
        _sections.Count == 0 && !line.Contains('|') && char.IsLetter(line.TrimStart()[0])
            && InSquares().Matches(line) is { Count: > 0 } remarks
            && remarks.All(m => Word().IsMatch(m.Groups["inside"].Value.Trim())
                && !IsChord(m.Groups["inside"].Value.Trim().Split(' ')[0]))
            && IsTitle(lines, at);

    [GeneratedRegex(@"\p{L}{3}")]
    private static partial Regex ThreeLetters();

    /// <summary>A line that says something of the song by a name nobody knows: <c>Difficulty: easy</c>.</summary>
    [GeneratedRegex(@"^\s*\p{L}[\p{L} ]{1,20}:\s+\S")]
    private static partial Regex SaysSomething();

    /// <summary>Who made a song.</summary>
    [GeneratedRegex(@"^\s*(?:by|words|music|lyrics|written|composed|arr\.|arranged|trad\.|traditional)(?:\s|:)",
        LinePatterns.AnyCase)]
    private static partial Regex Credit();

    [GeneratedRegex(@"^#\s+(?<title>\S.*)$")]
    private static partial Regex PageTitle();

    private bool _isPage;   // written with marks of headings: "# Title", "## Verse"

    /// <summary>The heading of a whole page is the title; elsewhere such a line is a remark.</summary>
    private bool TryTitleOfPage(string line, int number)
    {
        if (!_isPage || _header.Title.Length > 0 || _sections.Count > 0 || HeadingLine.IsKnown(line)
            || PageTitle().Match(line) is not { Success: true } title)
            return false;
        _header.TakeTitle(title.Groups["title"].Value, number, Problem);
        return true;
    }
}
