using System.Diagnostics;
using System.Globalization;
using NAudio.Midi;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Hearing;

namespace Tembri.Formats.Tests.Hearing;

/// <summary>A made-up song for a band, from a seed: its chart, and when each bar of it is played. An independent synthesiser
/// plays it.</summary>
internal sealed class BandSong
{
    /// <summary>What a song is made of, beside its seed.</summary>
    /// <param name="Cents">How far everybody is out of tune.</param>
    /// <param name="Semitones">How far the record lies above the chart.</param>
    /// <param name="Drift">How far the tempo goes up and down, as a share.</param>
    /// <param name="Noise">Noise under it, in dB below the music; null for none.</param>
    /// <param name="Room">True for a room around it.</param>
    /// <param name="Mix">Who plays.</param>
    /// <param name="Kilobits">Kilobits a second it is pressed to and unpacked from again, by lame; null for none.</param>
    /// <param name="OtherForm">True when a verse more is played, and half of the intro.</param>
    public sealed record Kind(double Cents = 0, int Semitones = 0, double Drift = 0.008, double? Noise = null, bool Room = false,
        Mix Mix = Mix.Band, bool OtherForm = false, int? Kilobits = null);

    public enum Mix { Band, Guitar, Piano, BandWithoutDrums }

    private const int Ticks = 480;
    private static readonly string[] Flats = ["C", "Db", "D", "Eb", "E", "F", "Gb", "G", "Ab", "A", "Bb", "B"];
    private static readonly int[] Scale = [0, 2, 4, 5, 7, 9, 11];
    // Rows of degrees in major, a chord or two a bar; a small m makes a minor chord, 7 adds the seventh, b lowers the root.
    private static readonly string[] Rows =
    [
        "1 5 6m 4", "6m 4 1 5", "1 4 5 5", "1 6m 4 5", "2m 5 1 1", "1 3m 4 5", "4 5 3m 6m", "1 b7 4 1", "6m 5 4 5", "1 1 4 4m",
        "4 1 5 6m", "1 57 6m 4", "2m7 57 17 17", "1,5 6m,3m 4,1 2m,5", "1 2m 4 1",
        "6m 2m 37 6m", "1 4,5 1 4,5", "3m 6m 2m 5", "4 4m 1 67", "1 5,6m 4 5", "6m b7 4 5", "1 27 4 1", "1 6m 2m 5", "5 4 1 1",
    ];

    private readonly Random _random;
    private readonly Kind _kind;

    public int Seed { get; }
    public int Tonic { get; }
    public double Tempo { get; }
    public int Meter { get; }
    public string ChartText { get; }
    public Chart Chart { get; }

    /// <summary>The bars in the order they are played: section, bar, start and end in seconds.</summary>
    public List<(int Section, int Bar, double Start, double End)> Played { get; } = [];

    public BandSong(int seed, Kind kind)
    {
        (Seed, _kind, _random) = (seed, kind, new Random(seed));
        Tonic = _random.Next(12);
        Tempo = _random.Next(64, 152);
        Meter = _random.Next(5) == 0 ? 3 : 4;
        var text = new System.Text.StringBuilder($"title: Song {seed}\nkey: {Flats[Tonic]}\ntempo: {Tempo}\ntime: {Meter}/4\n");
        (string Name, int Bars)[] sections = [("Intro", 4), ("Verse", 8), ("Chorus", 8),
            .. _random.Next(2) == 0 ? new[] { ("Bridge", 4 * _random.Next(1, 3)) } : []];
        text.Append($"form: Intro, Verse, Chorus, Verse, Chorus{(sections.Length > 3 ? ", Bridge" : "")}, Chorus\n");
        var left = Rows.ToList();
        foreach (var (name, bars) in sections)
        {
            text.Append($"\n[{name}]\n");
            for (var line = 0; line < bars / 4; line++)
            {
                var row = left[_random.Next(left.Count)];
                if (line > 0 || left.Count > 6) left.Remove(row);
                text.Append("| ")
                    .AppendJoin(" | ",
                        row.Split(' ').Select(bar => string.Join(" ", bar.Split(',').Take(Meter == 3 ? 1 : 2).Select(Symbol))))
                    .Append(" |\n");
            }
        }
        ChartText = text.ToString();
        Chart = ChartReader.Read(ChartText).Chart;
    }

