using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Editing;

// Sections that follow another one: their bars of their own are known by number.
public static partial class BarEdits
{
    [GeneratedRegex(@"^\s*[0-9]+\s*:")]
    private static partial Regex BarNumber();

    /// <summary>Takes a bar's own version out of a section that follows another one; others of its line stay, each with its
    /// number.</summary>
    private static string FollowAgain(ChartLines lines, Section section, int bar)
    {
        WriteOwnLine(lines, section, section.Bars[bar].Span!, n => n == bar + 1 ? null : n);
        return lines.Whole;
    }

    /// <summary>When a section grows or shrinks, the bars of their own in sections that follow it keep their places in the
    /// music.</summary>
    /// <param name="lines">The text; only lines of sections that follow are changed, and those stand further down.</param>
    /// <param name="chart">As it was read.</param>
    /// <param name="section">The section that changes.</param>
    /// <param name="place">The bar that gets others after it or goes, wherever it is repeated.</param>
    /// <param name="more">How many bars come, −1 when it goes.</param>
    private static void Renumber(ChartLines lines, Chart chart, Section section, BarSpan place, int more)
    {
        if (more == 0) return;
        bool Follows(Section s) =>
            s.Like is { } like
                && (like == section.Name || chart.SectionNamed(like) is { } parent && parent != s && Follows(parent));
        // A figure begins at the bar it began at, or, where that goes, at the next one.
        var left = section.Bars.Count + more * section.Bars.Count(b => b.Span == place);
        foreach (var with in chart.Sections.Where(s => s == section || Follows(s)))
            for (var i = with.Line; i < lines.Count && chart.Sections.All(s => s == with || s.Line != i + 1); i++)
                lines[i] = FigureText.Moved(lines[i],
                    bar =>
                        Math.Clamp(bar + more * section.Bars.Take(bar).Count(b => b.Span == place), 0, Math.Max(0, left - 1)));
        int? Number(int number) =>
            more < 0 && section.Bars[number - 1].Span == place
                ? null
                : number + more * section.Bars.Take(number - 1).Count(b => b.Span == place);
        foreach (var follower in chart.Sections.Reverse().Where(Follows))
            foreach (var own in follower.OwnBars.Select(n => follower.Bars[n - 1].Span!).DistinctBy(p => p.Line)
                .OrderByDescending(p => p.Line))
                if (BarNumber().IsMatch(lines.LineOf(own))) WriteOwnLine(lines, follower, own, Number);
    }

    /// <summary>Writes a line of own bars under other numbers, a line a bar where they do not follow each other any
    /// more.</summary>
    private static void WriteOwnLine(ChartLines lines, Section section, BarSpan place, Func<int, int?> number)
    {
        var owned = section.OwnBars.Where(n => section.Bars[n - 1].Span!.Line == place.Line).Order().ToList();
        var numbers = owned.Select(number).ToList();
        if (numbers[0] is { } first && numbers.Select((n, i) => n == first + i).All(inRow => inRow)
            && BarNumber().IsMatch(lines.LineOf(place)))
        {
            lines.SetLineOf(place, BarNumber().Replace(lines.LineOf(place), $"{first}:"));
            return;
        }
        var tune = lines.TuneOf(place);
        var cells = tune >= 0 ? ChartLines.TuneCells(lines[tune]) : [];
        var written = new List<string>();
        for (var i = 0; i < owned.Count; i++)
        {
            if (numbers[i] is not { } now) continue;
            written.Add($"{now}: | {lines.Written(section.Bars[owned[i] - 1].Span!)} |");
            if (i < cells.Count && cells[i] != "-") written.Add($"{MelodyLine.Mark} | {cells[i]} |");
        }
        if (tune >= 0) lines.RemoveAt(tune);
        lines.RemoveAt(place.Line - 1);
        lines.InsertRange(place.Line - 1, written);
    }
}
