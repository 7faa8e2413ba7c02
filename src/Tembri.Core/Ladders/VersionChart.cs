using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Shapes;

namespace Tembri.Core.Ladders;

/// <summary>One rung written out as a chart: the chords its shapes play, named as the hand sees them, with the shape of every
/// slot.</summary>
/// <remarks>
/// A chart is written once and played in passes. Where the passes of a slot differ, because another chord follows at the end of
/// a section, the chart
/// shows the usual shape; <see cref="PlayedAt"/> knows each pass.
/// </remarks>
public sealed class VersionChart
{
    private readonly Dictionary<Slot, Fingering> _shapes = new(ReferenceEqualityComparer.Instance);

    /// <summary>Writes a rung out.</summary>
    /// <param name="ladder">The ladder.</param>
    /// <param name="rung">One of its rungs.</param>
    public VersionChart(Ladder ladder, PlayableRung rung)
    {
        Rung = rung;
        SoundingKey = ladder.Chart.Key;
        ShapeKey = ladder.ShapeKey;
        Capo = rung.Capo;
        TuningShift = ladder.Chart.TuningShift;
        Lift = ladder.Lift;
        var chart = rung.Song.Chart;
        var usual = rung.Played.Where(c => !c.IsSecond).ToDictionary(c => ladder.Flow.Chords[c.Index]);
        var passes = Passes(chart, rung);
        Chart = chart with
        {
            Key = ladder.ShapeKey, KeyIsGiven = true, RecordCapo = 0, TuningShift = 0, Recordings = [],
            MelodyGiven = chart.MelodyGiven is { } range ? new PitchRange(LowerPitch(range.Low), LowerPitch(range.High)) : null,
            Sections = [.. chart.Sections.Select((section, number) => section with
            {
                Bars = [.. section.Bars.Select((bar, b) => Write(bar, (number, b)))], Like = null, OwnBars = [], Words = [],
                Figures = [.. rung.Figures.Where(f => f.Section == number && f.Played is not null).Select(f => f.Played!)],
                Strum = (section.Hand with { Steps = rung.Hand.In(number).Notation, Swing = rung.Hand.In(number).Swing })
                    .ToString(),
            })],
        };

        Bar Write(Bar bar, (int Section, int Bar) at) =>
            bar with { Remarks = Lift?.Section == at.Section && at.Bar == 0
                    ? [.. bar.Remarks, $"capo {Capo + Lift.Semitones}"]
                    : bar.Remarks, Slots = [.. bar.Slots.Select((slot, i) => Play(slot, (at.Section, at.Bar, i)))],
                Melody = [.. bar.Melody.Select(Lower)] };

        Slot Play(Slot slot, (int, int, int) at)
        {
            if (slot.Chord is null) return slot;
            var chord = passes.TryGetValue(at, out var heard) && heard.Count == 1 ? rung.PlayedAs(heard.Min) : usual[slot.Chord];
            var played = slot with { Chord = chord.Choice.Played, Symbol = chord.Choice.Played.Name };
            _shapes[played] = chord.Choice.Fingering;
            return played;
        }

        Pitch LowerPitch(Pitch pitch) => pitch.Move(ladder.Chart.Key.FifthsTo(ladder.ShapeKey), -Raised);

        MelodyNote Lower(MelodyNote note) => note with { Pitch = LowerPitch(note.Pitch) };
    }

    /// <summary>For each slot, by section, bar and place in the bar, the chords of the rung that its passes play.</summary>
    private static Dictionary<(int Section, int Bar, int Slot), SortedSet<int>> Passes(Chart chart, PlayableRung rung)
    {
        var passes = new Dictionary<(int Section, int Bar, int Slot), SortedSet<int>>();
        var played = 0;
        foreach (var (section, bar) in chart.PlayedPlaces())
        {
            for (var i = 0; i < chart.Sections[section].Bars[bar].Slots.Count; i++)
            {
                if (rung.Flow.ChordAt(played, i) is not (>= 0 and var chord)) continue;
                if (!passes.TryGetValue((section, bar, i), out var heard)) passes[(section, bar, i)] = heard = [];
                heard.Add(chord);
            }
            played++;
        }
        return passes;
    }

    /// <summary>The rung.</summary>
    public PlayableRung Rung { get; }

    /// <summary>The chart at the pitch of the shapes.</summary>
    public Chart Chart { get; }

    /// <summary>The key that sounds.</summary>
    public Key SoundingKey { get; }

    /// <summary>The key of the shapes.</summary>
    public Key ShapeKey { get; }

    /// <summary>The capo's fret.</summary>
    public int Capo { get; }

    /// <summary>Semitones the guitar is tuned against standard.</summary>
    public int TuningShift { get; }

    /// <summary>Where the capo is moved up; null when it stays.</summary>
    public KeyLift? Lift { get; }

    /// <summary>Semitones the version sounds above its shapes; more where the capo was moved up.</summary>
    public int Raised => Capo + TuningShift;

    /// <summary>Semitones a section sounds above its shapes.</summary>
    /// <param name="section">Its place in the chart.</param>
    public int RaisedIn(int section) => Raised + (Lift is { } lift && lift.Sections.Contains(section) ? lift.Semitones : 0);

    /// <summary>A chord of a section as it sounds.</summary>
    /// <param name="shape">The chord as its shape is named.</param>
    /// <param name="section">Place of the section in the chart.</param>
    public Chord Sounding(Chord shape, int section)
    {
        var chord = shape.Transpose(Chart.Key, SoundingKey);
        return Lift?.Sounding(chord, section, SoundingKey) ?? chord;
    }

    /// <summary>The shape a slot of the written chart is played with; null for silence.</summary>
    public Fingering? ShapeOf(Slot slot) => _shapes.GetValueOrDefault(slot);

    /// <summary>The chord of the rung that is played in a pass; null for silence.</summary>
    /// <param name="bar">Which bar, counted as they are played, from 0.</param>
    /// <param name="slot">Which slot of the bar.</param>
    public PlayedChord? PlayedAt(int bar, int slot) =>
        Rung.Flow.ChordAt(bar, slot) is >= 0 and var chord ? Rung.PlayedAs(chord) : null;
}
