using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Editing;

/// <summary>Chords in square brackets among words, between bar lines: <c>| [C]out on the [F]sill |</c>.</summary>
internal sealed partial class WordBars : BarWriting
{
    public static readonly WordBars Instance = new();

    [GeneratedRegex(@"^\s*(?:[0-9]+/[0-9]+\s+)?(?:\([^()]*\)\s*)*")]
    private static partial Regex BeforeWords();

    /// <summary>Remarks; what stands in brackets close behind a chord is part of it.</summary>
    [GeneratedRegex(@"(?<!\S)\([^()]*\)")]
    private static partial Regex Remarks();

    public override bool Holds(ChartLines lines, Section section, BarSpan place, string content) => true;

    public override void Write(ChartLines lines, BarSpan place, IReadOnlyList<string> bars)
    {
        var written = lines.Written(place);
        lines.Replace(place, string.Join(" | ", bars.Select((bar, i) => WithWords(bar, i == 0 ? written : ""))));
    }

    public override string Appended(string line, string content) => $"{line} {WithWords(content, "")} |";

    public override (int From, int To)? Extent(string line, BarSpan place, bool isLast) => WithBarLine(line, place, isLast);

    /// <summary>A bar's chords with the words of another: each word stays with the chord of its number, the rest with the last
    /// one.</summary>
    private static string WithWords(string content, string written)
    {
        var before = BeforeWords().Match(written).Length;
        var words = BarEdits.Bracketed().Split(written[before..]);
        var head = BeforeWords().Match(content + " ");
        var rest = content[Math.Min(content.Length, head.Length)..];
        var chords = new List<string>();
        foreach (var token in Remarks().Replace(rest, "").Split(' ', StringSplitOptions.RemoveEmptyEntries))
            if (token is "." or "-" or "·" && chords.Count > 0) chords[^1] += " .";
            else chords.Add(token);
        var remarks = string.Concat(Remarks().Matches(rest).Select(m => m.Value + " "));
        var lead = string.Concat(head.Value.Trim() is { Length: > 0 } h ? h + " " : "", remarks, words[0]);
        return (lead + string.Concat(chords.Select((chord, i) =>
            $"[{chord}]"
                + (i == chords.Count - 1 ? string.Concat(words.Skip(i + 1)) : i + 1 < words.Length ? words[i + 1] : ""))))
            .Trim();
    }
}
