using System.Globalization;
using Tembri.Core.Charts.Reading;

namespace Tembri.Core.Charts.Editing;

/// <summary>Text is written in more ways than can be foreseen: what an edit leaves is read, and held against all it should have
/// left alone.</summary>
internal static class EditCheck
{
    /// <summary>True when a bar, wherever it is repeated, became some others, and nothing else changed: the names and bars of
    /// other sections, the form, the words. What follows another section changes with that.</summary>
    /// <param name="text">The text before the edit.</param>
    /// <param name="at">The bar; one behind the last is a new one.</param>
    /// <param name="changed">The text after it.</param>
    /// <param name="bars">How many stand in its place; none when it was taken out, and its words with it.</param>
    public static bool ChangesOnly(string text, BarAddress at, string changed, int bars)
    {
        var (before, after) = (ChartReader.Read(text).Chart, ChartReader.Read(changed).Chart);
        return before.Sections.Select(s => s.Name).SequenceEqual(after.Sections.Select(s => s.Name))
            && before.Form.SequenceEqual(after.Form)
            && before.Sections.Zip(after.Sections).Index().All(x => x.Item.First.Like is not null
                || IsAsWas(x.Item.First, x.Item.Second, x.Index == at.Section ? at.Bar : null, bars));
    }

    private static bool IsAsWas(Section was, Section now, int? bar, int bars)
    {
        if ((bar is null || bars > 0) && Words(was) != Words(now)) return false;
        var place = bar is { } here && here < was.Bars.Count ? was.Bars[here].Span : null;
        var at = 0;
        foreach (var other in was.Bars)
            if (place is not null && other.Span == place) at += bars;
            else if (at >= now.Bars.Count) return false;
            else if (Played(other) != Played(now.Bars[at++]) && !(bar is not null && GoesOn(other))) return false;
        return now.Bars.Count == at + (bar == was.Bars.Count ? bars : 0);
    }

    /// <summary>True for a bar that plays on from the one before, and changes with it.</summary>
    public static bool GoesOn(Bar bar) => bar.Span?.Content is not [var first, ..] || "%./-·–—~".Contains(first);

    /// <summary>Each section as far as its name and chords go, to see whether it is what it was.</summary>
    public static List<string> Known(Chart chart) => [.. chart.Sections.Select(s => $"{s.Name}: {Bars(s)}")];

    /// <summary>The words of a section, wherever its bars part them.</summary>
    public static string Words(Section section) =>
        string.Concat(section.Bars.SelectMany(b => b.Slots.Select(s => s.Lyric).Prepend(b.Lead))
            .SelectMany(words => words.Where(c => !char.IsWhiteSpace(c))));

    /// <summary>What the bars of a section play.</summary>
    public static string Bars(Section section) => string.Join(" | ", section.Bars.Select(Played));

    private static string Played(Bar bar) => $"{bar.Meter} {string.Join(' ', bar.Slots.Select(Slot))}";

    private static string Slot(Slot slot) => string.Create(CultureInfo.InvariantCulture,
        $"{slot.Chord?.PitchClassMask.ToString("x") ?? slot.Symbol}:{slot.Chord?.Bass?.PitchClass}:{slot.Beats:0.##}");
}
