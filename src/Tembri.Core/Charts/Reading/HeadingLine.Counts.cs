using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>How often something is played: a count behind a name or a line, in front of it, or among its chords.</content>
internal sealed partial record HeadingLine
{
    [GeneratedRegex(@"(?<!\s)\s*" + Count + @"!?\s*$", LinePatterns.AnyCase)]
    private static partial Regex CountBehind();

    // What a count can end with; most lines end otherwise, and are not looked through.
    private static bool MayCount(string line) => line.AsSpan().TrimEnd([' ', '!']) is
        [.., (>= '0' and <= '9') or 'x' or 'X' or '×' or 's' or 'S' or 'e' or 'E' or ')'];

    /// <summary>A name and the count behind it.</summary>
    public static (string Name, int Times) Counted(string name) =>
        MayCount(name) && CountBehind().Match(name) is { Success: true } match
            ? (name[..match.Index].TrimEnd(' ', ',', ';', ':'), TimesOf(match))
            : (name, 1);

    [GeneratedRegex("^" + Count + @"\s*[,;]\s+", LinePatterns.AnyCase)]
    private static partial Regex CountBeforeRemark();

    /// <summary>A remark and the count it ends or begins with: <c>8 bars, play 2x</c>, <c>play twice, softly</c>.</summary>
    private static (string Remark, int Times) CountedAround(string remark) =>
        CountBeforeRemark().Match(remark) is { Success: true } first
            ? (BesideACount(remark[first.Length..]), TimesOf(first))
            : Counted(remark);

    /// <summary>A remark beside a count of its own: how often another time, <c>last time x4</c>, does not end it.</summary>
    private static string BesideACount(string remark) =>
        Counted(remark) is (var words, > 1 and var another) ? $"x{another} {words}" : remark;

    /// <summary>A count at the end of a line: how often, and where it begins; null when there is none.</summary>
    public static (int Times, int At, int NumberAt)? CountAt(string line) =>
        MayCount(line) && CountBehind().Match(line) is { Success: true } match
            ? (TimesOf(match), match.Index, match.Groups["times"] is { Success: true } n ? n.Index : match.Groups["words"].Index)
            : line.AsSpan().TrimEnd() is [.., 't' or 'd' or ')' or '.' or 'e' or 'l' or 'T'] && line.Contains("repeat", StringComparison.OrdinalIgnoreCase)
                && RepeatBehind().Match(line) is { Success: true } again ? (2, again.Index, again.Index)
            : null;

    /// <summary>What asks for a line once more.</summary>
    [GeneratedRegex(@"(?<![\s,;])\s*(?:[,;]\s*)?(?:\(\s*)?repeat(?:ed)?(?:\s+(?:this\s+)?(?:line|all|once))?(?:\s*\))?\.?\s*$", LinePatterns.AnyCase)]
    private static partial Regex RepeatBehind();

    [GeneratedRegex(@"(?<=[\s)])\(?\s{0,3}(?:[x×]\s{0,3}[0-9]{1,2}|[0-9]{1,2}\s{0,3}[x×])\s{0,3}\)?(?=[\s,;]|$)", LinePatterns.AnyCase)]
    private static partial Regex CountAmong();

    /// <summary>The parts of a line of which each but the last ends with a count of its own, <c>(G D) x2 (Em C) x2</c>, from
    /// where to where; null for a line without such a count before its end.</summary>
    public static IReadOnlyList<(int From, int To)>? CountedParts(string line)
    {
        if (!line.AsSpan().ContainsAny('x', 'X', '×')) return null;
        var parts = new List<(int From, int To)>();
        foreach (var count in CountAmong().EnumerateMatches(line))
            parts.Add((parts.Count > 0 ? parts[^1].To : 0, count.Index + count.Length));
        if (parts.Count > 0 && line.AsSpan(parts[^1].To).ContainsAnyExcept(" ,;")) parts.Add((parts[^1].To, line.Length));
        return parts.Count > 1 ? parts : null;
    }

    [GeneratedRegex(@"^[\s(]*(?:all|everything|both\slines|(?:the\s)?whole\s(?:section|verse|thing))\s" + Count + @"[\s).]*$", LinePatterns.AnyCase)]
    private static partial Regex CountOfAll();

    /// <summary>How often a line asks for all above it in its section, <c>(all x2)</c>; 0 for any other line.</summary>
    public static int TimesOfAll(string line) =>
        line.Length <= LongestOfAll && CountOfAll().Match(line) is { Success: true } match ? TimesOf(match) : 0;

    private const int LongestOfAll = 40;

    [GeneratedRegex(@"^\s*\(?" + Count + @"\s*[,;]\s+(?<said>[^()|\[\]]{3,60}?)[\s).]*$", LinePatterns.AnyCase)]
    private static partial Regex CountAndRemark();

    /// <summary>A count with a remark behind it and nothing else in its line, <c>(repeat 5 times, last bar E7)</c>; null for any
    /// other line.</summary>
    public static (int Times, string Said)? CountedWith(string line) =>
        line.Length <= LongestInShort && line.AsSpan().ContainsAnyInRange('0', '9')
            && CountAndRemark().Match(line) is { Success: true } match && TimesOf(match) > 1
                ? (TimesOf(match), match.Groups["said"].Value)
                : null;

    [GeneratedRegex(@"^(?:\s*,)?\s*" + Count + @"(?=[\s,;.]|$)", LinePatterns.AnyCase)]
    private static partial Regex CountFirst();

    /// <summary>How long a count is that a text begins with; 0 when there is none.</summary>
    public static int CountInFront(string text) => CountFirst().Match(text).Length;

    private static int TimesOf(Match match) =>
        match.Groups["times"] is { Success: true } n ? int.Parse(n.Value, CultureInfo.InvariantCulture)
        : match.Groups["words"] is { Success: true } words ? words.Value.ToLowerInvariant()[..2] switch { "on" => 1, "th" => 3,
            "fo" => 4, _ => 2 }
        : 1;
}
