using System.Buffers;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Names in short: the first letters of a kind, letters and numbers of parts.</content>
internal sealed partial record HeadingLine
{
    /// <summary>The first letters of a kind, which name a section above its chords: Pre, Ch, Instr.</summary>
    [GeneratedRegex(@"^[\s(\[*_#=~–—-]*(?<name>(?:v|int|vs|pre|pc|ch|cho|chor|ref|br|brg|instr?|inter|out(?=\s*[:(\])]))(?:\s?[0-9])?)\.?(?:\s*"
            + Count + @")?(?:\s*\((?<remark>[^()|\[\]]{1,60})\)|\s+[-–—]\s+(?<remark>\p{Ll}{3}[^()|\[\]]{0,60}))?[\s.:)\]}>*_#=~–—-]*$",
        LinePatterns.AnyCase)]
    private static partial Regex InShort();

    /// <summary>True for the first letters of a kind alone in a line, which may name a section.</summary>
    public static bool IsInShort(string line) =>
        line.Length <= LongestInShort && InShort().IsMatch(line)
            && line.AsSpan().Trim() is [>= 'A' and <= 'Z' or '[' or '(', ..];

    private const int LongestInShort = 80;

    /// <summary>The first letters of a kind alone in a line, with a capital letter or in brackets; null for any other
    /// line.</summary>
    /// <param name="line">The line.</param>
    /// <param name="isChord">Tells a chord from a name.</param>
    public static HeadingLine? InShortAlone(string line, Func<string, bool> isChord) =>
        IsInShort(line) && !isChord(line.Trim()) ? InShortBeside(InShort().Match(line), line.Length, isChord) : null;

    /// <summary>A name in short as a heading, what stands behind it in brackets with it; null where that is chords.</summary>
    private static HeadingLine? InShortBeside(Match brief, int length, Func<string, bool> isChord)
    {
        var made = Made(brief, length);
        if (brief.Groups["remark"] is not { Success: true } behind) return made;
        var (remark, often) = Counted(behind.Value.Trim());
        if (remark.Length == 0) return made with { Times = Math.Max(made.Times, often) };
        return remark.Split(' ', StringSplitOptions.RemoveEmptyEntries).All(isChord)
            ? null
            : made with { Name = $"{made.Name} ({remark})", Times = Math.Max(made.Times, often) };
    }

    /// <summary>A name as somebody says it who tells how a song goes, above its chords: Verse goes, then the chorus is, after
    /// that there's a little bridge.</summary>
    [GeneratedRegex(@"^(?>[\s(*_-]*)(?:[^|\[\]{}:]{0,40}?\b(?:there's|there\sis|comes|here's|here\sis|followed\sby)\s(?:an?|the)\s(?:(?:little|short|quick|small|long|simple)\s)?(?<name>" + KnownNames
            + @")|(?:(?:and|so|then|now|next|the)\s){0,4}(?<name>" + KnownNames + @")\s(?:goes|is|are|chords\sare|starts|begins)(?:\s(?:just|with|this|like\sthis|as\sfollows))?|(?:(?:and|then|now|next)\s){1,3}(?:the\s|a\s)?(?<name>"
            + KnownNames + @"))[\s.:…,)*_-]*$", LinePatterns.AnyCase)]
    private static partial Regex Told();

    private static readonly SearchValues<string> TellsAName = SearchValues.Create(
        ["there", "here", "comes", "followed", "goes", " is", " are", "starts", "begins", "and ", "then ", "now ", "next "],
        StringComparison.OrdinalIgnoreCase);

    /// <summary>The word for the end, which above bars is the name of a section.</summary>
    [GeneratedRegex(@"^(?:\s*\{\s{0,2}c(?:omment)?\s{0,2}:)?" + Ornament + @"end[\])}>»*_=~#+-]{0,8}[.:]?" + Ornament + "$", LinePatterns.AnyCase)]
    private static partial Regex EndAlone();

    /// <summary>True for the word for the end alone, which above bars names a section.</summary>
    public static bool IsEndName(string line) => line.Length <= LongestInShort && EndAlone().IsMatch(line);

    [GeneratedRegex(@"^[\s*_#=(-]*(?<name>[A-H]['′’]{0,2}(?:\s+(?:section|part)|-(?:section|part))|(?:section|part)\s+(?:[A-H]['′’]{0,2}|[0-9]{1,2}|[ivx]{1,4}|one|two|three|four)|(?:last|final|first|second|third)\s[A-H]|vs?\.?\s?[0-9]{1,2}|ch\s?[0-9]{1,2})(?:\s*"
            + Count + @")?(?:\s*\((?<remark>[^()|\[\]]{1,60})\))?[\s:.*_=)-]*$",
        LinePatterns.AnyCase)]
    private static partial Regex LetteredSection();

    /// <summary>A lettered part with what only says when it comes: B section first, then the A section.</summary>
    [GeneratedRegex(@"^(?:(?:first|then|next|and)\s+(?:the\s+)?(?<name>[A-H]['′’]{0,2}\s(?:section|part))|(?<name>[A-H]['′’]{0,2}\s(?:section|part))\s+(?:first|next|again))$", LinePatterns.AnyCase)]
    private static partial Regex LetteredInOrder();

    /// <summary>The name of a lettered part without such words; any other name as it is.</summary>
    public static string WithoutOrder(string name) =>
        name.Length <= LongestInShort && LetteredInOrder().Match(name) is { Success: true } match ? match.Groups["name"].Value : name;

    /// <summary>What stands beside a letter that names a section, A section or part B.</summary>
    internal static readonly string[] BesideALetter = ["section", "part"];

    /// <summary>True for a name that begins with the letter of a chord and is none: A section anywhere, A, A2 or A riff above
    /// bars.</summary>
    private static bool IsLetter(string name, Func<string, bool> isChord, bool beforeBars)
    {
        var words = name.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words is not [{ Length: 1 } or [_, >= '1' and <= '4'], .. var more] || more.Any(isChord)) return false;
        return beforeBars || more is [var word] && BesideALetter.Contains(word, StringComparer.OrdinalIgnoreCase);
    }
}
