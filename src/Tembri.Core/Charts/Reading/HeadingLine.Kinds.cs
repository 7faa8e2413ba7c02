using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>What kind of section a name means, in English, whatever language it is in.</content>
internal sealed partial record HeadingLine
{
    /// <summary>The word for its kind in a name; verse where there is none.</summary>
    public static string KindIn(string name) => Kind().Match(name) is { Success: true } kind ? kind.Value : "verse";

    [GeneratedRegex(@"(?<number>[1-9])(?:st|nd|rd|th)?(?![0-9])|\b(?<first>first)\b|\b(?<second>second)\b|\b(?<third>third)\b", LinePatterns.AnyCase)]
    private static partial Regex WhichOne();

    /// <summary>The kind of a name in English and its number, 0 for none, however both are written: Strophe 2, 2nd verse; null
    /// for any other name.</summary>
    public static (string Kind, int Number)? InEnglish(string name)
    {
        if (Kind().Match(name) is not { Success: true } found) return null;
        var kind = Letters(found.ValueSpan).ToLowerInvariant();
        var which = WhichOne().Match(name);
        var number = which.Groups["number"] is { Success: true } digit ? digit.Value[0] - '0'
            : which.Groups["first"].Success ? 1 : which.Groups["second"].Success ? 2 : which.Groups["third"].Success ? 3 : 0;
        return (SectionNames.InEnglish(kind), number);
    }
}
