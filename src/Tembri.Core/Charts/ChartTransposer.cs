using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>Moves a chart to another key, spelt as that key asks.</summary>
public static class ChartTransposer
{
    /// <summary>The chart in another key.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="to">The key.</param>
    /// <param name="semitones">How far the tune moves, positive for up; the nearer way when null.</param>
    public static Chart Move(Chart chart, Key to, int? semitones = null)
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
        return chart with
        {
            Key = to,
            MelodyGiven = chart.MelodyGiven is { } range ? new PitchRange(range.Low.Move(fifths, far), range.High.Move(fifths, far)) : null,
            Sections = [.. chart.Sections.Select(s => s with { Bars = [.. s.Bars.Select(b => b with { Slots = [.. b.Slots.Select(MoveSlot)], Melody = [.. b.Melody.Select(MoveNote)] })] })],
        };
    }

    /// <summary>The chart with its tune elsewhere and its chords as they are.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="fifths">Steps along the line of fifths, which decide the spelling.</param>
    /// <param name="semitones">Semitones, positive for up; the same pitch class as the fifths.</param>
    public static Chart MoveTune(Chart chart, int fifths, int semitones) => fifths == 0 && semitones == 0 ? chart : chart with
    {
        Sections = [.. chart.Sections.Select(s => s with
        {
            Bars = [.. s.Bars.Select(b => b with { Melody = [.. b.Melody.Select(n => n with { Pitch = n.Pitch.Move(fifths, semitones) })] })],
        })],
    };
}
