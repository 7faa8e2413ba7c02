using System.Buffers;
using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Marks that people put around names and bars, and those of the source of a page.</content>
internal static partial class LineTidy
{
    /// <summary>A mark of the source of a page; single letters only as small ones, since &lt;A&gt; is a chord.</summary>
    [GeneratedRegex(@"</?(?:(?i:br|code|div|em|font|pre|span|strong|table|tbody|td|th|tr|tt|h[1-6]|li|ul|ol|hr|blockquote)(?:\s[^<>]{0,200})?|[aipu](?:\s[^<>]{0,200})?|b)\s?/?>", RegexOptions.CultureInvariant)]
    private static partial Regex MarkOfPage();

    [GeneratedRegex(@"^\s*" + HeadingLine.KnownNames + @"(?!\p{L})", LinePatterns.AnyCase)]
    private static partial Regex NameFirst();

    /// <summary>A remark that names a section, with more behind it in its line.</summary>
    [GeneratedRegex(@"^(?<before>\s*\{\s{0,2}c(?:omment)?\s{0,2}:)(?<said>[^{}]{1,60})\}(?=\s+\S)", LinePatterns.AnyCase)]
    private static partial Regex RemarkAndMore();

    private static string WithoutRemarkMarks(Match remark) => NameFirst().IsMatch(remark.Groups["said"].Value)
        ? $"{new string(' ', remark.Groups["before"].Length)}{remark.Groups["said"].Value} "
        : remark.Value;

    /// <summary>Marks around the name of a section that has more behind it in its line.</summary>
    [GeneratedRegex(@"^(?<before>\s*(?:[-–—=*#_~<>«»‹›+(]{1,6}\s*|\{\s{0,2}c(?:omment)?\s{0,2}:\s{0,2})?)(?<name>(?:" + HeadingLine.KnownNames + @"|end|v[1-9])\s{0,2}:?)(?<behind>\s{0,2}[-–—=*_~<>«»‹›+)}.]{1,6})?(?=:?\s+(?<next>\S))", LinePatterns.AnyCase)]
    private static partial Regex MarkedName();

    private static readonly SearchValues<char> MarksOfNames = SearchValues.Create("-–—=*#_~<>«»‹›+(){}.");

    private static string WithoutMarks(Match name)
    {
        var (before, behind) = (name.Groups["before"].Value, name.Groups["behind"].Value);
        // A bracket that does not close belongs to what follows; a dash alone parts the name from it.
        if (before.Contains('(') != behind.Contains(')') || before.Contains('{') != behind.Contains('}')) return name.Value;
        var parts = behind.AsSpan().Trim() is "-" or "–" or "—"
            ? name.Groups["next"].ValueSpan is not ("-" or "–" or "—" or "(")
            : behind.AsSpan().Trim() is not ("" or ".");
        return before.AsSpan().IsWhiteSpace() && parts ? name.Value
            : new string(' ', before.Length) + name.Groups["name"].Value + new string(' ', behind.Length)
                + name.Value[(before.Length + name.Groups["name"].Length + behind.Length)..];
    }

    /// <summary>All bars of a line in brackets, with a count behind them: <c>(G | D) x2</c>.</summary>
    [GeneratedRegex(@"^(?<before>[^()|\[\]]{0,40})\((?<bars>[^()]{1,400})\)(?=\s{0,4}(?:[x×]\s?[0-9]|[0-9]{1,2}\s?[x×]|\([x×0-9]))", RegexOptions.CultureInvariant)]
    private static partial Regex BarsInBrackets();

    /// <summary>Strokes that only part a line from its count: <c>G D // x2</c>.</summary>
    [GeneratedRegex(@"(?<=\s)//(?=\s{1,4}\(?(?:[x×]\s?[0-9]|[0-9]{1,2}\s?[x×])\)?\s*$)", RegexOptions.CultureInvariant)]
    private static partial Regex StrokesBeforeCount();

    /// <summary>Colons in place of all bar lines: <c>: G : D :</c>.</summary>
    [GeneratedRegex(@"^\s*:(?:\s{1,8}[A-HN%][^\s:|]{0,11}(?:\s{1,4}[A-H.%][^\s:|]{0,11}){0,7}\s{1,8}:){2,32}\s*(?:\(?(?:[x×]\s?[0-9]{1,2}|[0-9]{1,2}\s?[x×])\)?)?$", RegexOptions.CultureInvariant)]
    private static partial Regex ColonsForLines();

    /// <summary>The name of a section alone between two strokes.</summary>
    [GeneratedRegex(@"^\s*\|\s{0,3}(?:" + HeadingLine.KnownNames + @"|(?:part|section)\s[A-H]|end)(?:\s?\([^()|]{1,40}\))?\s{0,3}\|\s*(?=$|[(:]|(?:same|as|repeat)\s|[-–x×])", LinePatterns.AnyCase)]
    private static partial Regex NameBetweenLines();

    /// <summary>A name between small pictures, such as notes or stars, without them; any other line as it is.</summary>
    private static string WithoutPictures(string line)
    {
        var bare = string.Create(line.Length, line, (into, from) =>
        {
            for (var i = 0; i < from.Length; i++)
                into[i] = char.IsSurrogate(from[i]) || from[i] is >= '\u2190' and not (>= '\u266D' and <= '\u266F')
                    && CharUnicodeInfo.GetUnicodeCategory(from[i]) is UnicodeCategory.OtherSymbol or UnicodeCategory.MathSymbol
                        or UnicodeCategory.NonSpacingMark or UnicodeCategory.Format ? ' ' : from[i];
        });
        return HeadingLine.IsKnown(bare) || HeadingLine.IsEndName(bare) || NameFirst().IsMatch(bare) ? bare : line;
    }
}
