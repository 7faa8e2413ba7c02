using System.Globalization;
using NAudio.Midi;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Formats;

/// <summary>Reads a chart from a Standard MIDI file: chord names written as text where there are any, else block chords named by
/// their notes.</summary>
internal sealed class MidiReader
{
    private const int DrumChannel = 10;
    private const int FewestTones = 3;
    private const int BarsInALine = 4;
    private const int MostParts = 8;            // parts that are looked through for broken chords
    private const int LongestSong = 4_000;      // quarter notes that are listened to, as long as a chart of 1,000 bars of 4/4
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

    private sealed record Note(long From, long To, int Pitch, int Track, int Channel);

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
        var notes = new List<Note>();
        var texts = new List<(long At, string Text)>();
        for (var track = 0; track < _file.Tracks; track++)
            foreach (var item in _file.Events[track])
                switch (item)
                {
                    case TextEvent { MetaEventType: MetaEventType.SequenceTrackName } name when track == 0:
                        _title = MidiText.Read(name); break;
                    case TextEvent { MetaEventType: MetaEventType.Marker } marker when MidiText.Read(
                        marker) is { Length: > 0 } section:
                        _sections[marker.AbsoluteTime] = section; break;
                    case TextEvent { MetaEventType: MetaEventType.TextEvent or MetaEventType.Lyric } text:
                        texts.Add((text.AbsoluteTime, MidiText.Read(text))); break;
                    case TimeSignatureEvent time: AddMeter(time); break;
                    case KeySignatureEvent key when _key is null && (sbyte)key.SharpsFlats is >= -7 and <= 7:
                        _key = new Key(new Core.Music.Note((sbyte)key.SharpsFlats + (key.MajorMinor == 1 ? 3 : 0)),
                            key.MajorMinor == 1);
                        break;
                    case TempoEvent tempo when _quarters is null && tempo.MicrosecondsPerQuarterNote > 0:
                        _quarters = tempo.Tempo; break;
                    case NoteOnEvent { Velocity: > 0 } on when on.Channel != DrumChannel:
                        notes.Add(new Note(on.AbsoluteTime,
                            on.AbsoluteTime + (on.OffEvent is null ? _ticks : Math.Max(1, on.NoteLength)), on.NoteNumber, track,
                            on.Channel));
                        break;
                }
        if (_meters.Count == 0 || _meters[0].At > 0) _meters.Insert(0, (0, Meter.Common));
        var end = notes.Select(n => n.To).DefaultIfEmpty(texts.Select(t => t.At + 4L * _ticks).DefaultIfEmpty(0).Max()).Max();
        var longest = (long)LongestSong * _ticks;
        var chords = Named(texts);
        if (chords is null)
        {
            var told = Blocks(notes);
            if (told.Count == 0) told = Broken(notes, Math.Min(end, longest));
            chords = [.. told.Select(c => (c.At, (Chord?)c.Chord))];
        }
        if (end > longest)
            _problems.Add(1, 1, $"This MIDI file is {end / _ticks:N0} beats long; only the first {LongestSong:N0} are read.");
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

    /// <summary>Chord names, when most texts of the file are such.</summary>
    private static List<(long At, Chord? Chord)>? Named(List<(long At, string Text)> texts)
    {
        var read = texts.Where(t => t.Text.Length is > 0 and < 24)
            .Select(t => (t.At, ChordReader.Read(t.Text).Chord, IsSilence: t.Text == Silence)).ToList();
        var chords = read.Where(r => r.Chord is not null || r.IsSilence).Select(r => (r.At, r.Chord)).ToList();
        return chords.Any(c => c.Chord is not null) && chords.Count >= 0.8 * read.Count ? [.. chords.OrderBy(c => c.At)] : null;
    }

