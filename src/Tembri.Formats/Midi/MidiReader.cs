using System.Globalization;
using NAudio.Midi;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Formats.Sounding;

namespace Tembri.Formats.Midi;

/// <summary>Reads a chart from a Standard MIDI file: chord names written as text where there are any, else block chords named by
/// their notes.</summary>
internal sealed class MidiReader
{
    private const int DrumChannel = 10;
    private const int BarsInALine = 4;
    private const int MostMeters = 2_000;
    /// <summary>How a stretch without a chord is written among chord names.</summary>
    public const string Silence = "N.C.";
    private readonly ProblemList _problems = new();
    private readonly MidiFile _file;
    private readonly int _ticks;
    private readonly List<(long At, Meter Meter)> _meters = [];
    private readonly SortedDictionary<long, string> _sections = [];
    private string _title = "";
    private Key? _key;
    private double? _quarters;

    private MidiReader(MidiFile file) => (_file, _ticks) = (file, Math.Max(1, file.DeltaTicksPerQuarterNote));

    /// <summary>Reads a file.</summary>
    /// <exception cref="FormatException">It is no MIDI file, or so damaged that nothing can be read.</exception>
    public static ChartReading Read(byte[] data)
    {
        MidiShape.Check(data);
        MidiFile file;
        try
        {
            using var stream = new MemoryStream(data);
            file = new MidiFile(stream, false);
        }
        catch (Exception e) when (e is FormatException or EndOfStreamException or ArgumentException or InvalidOperationException
            or IndexOutOfRangeException or OverflowException or NotSupportedException or IOException or InvalidDataException
            or ArithmeticException or NullReferenceException)
        {
            throw new FormatException("This MIDI file breaks off or is damaged; save it again in the program it comes from.", e);
        }
        if (file.DeltaTicksPerQuarterNote is <= 0 or > 32_767)
            throw new FormatException("This MIDI file counts in film frames instead of beats; save it with beats.");
        return new MidiReader(file).ReadAll();
    }

    private ChartReading ReadAll()
    {
        var notes = new List<PlayedNote>();
        var texts = new List<(long At, int Track, MetaEventType Kind, string Text)>();
        for (var track = 0; track < _file.Tracks; track++)
            foreach (var item in _file.Events[track])
                switch (item)
                {
                    // Where all tracks are one, the first name is that of the song.
                    case TextEvent { MetaEventType: MetaEventType.SequenceTrackName } name when track == 0 && _title.Length == 0:
                        _title = MidiText.Read(name); break;
                    case TextEvent text
                        when text.MetaEventType is MetaEventType.TextEvent or MetaEventType.Lyric or MetaEventType.Marker:
                        texts.Add((text.AbsoluteTime, track, text.MetaEventType, MidiText.Read(text))); break;
                    case TimeSignatureEvent time: AddMeter(time); break;
                    case KeySignatureEvent key when _key is null && (sbyte)key.SharpsFlats is >= -7 and <= 7:
                        _key = new Key(new Note((sbyte)key.SharpsFlats + (key.MajorMinor == 1 ? 3 : 0)),
                            key.MajorMinor == 1);
                        break;
                    case TempoEvent tempo when _quarters is null && tempo.MicrosecondsPerQuarterNote > 0:
                        _quarters = tempo.Tempo; break;
                    case NoteOnEvent { Velocity: > 0 } on when on.Channel != DrumChannel:
                        notes.Add(new PlayedNote(on.AbsoluteTime,
                            on.AbsoluteTime + (on.OffEvent is null ? _ticks : Math.Max(1, on.NoteLength)), on.NoteNumber, track,
                            on.Channel));
                        break;
                }
        if (_meters.Count == 0 || _meters[0].At > 0) _meters.Insert(0, (0, Meter.Common));
        var end = notes.Select(n => n.To).DefaultIfEmpty(texts.Select(t => t.At + 4L * _ticks).DefaultIfEmpty(0).Max()).Max();
        var longest = (long)SoundedChords.LongestSong * _ticks;
        var (chords, from) = Named(texts);
        foreach (var (at, track, kind, text) in texts)
            if (kind == MetaEventType.Marker && text.Length > 0 && from != (track, kind)) _sections[at] = text;
        chords ??= [.. new SoundedChords(_key ?? new Key(Note.C, false), _ticks, longest, "MIDI file", m => _problems.Add(1, 1, m))
            .Of(notes, Beats(Math.Min(end, longest))).Chords.Select(c => (c.At, (Chord?)c.Chord))];
        if (end > longest)
            _problems.Add(1, 1, $"This MIDI file is {end / _ticks:N0} beats long; only the first {SoundedChords.LongestSong:N0} are read.");
        return new ChartReading(ToChart(chords, Math.Min(end, longest)), _problems.ToList());
    }

    private void AddMeter(TimeSignatureEvent time)
    {
        if (!Meter.TryParse(
            string.Create(CultureInfo.InvariantCulture, $"{time.Numerator}/{1 << Math.Clamp(time.Denominator, 0, 6)}"),
            out var meter))
            _problems.Add(1, 1,
                $"The meter {time.Numerator}/{1 << Math.Clamp(time.Denominator, 0, 6)} is not known "
                    + "here; the one before stays.");
        else if (_meters.Count < MostMeters && (_meters.Count == 0 || _meters[^1].Meter != meter))
            _meters.Add((time.AbsoluteTime, meter));
    }

