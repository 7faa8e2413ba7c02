using Tembri.Core.Charts;
using Tembri.Core.Chords;

namespace Tembri.Core.Hearing;

/// <summary>A beat of the form as it is written out.</summary>
/// <param name="Section">Place of its section in the chart.</param>
/// <param name="Bar">Place of its bar in the section.</param>
/// <param name="At">Beats from the start of the bar.</param>
/// <param name="Length">Beats, up to 1.</param>
/// <param name="Chord">What sounds in the middle of it; null for silence and for what could not be read.</param>
internal sealed record FormBeat(int Section, int Bar, double At, double Length, Chord? Chord)
{
    /// <summary>True for the first beat of a bar.</summary>
    public bool StartsBar => At == 0;

    /// <summary>True for the first beat of a section.</summary>
    public bool StartsPart => StartsBar && Bar == 0;
}

/// <summary>The form of a chart beat by beat, every repeat written out.</summary>
/// <param name="Beats">The beats in playing order.</param>
internal sealed record WrittenForm(IReadOnlyList<FormBeat> Beats)
{
    private const double Hair = 1e-6;

    /// <summary>True when a bar ends with a beat.</summary>
    public bool EndsBar(int beat) => beat + 1 == Beats.Count || Beats[beat + 1].StartsBar;

    /// <summary>True when a section ends with a beat.</summary>
    public bool EndsPart(int beat) => beat + 1 == Beats.Count || Beats[beat + 1].StartsPart;

    /// <summary>The form of a chart.</summary>
    public static WrittenForm Of(Chart chart) =>
        new([.. chart.PlayedPlaces()
            .SelectMany(place => BeatsOf(chart.Sections[place.Section].Bars[place.Bar], place.Section, place.Bar))]);

    private static IEnumerable<FormBeat> BeatsOf(Bar bar, int section, int index)
    {
        for (var at = 0.0; at < bar.Beats - Hair; at++)
        {
            var length = Math.Min(1, bar.Beats - at);
            yield return new FormBeat(section, index, at, length, ChordAt(bar, at + length / 2));
        }
    }

    private static Chord? ChordAt(Bar bar, double beat)
    {
        var at = 0.0;
        foreach (var slot in bar.Slots)
        {
            at += slot.Beats;
            if (beat < at) return slot.Chord;
        }
        return bar.Slots[^1].Chord;
    }
}
