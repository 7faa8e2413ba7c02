using Tembri.Core.Charts;
using Tembri.Core.Music;

namespace Tembri.Formats;

/// <summary>Cuts a run of bars in playing order into sections and a form.</summary>
internal static class Sections
{
    /// <summary>A bar with a name begins a section; a section of the same name and the same bars is the same one
    /// again.</summary>
    /// <param name="bars">Bars in playing order, the first of a section with its name.</param>
    /// <param name="measureOf">What else tells bars apart, such as the measure a bar was read from; null for nothing.</param>
    /// <returns>The sections, the form, and for each section which of the bars given it is made of.</returns>
    public static (IReadOnlyList<Section> Sections, IReadOnlyList<FormPart> Form, IReadOnlyList<int> Starts) Cut(
        IReadOnlyList<(string? Section, Bar Bar)> bars, Func<int, string>? measureOf = null)
    {
        var runs = new List<(string Name, List<Bar> Bars, int Start)>();
        for (var at = 0; at < bars.Count; at++)
        {
            var (name, bar) = bars[at];
            // Beyond what a chart may have, parts are not told apart any more but joined to the last one.
            if (runs.Count == 0 || name is not null && runs.Count < ChartLimits.MostFormParts) runs.Add((Named(name), [], at));
            runs[^1].Bars.Add(bar);
        }
        var sections = new List<Section>();
        var known = new Dictionary<(string Name, string Content), string>();
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var form = new List<FormPart>();
        var starts = new List<int>();
        foreach (var (name, own, start) in runs)
        {
            var content = string.Join('|', own.Select((b, i) => Content(b) + measureOf?.Invoke(start + i)));
            if (!known.TryGetValue((name, content), out var section))
            {
                section = name;
                for (var copy = 2; !taken.Add(section); copy++) section = $"{name} ({copy})";
                known[(name, content)] = section;
                starts.Add(start);
                sections.Add(new Section(section,
                    [.. own.Select((b, i) => i % ChartLimits.MostBarsInLine == 0 ? b with { StartsLine = true } : b)]));
            }
            if (form.Count > 0 && form[^1].Section == section && form[^1].Times < ChartLimits.MostTimes)
                form[^1] = form[^1] with { Times = form[^1].Times + 1 };
            else form.Add(new FormPart(section, 1));
        }
        return (sections, form, starts);
    }

    /// <summary>A name as a heading of chart text can carry it.</summary>
    private static string Named(string? name) =>
        PlainText.Cut(PlainText.OneLine(name ?? "").Replace('[', '(').Replace(']', ')').Replace('|', '/'),
                ChartLimits.LongestName) is { Length: > 0 } clean
            ? clean
            : "Song";

    private static string Content(Bar bar) =>
        $"{bar.Meter} {bar.Lead} "
            + $"{string.Join(' ', bar.Slots.Select(s => $"{s.Symbol}:{s.Beats:0.###}:{s.IsEarly}:{s.Lyric.Trim()}"))} "
            + $"{string.Join(',', bar.Remarks)} "
            + $"{string.Join(' ', bar.Melody.Select(n => $"{n.Pitch}@{n.At:0.###}+{n.Beats:0.###}"))}";
}
