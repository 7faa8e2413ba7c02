using System.Text.RegularExpressions;

namespace Tembri.Core.Charts;

/// <summary>How the patterns for lines of a chart are made.</summary>
/// <remarks>They are made when Tembri is built. An engine that never goes back would be safe with any pattern, but each pattern
/// costs it up to 3 MB and 50 ms the first time. So, but for a few, no two runs of a pattern that could share a character stand
/// side by side: then the longest line is looked at a few times, whatever stands in it
/// (<c>Tests/Charts/LinePatternTests</c>).</remarks>
internal static partial class LinePatterns
{
    /// <summary>Capitals count as small letters, in any country.</summary>
    public const RegexOptions AnyCase = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    /// <summary>Three small letters together, which stand in words and hardly in a chord.</summary>
    [GeneratedRegex(@"\p{Ll}{3}")]
    public static partial Regex SmallLetters();

    [GeneratedRegex(@"\S+")]
    private static partial Regex Words();

    /// <summary>The words of a text with where they begin.</summary>
    public static IReadOnlyList<(string Text, int Offset)> WordsOf(string text) =>
        [.. Words().Matches(text).Select(m => (m.Value, m.Index))];
}
