using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>What stands beside a row of chords and is none: a bracket that nothing opens in front of a count, a dash behind the
/// last chord, a count and a remark in one bracket, words.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"^[^\[\]{}|⎤⎥⎦⎫⎬⎭]{3,}?\s(?<sign>[\]}⎤⎥⎦⎫⎬⎭])\s*(?<count>\S.{0,20})$")]
    private static partial Regex ClosedByItself();

    private const int Phrase = 4;   // bars

    private const string Apart3 = "   ";
    private const int FewestBeside = 2, FewestWordsBeside = 3;

    /// <summary>A row with words beside it, three blanks away: <c>Am - - - F - - -     a moth came in</c>.</summary>
    private (string Row, string Words)? BesideWords(string line)
    {
        if (line.AsSpan().ContainsAny("|[]{}()") || line.LastIndexOf(Apart3, StringComparison.Ordinal) is not (> 0 and var gap))
            return null;
        var (row, words) = (line[..gap].TrimEnd(), line[gap..].TrimStart());
        return words.AsSpan().Count(' ') >= FewestWordsBeside - 1 && !words.Contains(':')
            && LinePatterns.SmallLetters().IsMatch(words) && !IsChordLine(words) && IsChordLine(row) && ChordsOf(row).Count > 1
                ? (row, words)
                : null;
    }

    /// <summary>Sets the words beside rows, where several rows have such, in lines below them.</summary>
    private void FindWordsBeside(List<(string Text, int Number)> lines)
    {
        var found = new List<(int At, string Row, string Words)>();
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= ChartLimits.LongestLine } line && BesideWords(line) is var (row, words))
                found.Add((i, row, words));
        if (found.Count < FewestBeside) return;
        foreach (var (at, chords, sung) in found.AsEnumerable().Reverse())
        {
            lines[at] = (chords, lines[at].Number);
            lines.Insert(at + 1, (sung, lines[at].Number));
        }
    }

    /// <summary>A stroke that parts a name from bars that begin with a line of their own: <c>Verse | | Am | G |</c>.</summary>
    [GeneratedRegex(@"^\s*(?<name>[^|\[\]\s][^|\[\]]{0,30}?)\s*(?<stroke>\|)\s+\|")]
    private static partial Regex NameAndStroke();

    /// <summary>A name alone between bar lines: <c>|Verse     |</c>, or <c>|: Chorus :|</c>.</summary>
    [GeneratedRegex(@"^\s*\|(?<again>:?)\s*(?<name>\p{L}[\p{L}0-9 .-]{1,24}?)\s*:?\|[\s|]*$")]
    private static partial Regex NameBetweenBarLines();

    /// <summary>A count and a remark in one bracket behind a row: <c>Dm Am E Am (twice; then stop on E)</c>.</summary>
    [GeneratedRegex(@"^(?<row>[^()]{2,150}?)\s+\((?<inside>[^()|\[\]]{5,70})\)\s*$")]
    private static partial Regex RowAndBracket();

    /// <summary>A remark and a count behind it, alone in their line: <c>(picked, 2x)</c>.</summary>
    [GeneratedRegex(@"^(?<indent>\s*)\((?<said>\p{L}[^()|\[\]]{2,40}?)\s*[,;]\s*(?<count>[^()|\[\],;]{2,20})\)\s*$")]
    private static partial Regex RemarkAndCount();

    /// <summary>A name with more behind strokes in its brackets: <c>[Verse 1 | 8 bars | x2]</c>.</summary>
    [GeneratedRegex(@"^\s*\[\s*(?<name>" + HeadingLine.KnownNames + @")\s*(?:\|\s*(?<more>[^|\[\]]{1,40}?)\s*){1,4}\]\s*$", LinePatterns.AnyCase)]
    private static partial Regex NameWithStrokes();

    /// <summary>Such a name as a heading: what counts behind it, what remarks in round brackets.</summary>
    private static string Heading(Match name)
    {
        var more = name.Groups["more"].Captures.Select(c => c.Value).ToLookup(m => HeadingLine.CountInFront(m) == m.Length);
        var remark = string.Join(", ", more[false]);
        return $"[{name.Groups["name"].Value}{(remark.Length > 0 ? $" ({remark})" : "")}] {string.Concat(more[true])}".TrimEnd();
    }

    /// <summary>A mark that plays the chorus under a name of its own: <c>{chorus: Last time}</c>.</summary>
    [GeneratedRegex(@"^\s*\{\s*chorus\s*:\s*(?<label>[^\s{}|\[\]()][^{}|\[\]()]{0,40}?)\s*\}\s*$", LinePatterns.AnyCase)]
    private static partial Regex LabelledChorus();

    private const string BriefOrKnown = "(?:" + HeadingLine.KnownNames + "|(?:vs?|ch?|br?)\\.?\\s?[0-9]{1,2})";

    /// <summary>Several names that are played like another: <c>V2, V3 as V1</c>.</summary>
    [GeneratedRegex(@"^\s*(?<names>" + BriefOrKnown + @"(?:\s*(?:,|&|\+|/|\band\b)\s*" + BriefOrKnown + @"){1,5})\s*[:=–-]?\s*\(?(?:(?:the\s)?same\s(?:chords\s)?as|as|like)\s(?<like>"
            + BriefOrKnown + @")\)?[\s.]*$", LinePatterns.AnyCase)]
    private static partial Regex SeveralLike();

    [GeneratedRegex(@"(?<!\s)\s*(?:,|&|\+|/|\band\b)\s*", LinePatterns.AnyCase)]
    private static partial Regex NamesOfSeveral();

    /// <summary>Such names, each with what it is played like; empty for any other line.</summary>
    private static IEnumerable<string> EachLike(string line) =>
        line.Length <= LongestNaming && SeveralLike().Match(line) is { Success: true } several
            ? NamesOfSeveral().Split(several.Groups["names"].Value).Select(n => $"{n}: as {several.Groups["like"].Value}")
            : [];

    /// <summary>A text with each of such names in a line of its own, to be changed line by line.</summary>
    internal static string EachNameInItsLine(string text) =>
        text.Split('\n') is var lines && Array.Exists(lines, l => EachLike(LineTidy.Of(l)).Any())
            ? string.Join('\n', lines.SelectMany(l => EachLike(LineTidy.Of(l)) is var each && each.Any() ? each : [l]))
            : text;

    /// <summary>A section that is said not to be there: <c>Intro: none</c>.</summary>
    [GeneratedRegex(@"^[\s\[(*_]*" + HeadingLine.KnownNames + @"\s*[\])]?\s*[:=]\s*(?:none|n/a|nothing|[-–—]{1,3})[\s.\])*_]*$", LinePatterns.AnyCase)]
    private static partial Regex SaysNone();

    /// <summary>The number of a line in front of its chords.</summary>
    [GeneratedRegex(@"^\s*(?<number>[1-9][0-9]?)\s{2,}(?<row>[A-H]\S*.*)$")]
    private static partial Regex LineNumber();

    private const int FewestLineNumbers = 2;

    /// <summary>Takes away numbers in front of rows of chords that count lines, from 1 on without a gap and with no blank line
    /// between them.</summary>
    private void FindLineNumbers(List<(string Text, int Number)> lines)
    {
        var found = new List<(int At, int RowAt)>();
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= LongestRemarked } line
                && LineNumber().Match(line) is { Success: true } match && match.Groups["number"].Value == $"{found.Count + 1}" && IsChordLine(match.Groups["row"].Value)
                && (found.Count == 0 || !lines[found[^1].At..i].Exists(l => l.Text.Length == 0)))
                found.Add((i, match.Groups["row"].Index));
        if (found.Count < FewestLineNumbers) return;
        foreach (var (at, row) in found) lines[at] = (new string(' ', row) + lines[at].Text[row..], lines[at].Number);
    }

    /// <summary>A count in front of how a row ends: <c>Em . . . x4 fade</c>.</summary>
    [GeneratedRegex(@"^(?<row>[^()]{2,150}?)\s+(?<count>[x×]\s?[1-9][0-9]?|[1-9][0-9]?\s?[x×])\s+(?<said>(?:and\s|to\s)?(?:fade(?:\sout)?|rit\.?|hold|let\sring|slow(?:er|ing)?))\s*$", LinePatterns.AnyCase)]
    private static partial Regex CountBeforeEnd();

    /// <summary>Writes such signs as the bars mean them, each in its place.</summary>
    private void FindRowSigns(List<(string Text, int Number)> lines)
    {
        for (var i = 0; i < lines.Count; i++)
        {
            var (line, number) = lines[i];
            if (line.Length is 0 or > LongestRemarked) continue;
            // How long it rings.
            if (line.EndsWith("~~", StringComparison.Ordinal)) lines[i] = (line = line.TrimEnd('~', ' '), number);
            if (line.Length == 0) continue;
            if (line[^1] == ')' && RemarkAndCount().Match(line) is { Success: true } both && both.Groups["count"].Value is var times
                && HeadingLine.CountInFront(times) == times.Length)
                lines[i] = ($"{both.Groups["indent"].Value}({times}, {both.Groups["said"].Value})", number);
            else if (line.AsSpan().TrimStart() is ['{', ..] && LabelledChorus().Match(line) is { Success: true } chorus)
                lines[i] = (chorus.Groups["label"].Value is var label && HeadingLine.IsKnown(label) ? label : $"Chorus ({label})", number);
            else if (SaysNone().IsMatch(line)) lines[i] = ("", number);
            else if (CountBeforeEnd().Match(line) is { Success: true } ends && IsRow(ends.Groups["row"].Value))
                lines[i] = ($"{ends.Groups["row"].Value} ({ends.Groups["said"].Value}) {ends.Groups["count"].Value}", number);
            else if (line.AsSpan().Count('|') > 1 && !line.AsSpan().ContainsAnyExcept(" |"))
            {
                // The head of a table without words, and the rule below it.
                lines[i] = ("", number);
                if (i + 1 < lines.Count && IsRuleOfTable(lines[i + 1].Text)) lines[i + 1] = ("", lines[i + 1].Number);
            }
            else if (EachLike(line).ToList() is [var one, .. var more])
            {
                lines[i] = (one, number);
                lines.InsertRange(i + 1, more.Select(n => (n, number)));
            }
            else if (line.Contains('|') && NameAndStroke().Match(line) is { Success: true } parted
                && HeadingLine.IsKnown(parted.Groups["name"].Value))
                lines[i] = (With(line, parted.Groups["stroke"].Index, ' '), number);
            else if (line[^1] == ']' && NameWithStrokes().Match(line) is { Success: true } strokes)
                lines[i] = (Heading(strokes), number);
            else if (line.AsSpan().TrimStart() is ['|', ..] && NameBetweenBarLines().Match(line) is { Success: true } alone
                && alone.Groups["name"].Value is var name && (HeadingLine.IsKnown(name) || HeadingLine.IsInShort($"({name})")))
                lines[i] = (alone.Groups["again"].Length > 0 ? $"{name} x2" : name, number);
            else if (line[^1] == ')' && RowAndBracket().Match(line) is { Success: true } remarked
                && remarked.Groups["inside"].Value is var inside && HeadingLine.CountInFront(inside) is > 0 and var count
                && count < inside.Length && inside[count] is ',' or ';' && IsRow(remarked.Groups["row"].Value))
                lines[i] = (remarked.Groups["row"].Value is var counted && counted.Contains('|')
                    ? $"{counted} {inside[..count]}"
                    : $"{counted} ({inside[(count + 1)..].Trim()}) {inside[..count]}", number);
            if (line.AsSpan().ContainsAny("]}⎤⎥⎦⎫⎬⎭") && ClosedByItself().Match(line) is { Success: true } closed
                && HeadingLine.CountInFront(closed.Groups["count"].Value) == closed.Groups["count"].Length
                && IsRow(line[..closed.Groups["sign"].Index].TrimEnd())
                // One that spans several rows stands behind each of them.
                && !(i > 0 && lines[i - 1].Text is [.., ']' or '}' or '⎤' or '⎥' or '⎫' or '⎬']))
                lines[i] = (With(line, closed.Groups["sign"].Index, ' '), number);
            else if (line[^1] is '-' or '–' or '—' && IsHeldPhrase(line))
                lines[i] = (With(line, line.Length - 1, '%'), number);
        }

        bool IsRow(string text) =>
            text.Contains('|') || IsChordLine(text) || HeadingLine.WithBars(text, IsChord, IsChordLine) is not null;

        static string With(string line, int at, char sign) => $"{line[..at]}{sign}{line[(at + 1)..]}";
    }

    /// <summary>True for chords, one a bar, of which the last one is held for a bar more, so that all are phrases of four: F C G
    /// -.</summary>
    private bool IsHeldPhrase(string line)
    {
        if (line.Contains('|') || line.Contains('[')) return false;
        var rest = HeadingLine.WithBars(line, IsChord, IsChordLine) is { } named
            ? line[named.RestAt..].TrimStart('.', ' ')
            : line;
        var bars = Array.FindAll(rest.Split(' ', StringSplitOptions.RemoveEmptyEntries), b => b != "/");
        return bars.Length >= Phrase && bars.Length % Phrase == 0 && bars[..^1].All(IsChord) && bars[^1].Length == 1;
    }
}