    private string Symbol(string degree)
    {
        var lowered = degree[0] == 'b';
        if (lowered) degree = degree[1..];
        return Flats[(Tonic + Scale[degree[0] - '1'] - (lowered ? 1 : 0)) % 12] + degree[1..];
    }

    /// <summary>The chart with some chords replaced by others of the key; each change is told.</summary>
    public (string Text, List<(int Section, int Bar, int Slot, string Was)> Wrong) WithWrongChords(int count)
    {
        var random = new Random(Seed * 31 + 7);
        var chart = Chart;
        var wrong = new List<(int, int, int, string)>();
        var sections = chart.Sections.ToList();
        for (var tries = 0; wrong.Count < count && tries < 200; tries++)
        {
            var s = random.Next(sections.Count);
            var b = random.Next(sections[s].Bars.Count);
            var bar = sections[s].Bars[b];
            var slot = random.Next(bar.Slots.Count);
            if (wrong.Exists(w => w.Item1 == s && Math.Abs(w.Item2 - b) < 2)) continue;
            var was = bar.Slots[slot].Symbol;
            var other = Symbol(new[] { "1", "2m", "3m", "4", "5", "6m", "b7", "4m" }[random.Next(8)]);
            var (a, c) = (Core.Chords.Chord.Parse(was), Core.Chords.Chord.Parse(other));
            if (a.Root.PitchClass == c.Root.PitchClass) continue;
            var slots = bar.Slots.ToList();
            slots[slot] = slots[slot] with { Symbol = other, Chord = c };
            var bars = sections[s].Bars.ToList();
            bars[b] = bar with { Slots = slots };
            sections[s] = sections[s] with { Bars = bars };
            wrong.Add((s, b, slot, was));
        }
        return (ChartWriter.Write(chart with { Sections = sections }), wrong);
    }

    /// <summary>Plays it: a Standard MIDI file by fluidsynth, with the sound set that Debian has.</summary>
    public MonoSound Render(string folder)
    {
        var (midi, wav) = (Path.Combine(folder, $"{Seed}.mid"), Path.Combine(folder, $"{Seed}.wav"));
        File.WriteAllBytes(midi, Write());
        using var process = Process.Start(new ProcessStartInfo("fluidsynth",
            ["-ni", "-q", "-g", "0.5", "-R", _kind.Room ? "1" : "0", "-o", "synth.reverb.room-size=0.7", "-o",
                "synth.reverb.level=0.8", "-C", "0", "-r", _kind.Kilobits is null ? "22050" : "44100", "-F", wav, SoundFont,
                midi])
        {
            RedirectStandardOutput = true, RedirectStandardError = true
        })!;
        process.WaitForExit();
        if (_kind.Kilobits is { } kilobits)
        {
            Run("lame", "--quiet", "-b", kilobits.ToString(CultureInfo.InvariantCulture), wav, wav + ".mp3");
            Run("lame", "--quiet", "--decode", wav + ".mp3", wav);
            File.Delete(wav + ".mp3");
        }
        MonoSound sound;
        using (var file = File.OpenRead(wav)) sound = WavFiles.Read(file);
        File.Delete(midi);
        File.Delete(wav);
        if (_kind.Noise is not { } decibels) return sound;
        var power = sound.Samples.Average(s => (double)s * s);
        var noise = Math.Sqrt(power * Math.Pow(10, -decibels / 10));
        var random = new Random(Seed);
        return sound with { Samples = [.. sound.Samples.Select(s => s
            + (float)(noise * Math.Sqrt(-2 * Math.Log(1 - random.NextDouble()))
                * Math.Cos(2 * Math.PI * random.NextDouble())))] };
    }

    public static string SoundFont =>
        new[] { "/usr/share/sounds/sf2/FluidR3_GM.sf2", "/usr/share/sounds/sf2/default-GM.sf2" }.First(File.Exists);

