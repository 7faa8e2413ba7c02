using System.Buffers.Binary;
using System.Text;

namespace Tembri.Formats.Tests.Scores;

/// <summary>A made-up song as a Standard MIDI file, as one of the many programs and players that make them would: one track or
/// several, chords named or only played, at once or strummed, in time or nearly. Each habit is drawn by chance.</summary>
internal sealed class WrittenMidi
{
    private static readonly string[][] Pools =
    [
        ["C", "G", "Am", "F", "Dm", "Em"], ["D", "A", "Bm", "G", "Em", "F#m"], ["Bb", "Eb", "Cm7", "F7", "Gm", "Dm7"],
        ["Cmaj7", "A7", "Dm7", "G7", "Fmaj7", "E7"], ["G", "D", "Em7", "C", "Dsus4", "Bm7"], ["Am", "E7", "Dm", "F", "C", "G7"],
    ];
    private static readonly Dictionary<string, int[]> Tones = new()
    {
        [""] = [0, 4, 7], ["m"] = [0, 3, 7], ["7"] = [0, 4, 7, 10], ["m7"] = [0, 3, 7, 10], ["maj7"] = [0, 4, 7, 11], ["sus4"] = [0, 5, 7],
    };
    private static readonly string[] Names = ["Intro", "Verse 1", "Chorus", "Verse 2", "Bridge", "Outro"];

    private readonly Random _chance;
    private readonly int _ticks;
    private readonly List<List<(long At, int Order, byte[] Bytes)>> _tracks = [];
    private readonly List<string> _bars = [];

    /// <summary>The file.</summary>
    public byte[] Bytes { get; }

    /// <summary>Its title; null where none is written.</summary>
    public string? Title { get; }

    /// <summary>Quarter notes a minute.</summary>
    public int Quarters { get; }

    /// <summary>Each bar: chords with their beats.</summary>
    public IReadOnlyList<string> Bars => _bars;

    /// <summary>Names of sections in order.</summary>
    public IReadOnlyList<string> Sections { get; }

    /// <summary>True where chords are only told by notes that follow one another, or below a tune of the same part.</summary>
    public bool IsHard { get; }

    /// <summary>What was drawn, to be looked at.</summary>
    public string Habits { get; }

    public WrittenMidi(int seed)
    {
        _chance = new Random(seed);
        _ticks = Pick([96, 120, 192, 240, 480, 960]);
        var pool = Pick(Pools);
        var (beats, unit, beat) = Pick([(4, 2, _ticks), (4, 2, _ticks), (3, 2, _ticks), (2, 3, _ticks * 3 / 2), (2, 2, _ticks)]);
        var isOneTrack = Often(0.3);
        // How chords are told: by names as text, markers or lyrics, else by notes alone.
        var (named, hasLyrics, hand) = (_chance.Next(5), Often(0.3), _chance.Next(5));
        var (sway, strum) = (Often(0.4) ? _ticks / 24 : 0, Often(0.4) ? _ticks / 32 : 0);
        var (isBass, isTune, isDrums) = (Often(0.5), Often(0.5), Often(0.3));
        var isTogether = isTune && Often(0.2);
        Quarters = Pick([72, 96, 120, 133]);
        Title = Often(0.8) ? "Lantern River" : null;
        for (var i = 0; i < 6; i++) _tracks.Add([]);
        var (head, guitar, bass, tune, drums, words) = (0, 1, 2, 3, 4, 5);
        if (Title is not null) Meta(head, 0, 3, Title);
        Add(head, 0, [0xFF, 0x51, 3, .. Three(60_000_000 / Quarters)]);
        Add(head, 0, [0xFF, 0x58, 4, (byte)(unit == 3 ? 6 : beats), (byte)unit, 24, 8]);
        Meta(guitar, 0, 3, "Guitar");
        if (isTune) Meta(tune, 0, 3, "Voice");
        Add(guitar, 0, [0xC0, 24]);
        var (count, sections, sounding, at) = (_chance.Next(4, 17), new List<string>(), "", 0L);
        var isMarked = named != 1 && Often(0.5);
        for (var bar = 0; bar < count; bar++, at += beats * beat)
        {
            if (isMarked && bar % 4 == 0 && bar / 4 < Names.Length && (bar == 0 || Often(0.7)))
            {
                Meta(head, at, 6, Names[bar / 4]);
                sections.Add(Names[bar / 4]);
            }
            var slots = new List<(int At, string Symbol)>();
            for (var i = 0; i < beats; i++)
                if (bar == 0 && i == 0 || Often(i == 0 ? 0.95 : i == 2 ? 0.35 : 0.1)) slots.Add((i, Pick(pool)));
            if (slots.Count == 0 || slots[0].At > 0) slots.Insert(0, (0, sounding));
            for (var i = slots.Count - 1; i > 0; i--) if (slots[i].Symbol == slots[i - 1].Symbol) slots.RemoveAt(i);
            for (var i = 0; i < slots.Count; i++)
            {
                var (from, symbol) = slots[i];
                var to = i + 1 < slots.Count ? slots[i + 1].At : beats;
                if (named < 3 && symbol != sounding)
                    Meta(isOneTrack ? head : guitar, at + from * beat, named switch { 0 => 1, 1 => 6, _ => 5 }, symbol);
                sounding = symbol;
                Strike(guitar, at, symbol, from, to, beat, hand, sway, strum);
                if (isBass) Note(bass, 1, 28 + (Root(symbol) + 8) % 12, at + from * beat, (to - from) * (long)beat * 9 / 10);
            }
            _bars.Add(string.Join(' ', slots.Select((s, i) => $"{s.Symbol}:{(i + 1 < slots.Count ? slots[i + 1].At : beats) - s.At}")));
            for (var i = 0; i < beats; i++)
            {
                var (track, channel) = isTogether ? (guitar, 0) : (tune, 2);
                if (isTune) Note(track, channel, 67 + Pick([0, 2, 4, 5, 7]), at + i * beat, beat * 3 / 4);
                if (isDrums) Note(drums, 9, i % 2 == 0 ? 36 : 38, at + i * beat, beat / 4);
                if (hasLyrics && named != 2) Meta(words, at + i * beat, 5, Pick(["ri", "ver ", "lan", "tern ", "A ", "stone "]));
            }
        }
        Sections = sections;
        IsHard = named > 2 && (hand == 4 || isTogether);
        Habits = $"ticks {_ticks}, one track {isOneTrack}, named {named}, lyrics {hasLyrics}, hand {hand}, sway {sway}, strum {strum}, bass {isBass}, tune {isTune}, together {isTogether}";
        Bytes = Written(isOneTrack);
    }