    /// <summary>Chord names, on the track and of the kind of text of which most are such; null where none is.</summary>
    private static (List<(long At, Chord? Chord)>? Chords, (int Track, MetaEventType Kind)? From) Named(
        List<(long At, int Track, MetaEventType Kind, string Text)> texts)
    {
        var best = texts.Where(t => t.Text.Length is > 0 and < 24).GroupBy(t => (t.Track, t.Kind))
            .Select(g => (g.Key, All: g.Count(),
                Chords: g.Select(t => (t.At, ChordReader.Read(t.Text).Chord, IsSilence: t.Text == Silence))
                    .Where(t => t.Chord is not null || t.IsSilence).OrderBy(t => t.At).ToList()))
            // Sections may be called A, B and C.
            .Where(g => g.Chords.Count >= 0.8 * g.All
                && g.Chords.Exists(c => c.Chord is { } chord && (g.Key.Kind != MetaEventType.Marker || chord.Name.Length > 1)))
            .OrderByDescending(g => g.Chords.Count).FirstOrDefault();
        return best.Chords is null ? (null, null) : ([.. best.Chords.Select(c => (c.At, c.Chord))], best.Key);
    }

    /// <summary>Every beat of the file, with the bar it belongs to.</summary>
    private List<(long At, long Length, int Bar)> Beats(long end)
    {
        var beats = new List<(long At, long Length, int Bar)>();
        var (at, meterAt) = (0L, 0);
        for (var bar = 0; at < end && bar < ChartLimits.MostBars; bar++)
        {
            while (meterAt + 1 < _meters.Count && _meters[meterAt + 1].At <= at) meterAt++;
            var meter = _meters[meterAt].Meter;
            var beat = Math.Max(1, (long)_ticks * NoteValues.OfBeat(meter) / NoteValues.Quarter);
            for (var i = 0; i < meter.Beats; i++, at += beat) beats.Add((at, beat, bar));
        }
        return beats;
    }

    private Chart ToChart(List<(long At, Chord? Chord)> chords, long end)
    {
        var bars = new List<(string? Section, Bar Bar)>();
        var (at, next, meterAt, inSection) = (0L, 0, 0, -1);
        var (marks, sectionAt) = (_sections.ToList(), 0);
        var maker = new BarMaker();
        while (at < end - _ticks / 8 && bars.Count < ChartLimits.MostBars)
        {
            while (meterAt + 1 < _meters.Count && _meters[meterAt + 1].At <= at) meterAt++;
            var meter = _meters[meterAt].Meter;
            var beat = (double)_ticks * NoteValues.OfBeat(meter) / NoteValues.Quarter;
            var length = Math.Max(1, (long)Math.Round(beat * meter.Beats));
            var division = beat / meter.Division;
            var inside = new List<(double At, Slot Slot)>();
            while (next < chords.Count && chords[next].At < at + length - division / 4)
            {
                var place = Math.Round(Math.Max(0, chords[next].At - at) / division) / meter.Division;
                if (inside.Count > 0 && inside[^1].At >= place) inside.RemoveAt(inside.Count - 1);
                if (place < meter.Beats && inside.Count < ChartLimits.MostChordsInBar)
                    inside.Add((place, new Slot(chords[next].Chord?.Name ?? Silence, chords[next].Chord, 0)));
                next++;
            }
            var slots = maker.Next(inside, meter.Beats, meter,
                lineIsFree: (next >= chords.Count || chords[next].At > at + length + division / 4)
                    && at + length < end - _ticks / 8);
            while (sectionAt < marks.Count && marks[sectionAt].Key < at - _ticks / 4) sectionAt++;
            var name = sectionAt < marks.Count && marks[sectionAt].Key <= at + _ticks / 4 ? marks[sectionAt].Value : null;
            inSection = name is null ? inSection + 1 : 0;
            bars.Add((name, new Bar(meter, slots, StartsLine: inSection % BarsInALine == 0)));
            at += length;
        }
        // A first bar of its own, shorter than those that follow, is a pickup: the meter of the song comes after it.
        var first = _meters[0].Meter;
        if (bars.Count > 1 && bars[1].Bar.Meter is var song && NoteValues.OfBar(first) < NoteValues.OfBar(song)) first = song;
        var (sections, form, _) = Sections.Cut(bars);
        var chart = new Chart
        {
            Title = PlainText.Cut(PlainText.OneLine(_title), ChartLimits.LongestName), Meter = first, Sections = sections,
            Form = form, KeyIsGiven = _key is not null
        };
        if (_quarters is { } quarters)
            chart = chart
                with { Tempo = Math.Clamp(Math.Round(quarters * NoteValues.Quarter / NoteValues.OfBeat(first), 2), 20, 320) };
        return chart with { Key = _key ?? KeyFinder.Guess([.. chart.Played().Select(s => s.Chord).OfType<Chord>()]) };
    }
}