    private byte[] Write()
    {
        var events = new MidiEventCollection(1, Ticks);
        var chart = Chart;
        var form = chart.PlayedPlaces().ToList();
        if (_kind.OtherForm)
        {
            // A verse more at the end, and only the second half of the intro.
            var verse = chart.Sections.ToList().FindIndex(s => s.Name == "Verse");
            form = [.. form.Skip(2), .. Enumerable.Range(0, chart.Sections[verse].Bars.Count).Select(b => (verse, b))];
        }
        foreach (var (channel, program) in new[]
        {
            (1, Pick(24, 25, 26, 27)), (2, Pick(32, 33, 34)), (3, _kind.Mix == Mix.Piano ? 0 : Pick(0, 4, 16, 48, 49)),
            (4, Pick(52, 56, 65, 73, 40, 68))
        })
        {
            events.AddEvent(new PatchChangeEvent(0, channel, program), channel);
            events.AddEvent(new PitchWheelChangeEvent(0, channel, 8192 + (int)Math.Round(_kind.Cents / 200 * 8192)), channel);
        }
        var style = _random.Next(4);
        double beat = 0, seconds = 0.4;
        events.AddEvent(new TempoEvent((int)(60e6 / Tempo), 0), 0);
        beat = seconds * Tempo / 60;
        var shift = _kind.Semitones;
        var melody = 72 + Tonic % 12 - 4;
        for (var i = 0; i < form.Count; i++)
        {
            var (s, b) = form[i];
            var bar = chart.Sections[s].Bars[b];
            // The tempo goes slowly up and down.
            var pace = Tempo * (1 + _kind.Drift * Math.Sin(2 * Math.PI * i / Math.Max(8, form.Count) * 1.5 + Seed));
            events.AddEvent(new TempoEvent((int)(60e6 / pace), At(beat)), 0);
            var length = Meter * 60 / pace;
            Played.Add((s, b, seconds, seconds + length));
            var at = 0.0;
            foreach (var slot in bar.Slots)
            {
                PlaySlot(events, slot, beat + at, style, shift, s, i == form.Count - 1);
                at += slot.Beats;
            }
            if (_kind.Mix == Mix.Band) Drums(events, beat, s, style);
            if (_kind.Mix is Mix.Band or Mix.BandWithoutDrums && chart.Sections[s].Name != "Intro")
                melody = Melody(events, bar, beat, shift, melody);
            beat += Meter;
            seconds += length;
        }
        events.PrepareForExport();
        using var bytes = new MemoryStream();
        MidiFile.Export(bytes, events);
        return bytes.ToArray();
    }

    private static void Run(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        process.WaitForExit();
        if (process.ExitCode != 0) throw new InvalidOperationException($"{program} ended with {process.ExitCode}.");
    }

    private int Pick(params int[] programs) => programs[_random.Next(programs.Length)];

    private static long At(double beats) => (long)Math.Round(beats * Ticks);

    private void Note(MidiEventCollection events, int channel, int note, double at, double beats, int velocity)
    {
        var start = Math.Max(0, At(at + (_random.NextDouble() - 0.5) * 0.02));
        events.AddEvent(new NoteOnEvent(start, channel, Math.Clamp(note, 20, 108),
                Math.Clamp(velocity + _random.Next(-8, 9), 20, 120), Math.Max(20, (int)At(beats))), channel);
        events.AddEvent(
            new NoteEvent(start + Math.Max(20, At(beats)), channel, MidiCommandCode.NoteOff, Math.Clamp(note, 20, 108), 0),
            channel);
    }

