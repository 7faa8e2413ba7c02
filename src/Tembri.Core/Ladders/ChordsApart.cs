using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Wishes;

namespace Tembri.Core.Ladders;

/// <summary>Marks chords that are looked at by themselves in a section, so that the ladder has a column of its own for
/// them.</summary>
public static class ChordsApart
{
    /// <summary>The chart with its chords set apart. A wish for a section or a chord that the chart does not have changes
    /// nothing.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="wishes">Chords and sections.</param>
    public static Chart In(Chart chart, IReadOnlyList<SetApart> wishes)
    {
        if (wishes.Count == 0) return chart;
        return chart with { Sections = [.. chart.Sections.Select(s => wishes.Where(w => w.Section == s.Name).Select(w => w.Chord)
                .ToHashSet() is { Count: > 0 } degrees
            ? In(s, degrees, chart)
            : s)] };
    }

    private static Section In(Section section, HashSet<string> degrees, Chart chart)
    {
        Bar Mark(Bar bar) =>
            bar with { Slots = [.. bar.Slots.Select(slot => slot.Chord is { } chord
                    && degrees.Contains(chord.DegreeIn(chart.Key))
                ? slot with { Chord = chord.ApartIn(section.Name) }
                : slot)] };
        return section with { Bars = [.. section.Bars.Select(Mark)] };
    }
}
