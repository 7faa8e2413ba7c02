using System.Buffers;
using System.Globalization;
using System.Text;

namespace Tembri.Core.Charts;

/// <summary>Keeps text to what can be stored and written in every format.</summary>
/// <remarks>XML 1.0 (W3C, 2008, §2.2) has no control characters but tab and line ends, no lone surrogates, no U+FFFE and U+FFFF;
/// PostgreSQL has no NUL.</remarks>
public static class PlainText
{
    private static readonly SearchValues<char> Suspects = SearchValues.Create([.. Enumerable.Range(0, 32).Except([9, 10, 13])
        .Append(0x7F).Concat([0xFFFE, 0xFFFF]).Concat(Enumerable.Range(0xD800, 0x800)).Select(c => (char)c)]);

    /// <summary>The text without characters that cannot be stored or written as XML.</summary>
    public static string Clean(string text)
    {
        if (!text.AsSpan().ContainsAny(Suspects)) return text;
        var clean = new StringBuilder(text.Length);
        for (var i = 0; i < text.Length; i++)
        {
            if (!Suspects.Contains(text[i])) clean.Append(text[i]);
            else if (char.IsHighSurrogate(text[i]) && i + 1 < text.Length && char.IsLowSurrogate(text[i + 1]))
                clean.Append(text[i]).Append(text[++i]);
        }
        return clean.ToString();
    }

    /// <summary>The text in one line, without characters that cannot be stored.</summary>
    public static string OneLine(string text) =>
        Clean(text).ReplaceLineEndings(" ").Replace('\t', ' ').Replace('\v', ' ').Trim();

    /// <summary>The beginning of a text, never cut inside a character that a reader sees as one.</summary>
    /// <param name="text">The text.</param>
    /// <param name="longest">Most UTF-16 units that may stay, 0 or more.</param>
    public static string Cut(string text, int longest)
    {
        if (text.Length <= longest) return text;
        var end = 0;
        while (end < text.Length && StringInfo.GetNextTextElementLength(text, end) is var length && end + length <= longest)
            end += length;
        return text[..end];
    }
}
