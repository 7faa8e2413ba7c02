using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Lines that are the title of the song.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>The first words of a text that stand by themselves are its title.</summary>
    private bool IsTitle(List<(string Text, int Number)> lines, int at)
    {
        if (_header.Title.Length > 0 || _sections.Count > 0 || _lead.Length > 0
            || lines[at].Text.Length > ChartLimits.LongestName
            || !ThreeLetters().IsMatch(lines[at].Text)
                && !(NamesASong().IsMatch(lines[at].Text) && TwoLetters().IsMatch(lines[at].Text))
            || SaysHow().IsMatch(lines[at].Text))
            return false;
        if (at + 1 >= lines.Count || lines[at + 1].Text is not { Length: <= ChartLimits.LongestLine } next) return false;
        return next.Length == 0 || PageDebris.IsRule(next) || BetweenMarks().IsMatch(lines[at].Text)
            || NamesASong().IsMatch(lines[at].Text) || ChartHeader.IsTitleWithFacts(lines[at].Text)
            || SaysSomething().IsMatch(next)
            || ChartHeader.IsTitleWithFacts(next) || Credit().IsMatch(next) || ChartHeader.IsHeader(next)
            || ChartHeader.SaysCapo(next) || next.AsSpan().Trim() is ['(', .., ')'] || IsHeadOfTable(next)
            || PageDebris.Of(next, IsChord) is not null || IsStrum(next)
            || HeadingLine.Alone(next, IsChord, beforeBars: false) is not null
            || HeadingLine.WithBars(next, IsChord, IsChordLine) is not null
            || !next.Contains('[') && (next.Contains('|') || IsChordLine(next));
    }

    /// <summary>A title without the word for it in capitals, above other facts: TITLE Tallow, KEY Am.</summary>
    private static string WithoutItsName(string line, string below) =>
        line.StartsWith("TITLE ", StringComparison.Ordinal) && ChartHeader.IsHeader(below) ? line["TITLE ".Length..] : line;

    /// <summary>The head of a table of bars, which says nothing: Bar 1, Bar 2, Bar 3.</summary>
    [GeneratedRegex(@"^\s*(?:(?:section|part)\s+)?(?:bars?|measures?)\s{0,3}1\s+(?:(?:bars?|measures?)\s{0,3}[0-9]{1,2}\s*){1,32}$", LinePatterns.AnyCase)]
    private static partial Regex HeadOfTable();

    private static bool IsHeadOfTable(string line) =>
        line.AsSpan().TrimStart() is ['B' or 'b' or 'M' or 'm' or 'S' or 's' or 'P' or 'p', ..] && HeadOfTable().IsMatch(line)
            || line.AsSpan().ContainsAny('|', ',', ';')
            && (line.Contains('|') ? CellsOf(line) : line.Split(',', ';')) is { Length: > 1 } cells
            && cells.All(c => HeadsOfColumns.Contains(c.Trim(' ', '1', '2', '3', '4', '5', '6', '7', '8', '9', '0'),
                StringComparer.OrdinalIgnoreCase));

    private static readonly string[] HeadsOfColumns = ["section", "part", "name", "chords", "bar", "bars", "measure", "measures", "times", "repeat",
        "repeats", "x", "how often", "notes", "note", "remark", "remarks", "comment", "comments"];

    [GeneratedRegex(@"\[(?<inside>[^\[\]]*)\]")]
    private static partial Regex InSquares();

    /// <summary>A title with a remark in square brackets, <c>Gravel Lane [slow version]</c>: none of them holds a
    /// chord.</summary>
    private bool IsTitleInBrackets(List<(string Text, int Number)> lines, int at, string line) =>
        _sections.Count == 0 && !line.Contains('|') && char.IsLetter(line.TrimStart()[0])
            && InSquares().Matches(line) is { Count: > 0 } remarks
            && remarks.All(m => ChartHeader.IsHeader($"({m.Groups["inside"].Value})")
                || Word().IsMatch(m.Groups["inside"].Value.Trim())
                    && !IsChord(m.Groups["inside"].Value.Trim().Split(' ')[0]))
            && IsTitle(lines, at);

    /// <summary>A few words, the first of them with a capital letter, that are no sentence.</summary>
    [GeneratedRegex(@"^\s*[\p{Lu}0-9""“„'’][^\s|\[\]:]{0,20}(?:\s[^\s|\[\]:]{1,20}){0,5}(?<![.,;:!?])\s*$")]
    private static partial Regex NamesASong();

    /// <summary>A few words between marks of a heading: <c>=== Gravel Lane ===</c>.</summary>
    [GeneratedRegex(@"^\s*(?<mark>[=*_~–—-]{1,8})\s?[^\s|\[\]:][^|\[\]:]{1,60}\k<mark>\s*$")]
    private static partial Regex BetweenMarks();

    /// <summary>How a letter begins.</summary>
    [GeneratedRegex(@"^\s*(?:hi|hello|hey|dear|hallo|liebe[rs]?|salut|hola|ciao|good\s(?:morning|afternoon|evening))\b[^|\[\]]*[,:!.]\s*$", LinePatterns.AnyCase)]
    private static partial Regex Greeting();

    private static bool IsGreeting(string line) => line.Length <= LongestNaming && Greeting().IsMatch(line);

    [GeneratedRegex(@"\p{L}{3}")]
    private static partial Regex ThreeLetters();

    [GeneratedRegex(@"\p{L}{2}")]
    private static partial Regex TwoLetters();

    /// <summary>A line that says how the song is played, which is no name of one.</summary>
    [GeneratedRegex(@"^\s*(?:rhythm|pattern|picking|strum(?:ming)?(?:\spattern)?(?:\s\([^()]{1,20}\))?|count|level|difficulty|genre|style|feel|groove)\s*:|^\s*(?:strum(?:ming)?|picking)(?:\spattern)?\s*$", LinePatterns.AnyCase)]
    private static partial Regex SaysHow();

    /// <summary>A line that says something of the song by a name nobody knows: <c>Difficulty: easy</c>.</summary>
    [GeneratedRegex(@"^\s*\p{L}[\p{L} ]{1,20}:\s+\S")]
    private static partial Regex SaysSomething();

    /// <summary>Who made a song.</summary>
    [GeneratedRegex(@"^\s*(?:by|words|music|lyrics|written|composed|arr\.|arranged|trad\.|traditional)(?:\s|:)",
        LinePatterns.AnyCase)]
    private static partial Regex Credit();

    /// <summary>The line under the head of a table.</summary>
    private static bool IsRuleOfTable(string line) =>
        line.Contains('|') && line.Contains('-') && !line.AsSpan().ContainsAnyExcept(" |-:+=");

    /// <summary>A title with facts far behind it in its line: <c>Country Mile      Key: G</c>.</summary>
    private bool TryTitleBesideFacts(string line, int number)
    {
        if (_header.Title.Length > 0 || _sections.Count > 0 || _lead.Length > 0 || line.Length > ChartLimits.LongestName)
            return false;
        if ((line.Contains('|') || line.Contains(" / ", StringComparison.Ordinal)) && ChartHeader.TitleBeforeStrokes(line) is { } parted
            && !HeadingLine.IsKnown(line.Split('|', '/')[0]))
        {
            _header.TakeTitle(parted, number, Problem);
            return true;
        }
        if (line.Trim().Split("   ", 2) is not [var title, var beside] || !ThreeLetters().IsMatch(title)
            || title.Contains(':') || line.AsSpan().ContainsAny('|', '[') || HeadingLine.IsKnown(title))
            return false;
        if (Credit().IsMatch(beside))
        {
            _header.TakeTitle(title, number, Problem);
            _header.AddNote(beside.Trim());
            return true;
        }
        if (!ChartHeader.IsTitleWithFacts($"{title}   {beside}")) return false;
        _header.TakeTitle(line, number, Problem);
        return true;
    }

    /// <summary>The first line of a text, where nothing else in it may be the title: not the line below, nor one that says
    /// so.</summary>
    private bool MayHeadPage(string line, int number) =>
        line.AsSpan().TrimStart() is ['#', ' ', ..] && line.Length <= LongestNaming
            && Array.FindIndex(_raw, l => !l.AsSpan().IsWhiteSpace() && !(l.Length <= LongestNaming && ChartHeader.IsHeader(l)))
                == number - 1
            && !Array.Exists(_raw, l => l.Length <= ChartLimits.LongestLine && ChartHeader.IsTitle(l))
            && (NamesASong().IsMatch(line.AsSpan().TrimStart([' ', '#'])) && !SaysWhose().IsMatch(line)
                || Array.Find(_raw[number..], l => !l.AsSpan().IsWhiteSpace()) is { Length: <= ChartLimits.LongestLine } below
                    && (!ThreeLetters().IsMatch(below) || !IsLyrics(below) && below is not ['#', ..]
                        || SaysSomething().IsMatch(below)
                        || Credit().IsMatch(below) || below.AsSpan().Trim() is ['(', .., ')']));

    /// <summary>Words for how a text came to be, which a remark at its head has.</summary>
    [GeneratedRegex(@"\b(?:version|transcri\w+|chart|file|export\w*|made|created|written|from|by|draft|updated?)\b", LinePatterns.AnyCase)]
    private static partial Regex SaysWhose();

    [GeneratedRegex(@"^\s*#\s+(?<title>\S.*)$")]
    private static partial Regex PageTitle();

    private bool _isPage;   // written with marks of headings: "# Title", "## Verse"

    /// <summary>The heading of a whole page is the title; elsewhere such a line is a remark.</summary>
    private bool TryTitleOfPage(string line, int number)
    {
        if (!_isPage && !MayHeadPage(line, number) || _header.Title.Length > 0 || _sections.Count > 0
            || HeadingLine.IsKnown(line)
            || PageTitle().Match(line) is not { Success: true } title)
            return false;
        _header.TakeTitle(title.Groups["title"].Value, number, Problem);
        return true;
    }
}
