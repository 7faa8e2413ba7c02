using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Core.Shapes;

namespace Tembri.Core.Ladders;

/// <summary>One rung written out as a chart: the chords its shapes play, named as the hand sees them, with the shape of every slot.</summary>
public sealed class VersionChart
{
    private readonly Dictionary<Slot, Fingering> _shapes = new(ReferenceEqualityComparer.Instance);

    /// <summary>Writes a rung out.</summary>
    /// <param name="ladder">The ladder.</param>
    /// <param name="rung">One of its rungs.</param>
    /// <exception cref="ArgumentException">The rung is blocked.</exception>
    public VersionChart(Ladder ladder, Rung rung)
    {
        if (!rung.IsFeasible) throw new ArgumentException($"Rung {rung.Limits.Number} cannot be played: {rung.BlockedBy}", nameof(rung));
        Rung = rung;
        SoundingKey = ladder.Chart.Key;
        Capo = rung.Capo;
        TuningShift = ladder.Chart.TuningShift;
        var chart = rung.Song.Chart;
        var index = ladder.Flow.Chords.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i);
        Slot Play(Slot slot, Slot? next)
        {
            if (slot.Chord is null) return slot;
            var song = index[slot.Chord];
            var usual = rung.Chords[song];
            var here = next?.Chord is { } after && rung.Chords.FirstOrDefault(c => c.IsSecond && c.SongChord == song && c.Before?.Name == rung.Chords[index[after]].ShapeChord.Name) is { } second ? second : usual;
            var played = slot with { Chord = here.Choice.Played, Symbol = here.Choice.Played.Name };
            _shapes[played] = here.Choice.Fingering;
            return played;
        }
        Chart = chart with
        {
            Key = ladder.ShapeKey, KeyIsGiven = true, RecordCapo = 0, TuningShift = 0, Takes = [],
            Sections = [.. chart.Sections.Select(section =>
            {
                var slots = section.Bars.SelectMany(b => b.Slots).ToList();
                var at = 0;
                return section with { Bars = [.. section.Bars.Select(b => b with { Slots = [.. b.Slots.Select(s => Play(s, slots.ElementAtOrDefault(++at)))], Melody = [.. b.Melody.Select(Lower)] })], Like = null, OwnBars = [], Words = [] };
            })],
        };

        MelodyNote Lower(MelodyNote note) => note with { Pitch = note.Pitch.Move(ladder.Chart.Key.FifthsTo(ladder.ShapeKey), -Raised) };
    }

    /// <summary>The rung.</summary>
    public Rung Rung { get; }

    /// <summary>The chart at the pitch of the shapes.</summary>
    public Chart Chart { get; }

    /// <summary>The key that sounds.</summary>
    public Key SoundingKey { get; }

    /// <summary>The capo's fret.</summary>
    public int Capo { get; }

    /// <summary>Semitones the guitar is tuned against standard.</summary>
    public int TuningShift { get; }

    /// <summary>Semitones the version sounds above its shapes.</summary>
    public int Raised => Capo + TuningShift;

    /// <summary>The shape a slot is played with; null for silence.</summary>
    public Fingering? ShapeOf(Slot slot) => _shapes.GetValueOrDefault(slot);
}
