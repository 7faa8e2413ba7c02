using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Names of sections that only the lines around them tell: letters, names that stand above already, names in one
/// bracket with their chords.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>Tells lines that head a section of a chart whose sections have these names.</summary>
    internal static Func<string, bool> HeadingsAmong(IEnumerable<string> names)
    {
        var run = new ChartTextRun();
        run._names.UnionWith(names);
        run._lettersAreNames = run._names.Any(LetterAlone().IsMatch);
        return line => IsHeading(line) || run.ByNameAbove(LineTidy.Of(line).TrimEnd()) is not null;
    }

    /// <summary>A section whose name stands above already: named once more, or said to be like it.</summary>
    /// <returns>Its name, how often it is played, and which one it follows; null for any other line.</returns>
    private (string Name, int Times, string? Like)? ByNameAbove(string line)
    {
        if (_names.Count == 0 || line.Length > LongestNaming || line.Contains('|')) return null;
        if (NameAndName().Match(line) is { Success: true } two && HeadingLine.Counted(two.Groups["like"].Value) is var (second, count)
            && _names.TryGetValue(second, out var played) && !played.Equals(two.Groups["name"].Value, StringComparison.OrdinalIgnoreCase))
            return (two.Groups["name"].Value, count, played);
        if (line.AsSpan().TrimStart() is ['[', ..] && HeadingLine.Counted(line) is var (alone, often)
            && BracketAlone().Match(alone) is { Success: true } bracket)
            return _names.TryGetValue(bracket.Groups["name"].Value, out var letter) && IsChord(letter)
                ? (letter, often, null)
                : null;
        if (line.Contains('[')) return null;
        if (SameNames(line) is var (repeated, howOften)) return (repeated, howOften, null);
        if (PartAgain(line) is { } lettered) return (lettered, HeadingLine.Counted(line).Times, null);
        if (SaysLike(line) && HeadingLine.LikeNamed(line) is var (wanted, like))
            return HeadingLine.Counted(like) is var (asked, plays) && Above(asked) is { } above ? (wanted, plays, above) : null;
        if (_lettersAreNames && line.AsSpan().Trim() is ['(', _, ')']) line = line.Trim()[1..^1];
        if (!_names.Any(n => line.AsSpan().TrimStart().StartsWith(n, StringComparison.OrdinalIgnoreCase))) return null;
        var said = RemarkAtEnd().Match(line);
        var (name, times) = HeadingLine.Counted((said.Success ? line[..said.Index] : line).Trim().TrimEnd('.', ':').TrimEnd());
        if (!_names.TryGetValue(name, out var known) && !_names.TryGetValue(name.TrimEnd('.', ':'), out known)) return null;
        // A longer one may be a word of the song; chords are chords but where letters name the sections.
        var isName = known.Length <= LongestShort || known.Equals(name, StringComparison.Ordinal);
        if (!isName || IsChord(known) && !(LetterAlone().IsMatch(known) && (_lettersAreNames || times > 1))) return null;
        return said.Success ? ($"{known} ({said.Groups["remark"].Value.Trim()})", times, known) : (known, times, null);
    }

    /// <summary>The letter of a part alone in its line, and how often: <c>A x2</c>, <c>B again</c>.</summary>
    [GeneratedRegex(@"^\s*(?<letter>[A-H])(?:\s+(?:[x×]\s?[1-9]|[1-9]\s?[x×]|twice|again|(?:till|until|to|and)\s(?:the\s)?(?:fade|end)))?\s*$")]
    private static partial Regex LetterAgain();

    /// <summary>A name that stands above already, two or more times in a line and nothing else: <c>ch. ch.</c>; null for any
    /// other line.</summary>
    private (string Name, int Times)? SameNames(string line)
    {
        var words = line.Split([' ', ',', '/', '+', '&'], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length is < 2 or > MostSameNames || words[0].TrimEnd('.') is not { Length: > 1 } word || IsChord(word)
            || !Array.TrueForAll(words, w => w.TrimEnd('.').Equals(word, StringComparison.OrdinalIgnoreCase)))
            return null;
        return _names.TryGetValue(word, out var exact) ? (exact, words.Length)
            : HeadingLine.IsKnown(word) && Above(word) is { } kind ? (kind, words.Length) : null;
    }

    private const int MostSameNames = 6;

    /// <summary>The part above that such a line means, called by the letter and the word for it, A section; null where there is
    /// none.</summary>
    private string? PartAgain(string line) =>
        LetterAgain().Match(line) is { Success: true } match && match.Groups["letter"].Value is var letter
            ? _names.FirstOrDefault(n => HeadingLine.BesideALetter.Any(w =>
                n.Equals($"{letter} {w}", StringComparison.OrdinalIgnoreCase)
                    || n.Equals($"{w} {letter}", StringComparison.OrdinalIgnoreCase)))
            : null;

    /// <summary>A name and, apart from it, the name of the one that is played there: <c>Solo  Riff x4</c>.</summary>
    [GeneratedRegex(@"^\s*(?<name>" + HeadingLine.KnownNames + @")(?:(?:\s{2,}|\s*[:–—-]\s+)(?<like>\p{L}[\p{L}0-9 ]{0,30})|\s*\[(?<like>\p{L}[\p{L}0-9 ]{0,30})\])\s*$", LinePatterns.AnyCase)]
    private static partial Regex NameAndName();

    /// <summary>What is remarked in brackets at the end; a count is none.</summary>
    [GeneratedRegex(@"(?<=\S)\s+\((?!\s*[x×0-9])(?=[^()\[\]|]*?\p{L}{2})(?<remark>(?>[^()\[\]|]+))\)\s*$")]
    private static partial Regex RemarkAtEnd();

    /// <summary>One word with a capital letter that does not say how something is played.</summary>
    [GeneratedRegex(@"^\s*(?!\p{L}+ly\s*$|(?i:repeat|twice|again|together|loud(?:er)?|soft(?:er)?|quiet(?:er)?|slow(?:er)?|fast(?:er)?|pause|stop|hold|rit|ritardando|crescendo|tacet|fade)\s*$)\p{Lu}\p{L}{2,15}\s*$")]
    private static partial Regex OneWord();

    /// <summary>A letter that is no chord for its stroke: A'.</summary>
    [GeneratedRegex(@"^\s*[A-H]['′’]{1,2}\s*$")]
    private static partial Regex PrimedLetter();

    /// <summary>True for one word alone, with a capital letter and apart from what is above, on top of bars that nothing is sung
    /// to: it names them, whatever it is.</summary>
    private bool IsWordAboveBars(List<(string Text, int Number)> lines, int at) =>
        at > 0 && lines[at - 1].Text.Length == 0 && (_sections.Count > 0 || _header.Title.Length > 0)
            && (OneWord().IsMatch(lines[at].Text) || PrimedLetter().IsMatch(lines[at].Text)) && at + 1 < lines.Count
            && lines[at + 1].Text is { Length: > 0 and <= ChartLimits.LongestLine } below
            && (below.AsSpan().TrimStart() is ['|', ..]
                || !below.Contains('[') && IsChordLine(below) && ChordsOf(below).Count > 1
                    && !(at + 2 < lines.Count && lines[at + 2].Text is { Length: > 0 and <= ChartLimits.LongestLine } sung
                        && IsLyrics(sung)));

    private OpenSection? _namesStandBehind;   // a section whose name stands behind its bars

    /// <summary>A row whose name stands behind it in brackets, <c>Am G F E (verse)</c>, where no name stands above it: the row,
    /// its name and how often it is played; null for any other line.</summary>
    private (string Row, string Name, int Times)? NamedBehind(string line)
    {
        if (_section is not null and not { Name: Unnamed } && _section != _namesStandBehind || line.Length > LongestRemarked)
            return null;
        if (line.LastIndexOf('|') is > 0 and var bar && HeadingLine.CountInFront(line[(bar + 1)..]) is var played
            && line[(bar + 1 + played)..] is { Length: > 2 } behind && HeadingLine.Counted(behind.Trim()) is var (called, plays)
            && HeadingLine.IsKnown(called))
            return (line[..(bar + 1 + played)], called.Trim('(', ')', '[', ']', ' ', ':', '-', '–', '<'), plays);
        if (NameBehindDashes().Match(line) is { Success: true } dashed && IsChordLine(dashed.Groups["row"].Value.Replace('|', ' ')))
            return (dashed.Groups["row"].Value, dashed.Groups["name"].Value, 1);
        if (!line.Contains(')')) return null;
        // The count of the row may stand behind its name.
        var count = HeadingLine.CountAt(line) is { At: > 0 and var at } && line[..at].TrimEnd().EndsWith(')') ? line[at..] : "";
        var end = line.Length - count.Length;
        if (RemarkAtEnd().Match(line[..end]) is not { Success: true } said
            || HeadingLine.Counted(said.Groups["remark"].Value.Trim()) is var (named, times)
                && named.TrimEnd(',', ';', ' ') is var name && !HeadingLine.IsKnown(name))
            return null;
        var row = line[..said.Index];
        return IsChordLine(row) || IsChordLine(row.Split('|', 2)[0]) || row.AsSpan().TrimStart() is ['|', ..]
            ? (row + count, name, times)
            : null;
    }

    [GeneratedRegex(@"^(?<row>[^\[\]()]{3,120}?)\s+(?:--+|—|//)\s*(?<name>" + HeadingLine.KnownNames + @")\s*$", LinePatterns.AnyCase)]
    private static partial Regex NameBehindDashes();

    /// <summary>False for nearly all lines, without a pattern.</summary>
    private static bool SaysLike(string line) =>
        line.Contains("as ", StringComparison.OrdinalIgnoreCase) || line.Contains("over ", StringComparison.OrdinalIgnoreCase)
            || line.Contains("like ", StringComparison.OrdinalIgnoreCase) || line.Contains("wie ", StringComparison.OrdinalIgnoreCase)
            || line.Contains("rpt", StringComparison.OrdinalIgnoreCase) || line.Contains("repeat", StringComparison.OrdinalIgnoreCase)
            || line.Contains("chords ", StringComparison.OrdinalIgnoreCase) || line.Contains("com", StringComparison.OrdinalIgnoreCase) || line.Contains(" = ", StringComparison.Ordinal);

    [GeneratedRegex(@"^\s*\[\s*(?<name>[^\s\[\]|]{1,12})\s*\]\s*$")]
    private static partial Regex BracketAlone();

    private const int LongestNaming = 80;
    private const int LongestShort = 4;

    [GeneratedRegex(@"^[A-H][0-9]?$")]
    private static partial Regex LetterAlone();

    [GeneratedRegex(@"^\s*\[\s*\p{L}[\p{L}\p{N} .'’/&+-]*(?::|\s[–—-])\s(?<rest>[^\[\]|]+)\][^\[\]|]*$")]
    private static partial Regex NameAndChords();

    /// <summary>Chords in square brackets with nothing but bar lines and held beats between them, of which there is one:
    /// <c>[Am] . . [G] . . |</c>.</summary>
    [GeneratedRegex(@"^(?=[^\[]{0,40}\[[^|]*?\]\s{1,8}[./]\s)[\s|:./%-]*(?:\[[^\[\]|\s]{1,20}\][\s|:./%-]*)+$")]
    private static partial Regex AreBracketsAndBeats();

    /// <summary>The line without the brackets around a name and its chords, <c>[Intro: G D]</c>, as long as it was.</summary>
    private string WithoutBrackets(string line)
    {
        if (AreBracketsAndBeats().IsMatch(line) && InSquares().Matches(line).All(m => IsChord(m.Groups["inside"].Value)))
            return line.Replace('[', ' ').Replace(']', ' ');
        if (line.TrimStart() is not ['[', ..] || NameAndChords().Match(line) is not { Success: true } match
            || !IsChordLine(match.Groups["rest"].Value))
            return line;
        return line.Replace('[', ' ').Replace(']', ' ');
    }
}
