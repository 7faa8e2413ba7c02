using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Sections that are said to be the same as another: behind remarks or marks, by a number alone, in another
/// language.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"^(?<name>[^|]{1,60}?)(?:\s?:)?(?:\s{0,3}[–—-])?\s{1,3}(?<same>\(?(?:(?:the\s)?same\b|(?:chords\s)?as\s|repeat\s|like\s)[^()|]{0,40}\)?)$", LinePatterns.AnyCase)]
    private static partial Regex NameAndSame();

    /// <summary>A name in square brackets and, behind it, what it is the same as: [V2] same as V1.</summary>
    [GeneratedRegex(@"^\s*(?<square>\[(?<name>[^\[\]|]{1,40})\])\s{0,3}[–—:=-]?\s{0,3}(?:(?:the\s)?same\s(?:chords\s)?as|as|like|=)\s(?<like>[^\[\]|]{1,40})$", LinePatterns.AnyCase)]
    private static partial Regex BracketedSame();

    /// <summary>The letter of a part, such as A or B2.</summary>
    [GeneratedRegex("^[A-H][1-9]?$")]
    private static partial Regex LetterOfPart();

    /// <summary>True for a name in square brackets that is said to be the same as another. Words behind a chord may begin so as
    /// well: <c>[Em]Like a river</c>.</summary>
    private static bool IsBracketedSame(string line) =>
        BracketedSame().Match(line) is { Success: true } said
            && (said.Groups["name"].Value, said.Groups["like"].Value.Trim()) is var (name, like)
            && (LikeAChord().IsMatch(name)
                ? LetterOfPart().IsMatch(name) && LetterOfPart().IsMatch(like)
                : HeadingLine.IsKnown(name) || HeadingLine.IsInShort(said.Groups["square"].Value) || HeadingLine.IsKnown(like));

    [GeneratedRegex(@"(?<=\bas\s)(?:the\s)?(?:(?<number>[1-9])(?:st|nd|rd|th)?|(?<one>first)|(?<two>second)|(?<three>third))(?=\)?$)", LinePatterns.AnyCase)]
    private static partial Regex NumberBehindAs();

    /// <summary>A name that is said to be the same as another behind a remark or marks of its own, <c>Verse 2 (softly) (same as
    /// 1)</c>: what it is the same as becomes a line of its own.</summary>
    private static void SetSameApart(List<(string Text, int Number)> lines)
    {
        for (var (i, looked) = (0, 0); i < lines.Count && looked < ChartLimits.MostSections; i++)
        {
            var (line, number) = lines[i];
            if (line.Length is > 0 and <= LongestRemarked && line.AsSpan().TrimStart() is ['[', ..]
                && IsBracketedSame(line)
                && HeadingLine.Alone(line, _ => false, beforeBars: false) is null)
                lines[i] = (line = line.Replace('[', ' ').Replace(']', ':'), number);
            if (line.Length is 0 or > LongestRemarked || NameAndSame().Match(line) is not { Success: true } match) continue;
            looked++;
            var (name, said) = (match.Groups["name"].Value, match.Groups["same"].Value);
            // What is read as one line already stays one.
            if (HeadingLine.Alone(line, _ => false, beforeBars: false) is { } whole
                && !whole.Name.Contains(said.Trim('(', ')'), StringComparison.Ordinal))
                continue;
            var heading = HeadingLine.Alone(name, _ => false, beforeBars: false) ?? HeadingLine.InShortAlone(name, _ => false);
            if (heading is null) continue;
            var same = NumberBehindAs().Replace(said, m => $"{HeadingLine.KindIn(heading.Name)} {NumberIn(m)}");
            if (HeadingLine.SameAs(same, "") is null) continue;
            lines.Insert(i + 1, (same, number));
            lines[i] = (name, number);
        }
    }

    private static string NumberIn(Match said) =>
        said.Groups["one"].Success ? "1"
            : said.Groups["two"].Success ? "2"
            : said.Groups["three"].Success ? "3"
            : said.Groups["number"].Value;

    /// <summary>The only section above that is the same in English: verse 1 for Strophe 1 or 1st verse.</summary>
    private string? InEnglish(string name) =>
        HeadingLine.IsKnown(name) && HeadingLine.InEnglish(name) is { } asked
            && _sections.Where(o => o != _section && !o.IsEmpty && HeadingLine.InEnglish(o.Name) == asked).Take(2).ToList()
                is [var only]
                ? only.Name
                : null;
}
