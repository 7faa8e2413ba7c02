using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>The end of a song that is an earlier part moved up: a last chorus a semitone or a whole tone higher.</summary>
/// <param name="Section">Place in the chart, from 0, of the section it begins with.</param>
/// <param name="Semitones">How much higher it lies, 1 to 3.</param>
/// <param name="Like">The name of the earlier section it is like.</param>
/// <param name="Sections">Places in the chart of all sections played from there on; none of them is played before.</param>
/// <remarks>Who plays it with a capo moves the capo up there and goes on with the shapes he knows. Source: how songs that rise
/// at the end are played with a capo.</remarks>
public sealed record KeyLift(int Section, int Semitones, string Like, IReadOnlySet<int> Sections)
{
    private const int Farthest = 3;
    private const int FewestBars = 4;
    private const int FewestChords = 2;
    private const double Hair = 1e-6;

    /// <summary>The lift of a chart; null when its end is nothing moved up.</summary>
    public static KeyLift? Of(Chart chart)
    {
        var form = chart.Form.Select(p => chart.IndexOf(p.Section)).Where(i => i >= 0).ToList();
        for (var from = 1; from < form.Count; from++)
        {
            var before = form.Take(from).ToHashSet();
            var tail = form.Skip(from).ToHashSet();
            if (tail.Overlaps(before)) continue;
            foreach (var earlier in before.Order())
                if (Distance(chart.Sections[earlier], chart.Sections[form[from]]) is { } semitones)
                    return new KeyLift(form[from], semitones, chart.Sections[earlier].Name, tail);
        }
        return null;
    }

    /// <summary>The chart with its end at the pitch of its beginning.</summary>
    public Chart Lower(Chart chart)
    {
        // Where the beginning has the same chord it is written as there.
        var known = chart.Sections.Where((_, i) => !Sections.Contains(i)).SelectMany(s => s.Bars).SelectMany(b => b.Slots)
            .Select(s => s.Chord).OfType<Chord>()
            .DistinctBy(Sound).ToDictionary(Sound, c => c);
        return Move(chart, -Semitones, chord => known.GetValueOrDefault(Sound(chord), chord))
            with { MelodyGiven = chart.MelodyRange };
    }

    /// <summary>The chart with its end raised again: what sounds when the capo is moved up.</summary>
    public Chart Raise(Chart chart) => Move(chart, Semitones, chord => chord);

    /// <summary>A chord of a section as it sounds when the capo is moved up.</summary>
    /// <param name="chord">The chord at the pitch of the beginning.</param>
    /// <param name="section">Place of the section in the chart.</param>
    /// <param name="key">Key of the beginning.</param>
    public Chord Sounding(Chord chord, int section, Key key) =>
        Sections.Contains(section) ? chord.Transpose(key, key.Transpose(Semitones)) : chord;

    private Chart Move(Chart chart, int semitones, Func<Chord, Chord> spelt)
    {
        var fifths = semitones > 0
            ? chart.Key.FifthsTo(chart.Key.Transpose(semitones))
            : chart.Key.Transpose(-semitones).FifthsTo(chart.Key);
        Slot MoveSlot(Slot slot) =>
            slot.Chord is { } chord && spelt(chord.MoveFifths(fifths)) is var moved
                ? slot with { Chord = moved, Symbol = moved.Name }
                : slot;
        MelodyNote MoveNote(MelodyNote note) => note with { Pitch = note.Pitch.Move(fifths, semitones) };
        return ChartTransposer.Each(chart, MoveSlot, MoveNote, Sections.Contains);
    }

    private static (int Root, string Kind, int Bass) Sound(Chord chord) =>
        (chord.Root.PitchClass, chord.Kind, chord.BassPitchClass);

    /// <summary>How much higher the second section lies than the first, chord by chord; null when it is not the same section
    /// moved up.</summary>
    private static int? Distance(Section first, Section second)
    {
        if (second.Bars.Count < FewestBars || second.Bars.Count > first.Bars.Count) return null;
        int? distance = null;
        var chords = new HashSet<string>();
        for (var b = 0; b < second.Bars.Count; b++)
        {
            var (low, high) = (first.Bars[b].Slots, second.Bars[b].Slots);
            if (low.Count != high.Count) return null;
            for (var i = 0; i < low.Count; i++)
            {
                if (Math.Abs(low[i].Beats - high[i].Beats) > Hair || low[i].Chord is null != high[i].Chord is null) return null;
                if (low[i].Chord is not { } from || high[i].Chord is not { } to) continue;
                var here = Note.Modulo(to.Root.PitchClass - from.Root.PitchClass, 12);
                if (from.Kind != to.Kind || here != Note.Modulo(to.BassPitchClass - from.BassPitchClass, 12)
                    || here != (distance ??= here))
                    return null;
                chords.Add(to.Name);
            }
        }
        return distance is >= 1 and <= Farthest && chords.Count >= FewestChords ? distance : null;
    }
}
