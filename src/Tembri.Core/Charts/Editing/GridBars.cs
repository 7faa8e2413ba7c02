using Tembri.Core.Charts.Reading;

namespace Tembri.Core.Charts.Editing;

/// <summary>Chords between bar lines: <c>| C | F . G . |</c>.</summary>
internal sealed class GridBars : BarWriting
{
    public static readonly GridBars Instance = new();

    public override bool KnowsAsBefore => true;

    public override bool StandsOverWords => true;

    public override bool Holds(ChartLines lines, Section section, BarSpan place, string content) => true;

    /// <summary>Above words as many chords and dots as before stand each where the one before it stood, as far as there is
    /// space.</summary>
    public override void Write(ChartLines lines, BarSpan place, IReadOnlyList<string> bars)
    {
        var now = string.Join(" | ", bars);
        if (!lines.HasWordsBelow(place) || !ChartTextRun.IsSetBelow(lines.LineOf(place), lines[place.Line]))
            lines.Replace(place, now);
        else if ((LinePatterns.WordsOf(lines.Written(place)), now.Split(' ')) is var (old, items) && old.Count == items.Length)
            for (var i = items.Length - 1; i >= 0; i--)
                lines.ReplaceInPlace(place with { Column = place.Column + old[i].Offset, Length = old[i].Text.Length },
                    items[i]);
        else lines.ReplaceInPlace(place, now);
    }

    public override string Appended(string line, string content) => $"{line} {content} |";

    public override (int From, int To)? Extent(string line, BarSpan place, bool isLast) =>
        line.Contains('|') ? WithBarLine(line, place, isLast) : null;

    /// <summary>Other signs than strokes part the bars: strokes from now on.</summary>
    public override void WriteWithBarLines(ChartLines lines, Section section, BarSpan place)
    {
        var places = ChartLines.InLine(section, place);
        var (name, count) = Around(lines, lines.LineOf(place), places);
        lines.SetLineOf(place, $"{name}| {string.Join(" | ", places.Select(p => p.Content))} |{(count.Length > 0 ? " " : "")}{count}");
    }
}