    private void PlaySlot(MidiEventCollection events, Slot slot, double at, int style, int shift, int section, bool last)
    {
        if (slot.Chord is not { } chord) return;
        var root = chord.Root.PitchClass;
        var tones = chord.Degrees.Select(d => (root + d.Semitones) % 12).ToHashSet();
        // The guitar's strings, from the lowest tone of the chord on the fifth or sixth string upwards.
        var strum = Enumerable.Range(40, 30).Where(n => tones.Contains(n % 12)).SkipWhile(n => n % 12 != root)
            .Aggregate(new List<int>(), (l, n) => { if (l.Count < 6 && (l.Count == 0 || n - l[^1] >= 3)) l.Add(n); return l; });
        for (var beat = 0.0; beat < slot.Beats - 1e-6; beat += 0.5)
        {
            var down = beat % 1 == 0;
            if (!down && (style == 0 || _random.Next(3) == 0)) continue;
            if (style == 3 && _kind.Mix != Mix.Piano)
            {
                // Picked: one string after another.
                Note(events, 1, shift + (beat == 0 ? strum[0] : strum[1 + (int)(2 * beat) % Math.Max(1, strum.Count - 1)]),
                    at + beat, 1.2, 84);
                continue;
            }
            if (_kind.Mix == Mix.Piano) continue;
            for (var i = 0; i < strum.Count; i++)
                Note(events, 1, shift + strum[down ? i : strum.Count - 1 - i], at + beat + 0.012 * i, last ? 2 : 0.7,
                    down ? 84 : 66);
        }
        if (_kind.Mix == Mix.Guitar) return;
        var low = 28 + (root + 8) % 12;
        for (var beat = 0.0; beat < slot.Beats - 1e-6; beat += style == 1 ? 1 : 2)
        {
            var note = beat == 0 || _random.Next(3) > 0 ? low : low + (chord.Has(7) ? 7 : 6) - (low > 35 ? 12 : 0);
            Note(events, 2, shift + note, at + beat, style == 1 ? 0.9 : 1.8, 92);
            // A passing note before the next chord.
            if (style == 2 && beat + 2 >= slot.Beats && _random.Next(2) == 0)
                Note(events, 2, shift + low + (_random.Next(2) == 0 ? 2 : -1), at + slot.Beats - 0.5, 0.45, 84);
        }
        if (section % 2 == 0 || _kind.Mix == Mix.Piano)
            foreach (var n in Enumerable.Range(57, 12).Where(n => tones.Contains(n % 12)))
                Note(events, 3, shift + n, at, slot.Beats * 0.95, _kind.Mix == Mix.Piano ? 84 : 60);
    }

    private void Drums(MidiEventCollection events, double beat, int section, int style)
    {
        for (var b = 0.0; b < Meter; b += 0.5)
        {
            Note(events, 10, section == 2 ? 51 : 42, beat + b, 0.2, b % 1 == 0 ? 76 : 58);
            if (b == 0 || style > 1 && b == 2.5) Note(events, 10, 36, beat + b, 0.2, 104);
            if (Meter == 4 ? b is 1 or 3 : b is 1 or 2) Note(events, 10, 38, beat + b, 0.2, 92);
        }
    }

    private int Melody(MidiEventCollection events, Bar bar, double beat, int shift, int melody)
    {
        var at = 0.0;
        while (at < Meter)
        {
            var length = new[] { 0.5, 1, 1, 2 }[_random.Next(4)];
            length = Math.Min(length, Meter - at);
            if (_random.Next(5) > 0)
            {
                var chord = ChordAt(bar, at);
                var scale = Scale.Select(i => (Tonic + i) % 12).ToHashSet();
                var fits = Enumerable.Range(melody - 5, 11)
                    .Where(n => n is > 62 and < 84
                        && (chord is not null && at % 2 == 0
                            ? (chord.PitchClassMask >> n % 12 & 1) == 1
                            : scale.Contains(n % 12))).ToList();
                if (fits.Count > 0) melody = fits[_random.Next(fits.Count)];
                Note(events, 4, shift + melody, beat + at, length * 0.9, 80);
            }
            at += length;
        }
        return Math.Clamp(melody, 66, 80);
    }

    private static Core.Chords.Chord? ChordAt(Bar bar, double beat)
    {
        var at = 0.0;
        foreach (var slot in bar.Slots) { at += slot.Beats; if (beat < at) return slot.Chord; }
        return null;
    }

    public override string ToString() =>
        string.Create(CultureInfo.InvariantCulture, $"song {Seed}, {Flats[Tonic]}, {Meter}/4 at {Tempo}");
}
