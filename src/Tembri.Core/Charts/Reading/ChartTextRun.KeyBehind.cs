using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>The key behind numbers or numerals: <c>I - V - vi - IV in G</c>.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"\s\(?(?:in\s)?(?:(?:the\s)?key\s(?:of\s)?|(?<=in\s))(?<key>[A-H](?:[#b♯♭]|\s(?:flat|sharp))?(?:\s?(?:minor|major|m))?)\)?[\s.]*$",
        RegexOptions.CultureInvariant)]
    private static partial Regex KeyBehind();

    private Key? _keyBehind;

    /// <summary>Where the key stands behind a row of numbers or numerals; null in any other line.</summary>
    internal static (int At, int Length)? KeyBehindIn(string line) =>
        line.Length <= LongestOnward && KeyBehind().Match(line) is { Success: true } match
            && new DegreesSeen().Take(line[..match.Index], 1)
                ? (match.Groups["key"].Index, match.Groups["key"].Length)
                : null;

    /// <summary>Takes the key that stands behind rows of numbers or numerals, and leaves those alone in their lines; a row in
    /// another key than the song's stays as it is.</summary>
    private void TakeKeysBehind(List<(string Text, int Number)> lines)
    {
        for (var i = 0; i < lines.Count; i++)
        {
            var (text, number) = lines[i];
            if (KeyBehindIn(text) is not var (at, length) || KeyIn(text, (at, length)) is not { } key) continue;
            _keyBehind ??= lines.Select(l => KeyIn(l.Text, ChartHeader.KeyIn(l.Text))).FirstOrDefault(k => k is not null) ?? key;
            if (_keyBehind == key) lines[i] = (KeyBehind().Replace(text, ""), number);
        }
    }

    private static Key? KeyIn(string line, (int At, int Length)? place) =>
        place is var (at, length) && line.Length <= ChartLimits.LongestLine
            && Key.TryParse(line.Substring(at, length).Replace(" flat", "b", StringComparison.Ordinal)
                .Replace(" sharp", "#", StringComparison.Ordinal), out var key)
                ? key
                : null;
}