    private T Pick<T>(T[] from) => from[_chance.Next(from.Length)];

    private bool Often(double share) => _chance.NextDouble() < share;

    private static int Root(string symbol) =>
        ("C D EF G A B".IndexOf(symbol[0], StringComparison.Ordinal) + (symbol.Length > 1 && symbol[1] == '#' ? 1 : symbol.Length > 1 && symbol[1] == 'b' ? 11 : 0)) % 12;

    /// <summary>A chord from one beat to another: held, struck on each beat, on each half, or short.</summary>
    private void Strike(int track, long bar, string symbol, int from, int to, int beat, int hand, int sway, int strum)
    {
        var root = Root(symbol);
        var kind = symbol[(symbol.Length > 1 && symbol[1] is '#' or 'b' ? 2 : 1)..];
        int[] pitches = [40 + (root + 8) % 12, .. Tones[kind].Select(t => 52 + (root + t + 8) % 12).Order()];
        var step = hand == 0 ? (to - from) * beat : hand == 2 ? beat / 2 : beat;
        if (hand == 4)
        {
            // Picked: the lowest, then up and down.
            var half = beat / 2;
            for (var (at, i) = (from * beat, 0); at < to * beat; at += half, i++)
                Note(track, 0, pitches[i == 0 ? 0 : 1 + i % (pitches.Length - 1)], Math.Max(0, bar + at), half);
            return;
        }
        for (var at = from * beat; at < to * beat; at += step)
            for (var i = 0; i < pitches.Length; i++)
            {
                var late = sway == 0 ? 0 : _chance.Next(-sway, sway + 1);
                Note(track, 0, pitches[i], Math.Max(0, bar + at + late + i * strum),
                    hand == 3 ? step / 2 : step * 95 / 100 - i * strum);
            }
    }

    private void Note(int track, int channel, int pitch, long at, long length)
    {
        Add(track, at, [(byte)(0x90 | channel), (byte)pitch, (byte)_chance.Next(50, 100)], 2);
        byte[] off = track % 2 == 0 ? [(byte)(0x80 | channel), (byte)pitch, 64] : [(byte)(0x90 | channel), (byte)pitch, 0];
        Add(track, at + Math.Max(1, length), off, 1);
    }

    private void Meta(int track, long at, int type, string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        Add(track, at, [0xFF, (byte)type, (byte)bytes.Length, .. bytes]);
    }

    private void Add(int track, long at, byte[] bytes, int order = 0) => _tracks[track].Add((at, order, bytes));

    private byte[] Written(bool isOneTrack)
    {
        var tracks = isOneTrack
            ? [_tracks.SelectMany(t => t)]
            : _tracks.Where((t, i) => i == 0 || t.Count > 0).Select(t => t.AsEnumerable()).ToList();
        var file = new List<byte>([.. "MThd"u8, 0, 0, 0, 6, 0, (byte)(isOneTrack ? 0 : 1), 0, (byte)tracks.Count, (byte)(_ticks >> 8), (byte)_ticks]);
        foreach (var track in tracks)
        {
            var (body, last, status) = (new List<byte>(), 0L, 0);
            var isRunning = Often(0.5);
            foreach (var (at, _, bytes) in track.OrderBy(e => e.At).ThenBy(e => e.Order))
            {
                body.AddRange(Length(at - last));
                last = at;
                body.AddRange(isRunning && bytes[0] == status && bytes[0] < 0xF0 ? bytes[1..] : bytes);
                status = bytes[0];
            }
            body.AddRange([0, 0xFF, 0x2F, 0]);
            var size = new byte[4];
            BinaryPrimitives.WriteInt32BigEndian(size, body.Count);
            file.AddRange([.. "MTrk"u8, .. size, .. body]);
        }
        return [.. file];
    }

    private static byte[] Three(int value) => [(byte)(value >> 16), (byte)(value >> 8), (byte)value];

    private static byte[] Length(long value)
    {
        var bytes = new List<byte> { (byte)(value & 0x7F) };
        while ((value >>= 7) > 0) bytes.Insert(0, (byte)(value & 0x7F | 0x80));
        return [.. bytes];
    }
}
