namespace Tembri.Core.Charts.Editing;

/// <summary>A chord in square brackets before its words, a bar a chord: <c>[C]out on the [F]sill</c>.</summary>
internal sealed class BracketBars : BarWriting
{
    public static readonly BracketBars Instance = new();

    public override bool Holds(ChartLines lines, Section section, BarSpan place, string content) =>
        IsOneChord(content) && lines.Written(place).StartsWith('[');

    public override void Write(ChartLines lines, BarSpan place, IReadOnlyList<string> bars) =>
        lines.Replace(place, BarEdits.Bracketed().Replace(lines.Written(place), $"[{bars[0]}]", 1));

    public override (int From, int To)? Extent(string line, BarSpan place, bool isLast) =>
        (place.Column - 1, place.Column - 1 + place.Length);

    public override void WriteWithBarLines(ChartLines lines, Section section, BarSpan place)
    {
        var places = ChartLines.InLine(section, place);
        var line = lines.LineOf(place).Replace('\t', ' ');
        var (name, count) = Around(lines, line, places);
        var lead = line[name.Length..(places[0].Column - 1)].Trim();
        lines.SetLineOf(place,
            $"{name}| {(lead.Length > 0 ? lead + " " : "")}{string.Join(" | ", places.Select(p => Squared(line.Substring(p.Column - 1, p.Length).Trim())))} "
                + $"|{count}");
    }

    /// <summary>A chord in round brackets gets square ones.</summary>
    private static string Squared(string written) =>
        written.StartsWith('(') && written.IndexOf(')') is > 0 and var close
            ? $"[{written[1..close]}]{written[(close + 1)..]}"
            : written;
}
