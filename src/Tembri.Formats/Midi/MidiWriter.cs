using NAudio.Midi;
using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Core.Playing;

namespace Tembri.Formats.Midi;

/// <summary>Writes a version as a Standard MIDI file: tempo, meter, key and section marks; a strummed guitar with chord names as
/// text; a bass; a click.</summary>
internal static class MidiWriter
{
    /// <summary>Ticks a quarter note.</summary>
    public const int Ticks = 480;

    private const int GuitarChannel = 1, BassChannel = 2, ClickChannel = 10;
    private const int SteelGuitar = 25, FingerBass = 33, ClickHigh = 76, ClickLow = 77;
    private const double SecondsAString = 0.012;

    public static byte[] Write(VersionChart version)
    {
        var performance = new Performance(version);
        var events = new MidiEventCollection(1, Ticks);
        Conduct(events, version, performance);
        Strum(events, performance);
        Bass(events, performance);
        Click(events, performance);
        events.PrepareForExport();
        using var bytes = new MemoryStream();
        MidiFile.Export(bytes, events);
        return bytes.ToArray();
    }

    private static long At(double quarters) => (long)Math.Round(quarters * Ticks);

    private static void Conduct(MidiEventCollection events, VersionChart version, Performance performance)
    {
        var chart = version.Chart;
        if (chart.Title.Length > 0) Add(events, 0, MidiText.Write(chart.Title, MetaEventType.SequenceTrackName, 0));
        Add(events, 0,
            new KeySignatureEvent(Math.Clamp(version.SoundingKey.Signature, -7, 7), version.SoundingKey.IsMinor ? 1 : 0, 0));
        Meter? meter = null;
        double pace = 0;
        var sections = 0;
        PlayedBar? before = null;
        foreach (var bar in performance.Bars)
        {
            if (bar.Meter != meter)
            {
                meter = bar.Meter;
                Add(events, 0,
                    new TimeSignatureEvent(At(bar.At), bar.Meter.Count, (int)Math.Log2(bar.Meter.Unit),
                        bar.Meter.IsCompound ? 36 : 24, 8));
            }
            if (bar.Pace != pace)
            {
                pace = bar.Pace;
                Add(events, 0, new TempoEvent((int)Math.Round(60_000_000 / (performance.QuarterTempo * pace)), At(bar.At)));
            }
            if (bar.BarIndex == 0 || before?.SectionIndex != bar.SectionIndex)
            {
                Add(events, 0, MidiText.Write(bar.Section, MetaEventType.Marker, At(bar.At)));
                sections++;
            }
            before = bar;
        }
    }

    private static void Strum(MidiEventCollection events, Performance performance)
    {
        Add(events, 1, new TextEvent("Guitar", MetaEventType.SequenceTrackName, 0));
        Add(events, 1, new PatchChangeEvent(0, GuitarChannel, SteelGuitar));
        var rings = 0.0;
        foreach (var chord in performance.Chords)
        {
            if (chord.At > rings + 1e-9) Add(events, 1, new TextEvent(MidiReader.Silence, MetaEventType.TextEvent, At(rings)));
            Add(events, 1, new TextEvent(Plain(chord.Name), MetaEventType.TextEvent, At(chord.At)));
            rings = chord.At + chord.Length;
        }
        if (rings < performance.Length - 1e-9)
            Add(events, 1, new TextEvent(MidiReader.Silence, MetaEventType.TextEvent, At(rings)));
        var perString = SecondsAString * performance.QuarterTempo / 60;
        foreach (var stroke in performance.Strokes)
        {
            // The strings of a stroke begin one after the other and end together.
            var spread = Math.Min(perString, stroke.Length / 2 / Math.Max(1, stroke.Notes.Count));
            for (var i = 0; i < stroke.Notes.Count; i++)
                Note(events, 1, GuitarChannel, stroke.Notes[i], stroke.At + i * spread, stroke.At + stroke.Length,
                    (int)(40 + 70 * stroke.Strength) - 2 * i);
        }
    }

    private static void Bass(MidiEventCollection events, Performance performance)
    {
        Add(events, 2, new TextEvent("Bass", MetaEventType.SequenceTrackName, 0));
        Add(events, 2, new PatchChangeEvent(0, BassChannel, FingerBass));
        foreach (var chord in performance.Chords)
        {
            var low = chord.Bass;
            while (low > 40) low -= 12;
            Note(events, 2, BassChannel, Math.Max(28, low), chord.At, chord.At + chord.Length, 80);
        }
    }

    private static void Click(MidiEventCollection events, Performance performance)
    {
        Add(events, 3, new TextEvent("Click", MetaEventType.SequenceTrackName, 0));
        foreach (var bar in performance.Bars)
        {
            var beat = Performance.Quarters(bar.Meter);
            for (var i = 0; i * beat < bar.Length - 1e-9; i++)
                Note(events, 3, ClickChannel, i == 0 ? ClickHigh : ClickLow, bar.At + i * beat, bar.At + i * beat + 0.1,
                    i == 0 ? 100 : 70);
        }
    }

    private static void Note(MidiEventCollection events, int track, int channel, int pitch, double from, double to, int velocity)
    {
        var (start, end) = (At(from), At(to));
        if (end <= start) return;
        Add(events, track, new NoteOnEvent(start, channel, pitch, Math.Clamp(velocity, 1, 127), (int)(end - start)));
        // Equal notes that touch: the end of the first comes a tick early, so that readers pair them right.
        Add(events, track, new NoteEvent(end - 1 > start ? end - 1 : end, channel, MidiCommandCode.NoteOff, pitch, 0));
    }

    private static void Add(MidiEventCollection events, int track, MidiEvent item)
    {
        while (events.Tracks <= track) events.AddTrack();
        events[track].Add(item);
    }

    /// <summary>Chord names are looked for by programs that know the letters of the keyboard only.</summary>
    private static string Plain(string text) => text.Replace('♯', '#').Replace('♭', 'b').Replace('°', 'o');
}
