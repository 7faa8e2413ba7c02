namespace Tembri.Core.Charts.Editing;

/// <summary>Chords between bar lines: <c>| C | F . G . |</c>.</summary>
internal sealed class GridBars : BarWriting
{
    public static readonly GridBars Instance = new();

    public override bool KnowsAsBefore => true;

    public override bool Holds(ChartLines lines, Section section, BarSpan place, string content) => true;

    public override void Write(ChartLines lines, BarSpan place, IReadOnlyList<string> bars) =>
        lines.Replace(place, string.Join(" | ", bars));

    public override string Appended(string line, string content) => $"{line} {content} |";

    public override (int From, int To)? Extent(string line, BarSpan place, bool isLast) => WithBarLine(line, place, isLast);
}
