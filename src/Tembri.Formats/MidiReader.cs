using System.Globalization;
using NAudio.Midi;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Formats;

/// <summary>Reads a chart from a Standard MIDI file: chord names written as text where there are any, else block chords named by their notes.</summary>
internal sealed class MidiReader
{
    private const int DrumChannel = 10;
    private const int FewestTones = 3;
    private const int BarsInALine = 4;
    private readonly List<ChartProblem> _problems = [];
    private readonly MidiFile _file;
    private readonly int _ticks;
    private readonly List<(long At, Meter Meter)> _meters = [];
    private readonly SortedDictionary<long, string> _sections = [];
    private string _title = "";
    private Key? _key;
    private double? _quarters;

    private sealed record Note(long From, long To, int Pitch, int Track, int Channel);

    private MidiReader(MidiFile file) => (_file, _ticks) = (file, Math.Max(1, file.DeltaTicksPerQuarterNote));

    /// <summary>Reads a file.</summary>
    /// <exception cref="FormatException">It is no MIDI file, or so damaged that nothing can be read.</exception>
    public static ChartReading Read(byte[] data)
    {
        MidiFile file;
        try
        {
            using var stream = new MemoryStream(data);
            file = new MidiFile(stream, false);
        }
        catch (Exception e) when (e is FormatException or EndOfStreamException or ArgumentException or InvalidOperationException or IndexOutOfRangeException or OverflowException or NotSupportedException or IOException or InvalidDataException or ArithmeticException or NullReferenceException)
        {
            throw new FormatException("This MIDI file breaks off or is damaged; save it again in the program it comes from.", e);
        }
        if (file.DeltaTicksPerQuarterNote is <= 0 or > 32_767) throw new FormatException("This MIDI file counts in film frames instead of beats; save it with beats.");
        return new MidiReader(file).ReadAll();
    }

    private ChartReading ReadAll()
    {
        var notes = new List<Note>();
        var texts = new List<(long At, string Text)>();
        for (var track = 0; track < _file.Tracks; track++)
            foreach (var item in _file.Events[track])
                switch (item)
                {
                    case TextEvent { MetaEventType: MetaEventType.SequenceTrackName } name when track == 0: _title = name.Text.Trim(); break;
                    case TextEvent { MetaEventType: MetaEventType.Marker } marker when marker.Text.Trim().Length > 0: _sections[marker.AbsoluteTime] = marker.Text.Trim(); break;
                    case TextEvent { MetaEventType: MetaEventType.TextEvent or MetaEventType.Lyric } text: texts.Add((text.AbsoluteTime, text.Text.Trim())); break;
                    case TimeSignatureEvent time: AddMeter(time); break;
                    case KeySignatureEvent key when _key is null && (sbyte)key.SharpsFlats is >= -7 and <= 7:
                        _key = new Key(new Core.Music.Note((sbyte)key.SharpsFlats + (key.MajorMinor == 1 ? 3 : 0)), key.MajorMinor == 1);
                        break;
                    case TempoEvent tempo when _quarters is null && tempo.MicrosecondsPerQuarterNote > 0: _quarters = tempo.Tempo; break;
                    case NoteOnEvent { Velocity: > 0 } on when on.Channel != DrumChannel: notes.Add(new Note(on.AbsoluteTime, on.AbsoluteTime + (on.OffEvent is null ? _ticks : Math.Max(1, on.NoteLength)), on.NoteNumber, track, on.Channel)); break;
                }
        if (_meters.Count == 0 || _meters[0].At > 0) _meters.Insert(0, (0, Meter.Common));
        var end = notes.Select(n => n.To).DefaultIfEmpty(texts.Select(t => t.At + 4L * _ticks).DefaultIfEmpty(0).Max()).Max();
        var chords = Named(texts) ?? Blocks(notes);
        if (chords.Count == 0) _problems.Add(new(1, 1, "This MIDI file has neither chord names nor chords of three notes or more that sound together."));
        return new ChartReading(ToChart(chords, end), _problems);
    }

    private void AddMeter(TimeSignatureEvent time)
    {
        if (!Meter.TryParse(string.Create(CultureInfo.InvariantCulture, $"{time.Numerator}/{1 << Math.Clamp(time.Denominator, 0, 6)}"), out var meter))
            _problems.Add(new(1, 1, $"The meter {time.Numerator}/{1 << Math.Clamp(time.Denominator, 0, 6)} is not known here; the one before stays."));
        else if (_meters.Count == 0 || _meters[^1].Meter != meter) _meters.Add((time.AbsoluteTime, meter));
    }

