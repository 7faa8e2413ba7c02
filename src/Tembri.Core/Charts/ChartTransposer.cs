using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>Moves a chart to another key, spelt as that key asks.</summary>
public static class ChartTransposer
{
    /// <summary>The chart in another key.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="to">The key.</param>
    /// <param name="semitones">How far the tune moves, positive for up; the nearer way when null.</param>
    /// <param name="keepPlaces">True when figures stay on their strings and frets, because the capo moves with them.</param>
    public static Chart Move(Chart chart, Key to, int? semitones = null, bool keepPlaces = false)
    {
        var fifths = chart.Key.FifthsTo(to);
        var far = semitones ?? (to.Tonic.PitchClass - chart.Key.Tonic.PitchClass + 17) % 12 - 5;
        if (fifths == 0 && far == 0) return chart;
        Slot MoveSlot(Slot slot)
        {
            if (slot.Chord is null) return slot;
            var moved = slot.Chord.Transpose(chart.Key, to);
            return slot with { Chord = moved, Symbol = moved.Name };
        }
        MelodyNote MoveNote(MelodyNote note) => note with { Pitch = note.Pitch.Move(fifths, far) };
        return Each(chart, MoveSlot, MoveNote, keepPlaces: keepPlaces) with
        {
            Key = to,
            MelodyGiven = chart.MelodyGiven is { } range
                ? new PitchRange(range.Low.Move(fifths, far), range.High.Move(fifths, far))
                : null,
        };
    }

    /// <summary>The chart with its tune elsewhere and its chords as they are.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="fifths">Steps along the line of fifths, which decide the spelling.</param>
    /// <param name="semitones">Semitones, positive for up; the same pitch class as the fifths.</param>
    public static Chart MoveTune(Chart chart, int fifths, int semitones) =>
        fifths == 0 && semitones == 0
            ? chart
            : Each(chart, slot => slot, note => note with { Pitch = note.Pitch.Move(fifths, semitones) });

    /// <summary>The chart with every slot and every note of the tune replaced.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="slot">What becomes of a slot.</param>
    /// <param name="note">What becomes of a note.</param>
    /// <param name="within">The sections it is done in, by their place in the chart; all when null.</param>
    /// <param name="keepPlaces">True when figures stay on their strings and frets.</param>
    internal static Chart Each(Chart chart, Func<Slot, Slot> slot, Func<MelodyNote, MelodyNote> note,
        Func<int, bool>? within = null, bool keepPlaces = false) => chart with
    {
        Sections = [.. chart.Sections.Select((s, i) => within?.Invoke(i) == false ? s : s with
        {
            Bars = [.. s.Bars.Select(b => b with { Slots = [.. b.Slots.Select(slot)], Melody = [.. b.Melody.Select(note)] })],
            Figures = [.. s.Figures.Select(f => f.Moved(pitch => note(new MelodyNote(pitch, 0, 1)).Pitch, keepPlaces))],
        })],
    };
}