    /// <summary>Chords by what sounds together on the track with most of it, looked at every half beat.</summary>
    private List<(long At, Chord Chord)> Blocks(List<Note> notes)
    {
        var key = _key ?? new Key(Core.Music.Note.C, false);
        var track =
            notes.GroupBy(n => (n.Track, n.Channel)).Select(g => (Notes: g.OrderBy(n => n.From).ToList(), Chords: Together(g)))
            .Where(g => g.Chords > 0).OrderByDescending(g => g.Chords).Select(g => g.Notes).FirstOrDefault();
        if (track is null) return [];
        var basses = notes.Where(n => (n.Track != track[0].Track || n.Channel != track[0].Channel) && n.Pitch < 52)
            .OrderBy(n => n.From).ToList();
        var chords = new List<(long At, Chord Chord)>();
        var grid = Math.Max(1, _ticks / 2);
        var unnamed = 0;
        // From place to place only what sounds is carried along; where nothing does, the next note is gone to.
        var (sounding, lows) = (new Sweep(track), new Sweep(basses));
        var end = Math.Min(track.Max(n => n.To), (long)LongestSong * _ticks);
        for (long at = 0; at < end; at += grid)
        {
            // What is struck a little early or late still belongs to this place.
            var here = sounding.At(at + grid / 2, at + grid / 4);
            if (here.Count == 0)
            {
                if (sounding.NextFrom is not { } next) break;
                at = Math.Max(at, (next - grid / 2) / grid * grid);
                continue;
            }
            var mask = here.Aggregate(0, (m, n) => m | 1 << n.Pitch % 12);
            if (System.Numerics.BitOperations.PopCount((uint)mask) < FewestTones) continue;
            var low = here.Concat(lows.At(at + grid / 4 + 1, at + grid / 4)).MinBy(n => n.Pitch)!.Pitch % 12;
            if (ChordNamer.Name(mask | 1 << low, low, key, chords.Count > 0 ? chords[^1].Chord : null) is not [var chord, ..])
            {
                unnamed++;
                continue;
            }
            if (chords.Count == 0 || chords[^1].Chord.PitchClassMask != chord.PitchClassMask
                || chords[^1].Chord.BassPitchClass != chord.BassPitchClass)
                chords.Add((at, chord));
        }
        if (unnamed > 0)
            _problems.Add(1, 1,
                $"At {unnamed} places the notes that sound together make no chord with a name; the chord before goes on there.");
        return chords;
    }

    /// <summary>Chords whose notes come one after the other, on the part that makes most of them.</summary>
    private List<(long At, Chord Chord)> Broken(List<Note> notes, long end)
    {
        var beats = Beats(end);
        var reader = new BrokenChords(_key ?? new Key(Core.Music.Note.C, false));
        var best = notes.GroupBy(n => (n.Track, n.Channel)).OrderByDescending(g => g.Count()).Take(MostParts)
            .Select(g => reader.Read(beats, [.. g.OrderBy(n => n.From).Select(n => (n.From, n.Pitch))]))
            .OrderByDescending(r => r.Chords.Count).FirstOrDefault();
        if (best.Chords is not { Count: > 0 } chords)
        {
            _problems.Add(1, 1, notes.Count == 0
                ? "This MIDI file has neither notes nor chord names, so there is nothing to read."
                : "No chords were found in this MIDI file: there are no chord names, no three notes sound together, and those "
                    + "that follow one another in a bar make no chord. Bring a file with a guitar or piano part.");
            return [];
        }
        _problems.Add(1, 1,
            "The chords of this MIDI file are told from notes that are struck one after the other, bar by bar; listen whether "
                + "they are right.");
        if (best.Unnamed > 0)
            _problems.Add(1, 1,
                $"In {(best.Unnamed == 1 ? "one bar" : $"{best.Unnamed} bars")} those notes make no chord with a name; the "
                    + "chord before goes on there.");
        return chords;
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

    /// <summary>Notes in the order they begin, with those that sound kept at hand.</summary>
    private sealed class Sweep(List<Note> notes)
    {
        private const int MostSounding = 64;
        private readonly List<Note> _sounding = [];
        private int _next;

        /// <summary>When the next note begins; null when there is none.</summary>
        public long? NextFrom => _next < notes.Count ? notes[_next].From : null;

        /// <summary>The notes that begin before one time and end after another. Times never go back.</summary>
        public IReadOnlyList<Note> At(long before, long after)
        {
            _sounding.RemoveAll(n => n.To <= after);
            for (; _next < notes.Count && notes[_next].From < before; _next++)
                if (notes[_next].To > after && _sounding.Count < MostSounding) _sounding.Add(notes[_next]);
            return _sounding;
        }
    }

    private int Together(IEnumerable<Note> notes) =>
        notes.GroupBy(n => n.From / Math.Max(1, _ticks / 4))
            .Count(g => g.Select(n => n.Pitch % 12).Distinct().Count() >= FewestTones);

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