    /// <summary>Chord names, when most texts of the file are such.</summary>
    private static List<(long At, Chord Chord)>? Named(List<(long At, string Text)> texts)
    {
        var read = texts.Where(t => t.Text.Length is > 0 and < 24).Select(t => (t.At, ChordReader.Read(t.Text).Chord)).ToList();
        var chords = read.Where(r => r.Chord is not null).Select(r => (r.At, r.Chord!)).ToList();
        return chords.Count >= 1 && chords.Count >= 0.8 * read.Count ? [.. chords.OrderBy(c => c.At)] : null;
    }

    /// <summary>Chords by what sounds together on the track with most of it, looked at every half beat.</summary>
    private List<(long At, Chord Chord)> Blocks(List<Note> notes)
    {
        var key = _key ?? new Key(Core.Music.Note.C, false);
        var track = notes.GroupBy(n => (n.Track, n.Channel)).Select(g => (Notes: g.OrderBy(n => n.From).ToList(), Chords: Together(g)))
            .Where(g => g.Chords > 0).OrderByDescending(g => g.Chords).Select(g => g.Notes).FirstOrDefault();
        if (track is null) return [];
        var basses = notes.Where(n => n.Track != track[0].Track || n.Channel != track[0].Channel).ToList();
        var chords = new List<(long At, Chord Chord)>();
        var grid = Math.Max(1, _ticks / 2);
        var unnamed = 0;
        for (long at = 0; at < track[^1].To; at += grid)
        {
            // What is struck a little early or late still belongs to this place.
            var here = track.Where(n => n.From < at + grid / 2 && n.To > at + grid / 4).ToList();
            var mask = here.Aggregate(0, (m, n) => m | 1 << n.Pitch % 12);
            if (System.Numerics.BitOperations.PopCount((uint)mask) < FewestTones) continue;
            var low = here.Concat(basses.Where(n => n.From <= at + grid / 4 && n.To > at + grid / 4 && n.Pitch < 52)).MinBy(n => n.Pitch)!.Pitch % 12;
            if (ChordNamer.Name(mask | 1 << low, low, key, chords.Count > 0 ? chords[^1].Chord : null) is not [var chord, ..]) { unnamed++; continue; }
            if (chords.Count == 0 || chords[^1].Chord.PitchClassMask != chord.PitchClassMask || chords[^1].Chord.BassPitchClass != chord.BassPitchClass) chords.Add((at, chord));
        }
        if (unnamed > 0) _problems.Add(new(1, 1, $"At {unnamed} places the notes that sound together make no chord with a name; the chord before goes on there."));
        return chords;
    }

    private int Together(IEnumerable<Note> notes) =>
        notes.GroupBy(n => n.From / Math.Max(1, _ticks / 4)).Count(g => g.Select(n => n.Pitch % 12).Distinct().Count() >= FewestTones);

    private Chart ToChart(List<(long At, Chord Chord)> chords, long end)
    {
        var bars = new List<(string? Section, Bar Bar)>();
        var (at, next, meterAt, inSection) = (0L, 0, 0, -1);
        var maker = new BarMaker();
        while (at < end - _ticks / 8 && bars.Count < ChartReader.MostBars)
        {
            while (meterAt + 1 < _meters.Count && _meters[meterAt + 1].At <= at) meterAt++;
            var meter = _meters[meterAt].Meter;
            var beat = (double)_ticks * NoteValues.OfBeat(meter) / NoteValues.Quarter;
            var length = (long)Math.Round(beat * meter.Beats);
            var division = beat / meter.Division;
            var inside = new List<(double At, Slot Slot)>();
            while (next < chords.Count && chords[next].At < at + length - division / 4)
            {
                var place = Math.Round(Math.Max(0, chords[next].At - at) / division) / meter.Division;
                if (inside.Count > 0 && inside[^1].At >= place) inside.RemoveAt(inside.Count - 1);
                if (place < meter.Beats) inside.Add((place, new Slot(chords[next].Chord.Name, chords[next].Chord, 0)));
                next++;
            }
            var slots = maker.Next(inside, meter.Beats, meter, lineIsFree: (next >= chords.Count || chords[next].At > at + length + division / 4) && at + length < end - _ticks / 8);
            var name = _sections.FirstOrDefault(s => Math.Abs(s.Key - at) <= _ticks / 4).Value;
            inSection = name is null ? inSection + 1 : 0;
            bars.Add((name, new Bar(meter, slots, StartsLine: inSection % BarsInALine == 0)));
            at += length;
        }
        var (sections, form) = Sections.Cut(bars);
        var first = _meters[0].Meter;
        var chart = new Chart { Title = _title, Meter = first, Sections = sections, Form = form, KeyIsGiven = _key is not null };
        if (_quarters is { } quarters) chart = chart with { Tempo = Math.Clamp(Math.Round(quarters * NoteValues.Quarter / NoteValues.OfBeat(first), 2), 20, 320) };
        return chart with { Key = _key ?? KeyFinder.Guess([.. chart.Played().Select(s => s.Chord).OfType<Chord>()]) };
    }
}
