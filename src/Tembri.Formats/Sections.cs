using Tembri.Core.Charts;

namespace Tembri.Formats;

/// <summary>Cuts a run of bars in playing order into sections and a form.</summary>
internal static class Sections
{
    /// <summary>A bar with a name begins a section; a section of the same name and the same bars is the same one again.</summary>
    /// <param name="bars">Bars in playing order, the first of a section with its name.</param>
    public static (IReadOnlyList<Section> Sections, IReadOnlyList<FormPart> Form) Cut(IReadOnlyList<(string? Section, Bar Bar)> bars)
    {
        var runs = new List<(string Name, List<Bar> Bars)>();
        foreach (var (name, bar) in bars)
        {
            if (name is not null || runs.Count == 0) runs.Add((name ?? "Song", []));
            runs[^1].Bars.Add(bar);
        }
        var sections = new List<(Section Section, string Content)>();
        var form = new List<FormPart>();
        foreach (var (name, own) in runs)
        {
            var content = string.Join('|', own.Select(Content));
            var known = sections.FindIndex(s => s.Content == content && (s.Section.Name == name || s.Section.Name.StartsWith(name + " (", StringComparison.Ordinal)));
            if (known < 0)
            {
                var unique = name;
                for (var copy = 2; sections.Any(s => s.Section.Name.Equals(unique, StringComparison.OrdinalIgnoreCase)); copy++) unique = $"{name} ({copy})";
                sections.Add((new Section(unique, [.. own.Select((b, i) => i == 0 ? b with { StartsLine = true } : b)]), content));
                known = sections.Count - 1;
            }
            var section = sections[known].Section.Name;
            if (form.Count > 0 && form[^1].Section == section) form[^1] = form[^1] with { Times = form[^1].Times + 1 };
            else form.Add(new FormPart(section, 1));
        }
        return ([.. sections.Select(s => s.Section)], form);
    }

    private static string Content(Bar bar) =>
        $"{bar.Meter} {bar.Lead} {string.Join(' ', bar.Slots.Select(s => $"{s.Symbol}:{s.Beats:0.###}:{s.IsEarly}:{s.Lyric.Trim()}"))} {string.Join(',', bar.Remarks)} {string.Join(' ', bar.Melody.Select(n => $"{n.Pitch}@{n.At:0.###}+{n.Beats:0.###}"))}";
}
