namespace Tembri.Formats.Tests.Scores;

/// <summary>A made-up song engraved as MusicXML as one of the many programs that write it would: where its chord symbols stand,
/// how they are called, which staff has the signs, in which letters. Each habit is drawn by chance, so that they
/// meet.</summary>
/// <remarks>The order of playing is known by construction: blocks are played, not signs followed.</remarks>
internal sealed partial class WrittenScore
{
    /// <summary>A measure as it stands on the page.</summary>
    private sealed class Measure
    {
        public required string Time { get; init; }
        public List<(int At, string Symbol)> Chords { get; } = [];   // in beats of the meter
        public List<string[]> Verses { get; } = [];                  // syllables, a hyphen where a word goes on
        public string? Name { get; set; }
        public string Left { get; set; } = "";
        public string Right { get; set; } = "";
        public List<string> Before { get; } = [];                    // directions at its beginning and at its end
        public List<string> After { get; } = [];
        public int Played { get; set; }
        public bool IsPickup { get; init; }                          // one beat
        public int Again { get; set; }                               // how many measures back what it repeats stands
    }

    private sealed record Block(List<Measure> Body, List<Measure> First, List<Measure> Last, int Times);

    private static readonly string[] Words =
        [.. "ri-ver lan-tern mor-ning win-dow qui-et gar-den sil-ver stone hol-low win-ter let-ter nar-row light rain".Split(' ')];
    private static readonly string[] Names = ["Intro", "Verse 1", "Chorus", "Verse 2", "Bridge", "Outro", "A", "B", "C"];
    private static readonly string[][] Pools =
    [
        ["C", "G", "Am", "F", "Dm", "Em"], ["D", "A", "Bm", "G", "Em", "F#m"], ["Bb", "Eb", "Cm7", "F7", "Gm", "Dm7"],
        ["Cmaj7", "A7", "Dm7", "G7", "Bm7b5", "E7b9"], ["G", "D/F#", "Em7", "Cadd9", "Dsus4", "Am7/G"],
        ["Am", "E7", "Dm6", "G13", "F#dim7", "C+"], ["A5", "D5", "Esus2", "B7sus4", "F#m(maj7)", "A6"], ["D9", "G#dim", "Em9", "A7#5", "Dmaj9", "C#m11"],
    ];

    private readonly Random _chance;
    private readonly List<Measure> _page = [];
    private readonly List<(Measure Measure, int Pass)> _played = [];
    private readonly string[] _pool;
    private readonly int _divisions, _hand, _kinds, _names, _jumps;
    private readonly bool _two, _chordsBelow, _signsAbove, _lyricsBelow, _inBoth;
    private readonly bool _asWords, _isMoved, _inSecondVoice, _saysAgain, _hasGraces;

    /// <summary>The document.</summary>
    public byte[] Bytes { get; private set; } = [];

    /// <summary>The same, to be looked at.</summary>
    public string Text { get; private set; } = "";

    /// <summary>Its title.</summary>
    public string Title { get; }

    /// <summary>Quarter notes a minute.</summary>
    public int Quarters { get; }

    /// <summary>Each bar as it is played: chords with their beats.</summary>
    public IReadOnlyList<string> Bars { get; private set; } = [];

    /// <summary>Each bar as it is played: the words sung in it.</summary>
    public IReadOnlyList<string> Sung { get; private set; } = [];

    /// <summary>Names of sections in the order they stand on the page.</summary>
    public IReadOnlyList<string> Sections => [.. _page.Select(m => m.Name).OfType<string>()];

    public WrittenScore(int seed)
    {
        _chance = new Random(seed);
        _pool = Pick(Pools);
        _divisions = Pick([1, 2, 4, 8, 24, 480, 10080]);
        (_hand, _kinds, _names, _jumps) = (_chance.Next(4), _chance.Next(4), _chance.Next(4), _chance.Next(4));
        _two = Often(0.4);
        (_chordsBelow, _signsAbove, _lyricsBelow) = (_two && Often(0.5), _two && Often(0.6), _two && Often(0.3));
        (_asWords, _isMoved, _inSecondVoice, _saysAgain) = (Often(0.1), Often(0.15), Often(0.1), Often(0.4));
        (_inBoth, _hasGraces) = (_two && Often(0.2), Often(0.1));
        if (_asWords || _saysAgain) _hand = 0;
        Title = Pick(["Lantern River", "Quiet Garden", "Stone & Silver", "Winter's Letter"]);
        Quarters = Pick([72, 96, 108, 120]);
        Engrave();
        Follow();
        Write();
    }

    private T Pick<T>(T[] from) => from[_chance.Next(from.Length)];

    private bool Often(double share) => _chance.NextDouble() < share;

    private void Engrave()
    {
        var time = Pick(["4/4", "4/4", "4/4", "3/4", "6/8", "2/2", "2/4"]);
        var count = _chance.Next(2, 6);
        var names = new Queue<string>(Often(0.5) ? Names[..6] : Names[6..].Concat(Names[1..5]));
        var blocks = new List<Block>();
        for (var i = 0; i < count; i++)
        {
            var times = Often(0.4) ? Often(0.2) ? 3 : 2 : 1;
            var endings = times == 2 && Often(0.5);
            List<Measure> Ending() => endings ? Measures(_chance.Next(1, 3), time, 1) : [];
            var block = new Block(Measures(_chance.Next(2, 5), time, times), Ending(), Ending(), times);
            if (i == 0 || Often(0.7)) block.Body[0].Name = names.Dequeue();
            blocks.Add(block);
            Repeats(block, i == 0);
            _page.AddRange([.. block.Body, .. block.First, .. block.Last]);
        }
        for (var i = 1; i < _page.Count; i++)
        {
            if (!_saysAgain || Often(0.7) || _page[i].Time != _page[i - 1].Time || _page[i - 1].Again > 0) continue;
            _page[i].Again = 1;
            _page[i].Chords.Clear();
        }
        if (Often(0.2) && blocks[0].Times == 1)
        {
            var pickup = new Measure { Time = time, IsPickup = true };
            pickup.Verses.Add(["oh"]);
            _pickup.Add(pickup);
        }
        // The first measure has a chord; what others go on with is known.
        if (_page[0].Chords.Count == 0 || _page[0].Chords[0].At > 0) _page[0].Chords.Insert(0, (0, _pool[0]));
        for (var i = 1; i < _page.Count; i++) if (_page[i].Again > 0) _page[i].Chords.AddRange(_page[i - 1].Chords);
        Plan(blocks);
        _page.InsertRange(0, _pickup);
    }

    private List<Measure> Measures(int count, string time, int verses)
    {
        var measures = new List<Measure>();
        for (var i = 0; i < count; i++)
        {
            var own = Often(0.04) ? Pick(["2/4", "3/4"]) : time;
            if (time is "6/8" or "2/2") own = time;
            var measure = new Measure { Time = own };
            var beats = Beats(own);
            for (var at = 0; at < beats; at++)
                if (at == 0 ? Often(0.9) : Often(0.2)) measure.Chords.Add((at, Pick(_pool)));
            for (var verse = 0; verse < verses; verse++)
                measure.Verses.Add(Often(0.75) ? [.. Syllables().Take(beats)] : []);
            measures.Add(measure);
        }
        return measures;
    }

    private IEnumerable<string> Syllables()
    {
        // Whole words only, so that what is cut is no word's half.
        for (var left = 2; left > 0; left--)
        {
            var word = Pick(Words).Split('-');
            for (var i = 0; i < word.Length; i++) yield return i + 1 < word.Length ? word[i] + "-" : word[i];
        }
    }

    private readonly List<Measure> _pickup = [];

    private static int Beats(Measure measure) => measure.IsPickup ? 1 : Beats(measure.Time);

    private static int Beats(string time) => time switch { "4/4" => 4, "3/4" => 3, _ => 2 };

    private static int QuartersOfBeat(string time) => time switch { "6/8" => 3, "2/2" => 4, _ => 2 };   // in eighths

    private void Repeats(Block block, bool atStart)
    {
        if (block.Times == 1) return;
        if (!atStart || Often(0.5)) block.Body[0].Left += "<repeat direction=\"forward\"/>";
        var times = block.Times > 2 ? $" times=\"{block.Times}\"" : "";
        if (block.First.Count == 0) { block.Body[^1].Right += $"<repeat direction=\"backward\"{times}/>"; return; }
        block.First[0].Left += "<ending number=\"1\" type=\"start\"/>";
        block.First[^1].Right += "<ending number=\"1\" type=\"stop\"/><repeat direction=\"backward\"/>";
        block.Last[0].Left += "<ending number=\"2\" type=\"start\"/>";
        block.Last[^1].Right += $"<ending number=\"2\" type=\"{Pick(["stop", "discontinue"])}\"/>";
    }

    private readonly List<(int From, int To)> _back = [];
    private List<Block> _blocks = [];
    private int _straightTo, _coda;
    private bool _toSign;

    private void Plan(List<Block> blocks)
    {
        (_blocks, _straightTo, _coda) = (blocks, blocks.Count - 1, blocks.Count);
        var plan = _chance.Next(8);
        if (plan > 3 || blocks.Count < 3) return;
        var toSign = _toSign = plan is 1 or 3;
        var withCoda = plan > 1 && blocks.Count > 3;
        var last = withCoda ? blocks.Count - 2 : blocks.Count - 1;
        var from = toSign ? _chance.Next(0, last) : 0;
        var to = _chance.Next(from, last);
        List<Measure> All(Block b) => [.. b.Body, .. b.First, .. b.Last];
        if (toSign) All(blocks[from])[0].Before.Add(Sign("segno", "segno=\"s\""));
        All(blocks[to])[^1].After.Add(withCoda ? Jump("To Coda", "tocoda=\"c\"") : Jump("Fine", "fine=\"yes\""));
        All(blocks[last])[^1].After.Add(Jump($"{(toSign ? Pick(["D.S.", "D. S.", "Dal Segno"]) : Pick(["D.C.", "D. C.", "Da Capo"]))} al {(withCoda ? "Coda" : "Fine")}",
            toSign ? "dalsegno=\"s\"" : "dacapo=\"yes\""));
        if (withCoda)
        {
            All(blocks[^1])[0].Before.Add(_jumps == 0 || Often(0.5) ? Sign("coda", "coda=\"c\"") : Jump("Coda", "coda=\"c\""));
            (_straightTo, _coda) = (last, blocks.Count - 1);
        }
        else _straightTo = last;
        _back.Add((from, to));
    }

    private void Follow()
    {
        foreach (var pickup in _pickup) _played.Add((pickup, 1));
        for (var i = 0; i <= _straightTo; i++) Play(_blocks[i], isBack: false);
        foreach (var (from, to) in _back)
        {
            // From the beginning is from the pickup on.
            if (!_toSign) foreach (var pickup in _pickup) _played.Add((pickup, 2));
            for (var i = from; i <= to; i++) Play(_blocks[i], isBack: true);
            if (_coda < _blocks.Count) Play(_blocks[_coda], isBack: false);
        }
        var (bars, sung, sounding) = (new List<string>(), new List<string>(), "");
        foreach (var (measure, pass) in _played)
        {
            // A pickup of a dotted quarter is a bar of three eighths.
            var beats = measure is { IsPickup: true, Time: "6/8" } ? 3 : Beats(measure);
            var slots = measure.Chords.ToList();
            if (slots.Count == 0 || slots[0].At > 0) slots.Insert(0, (0, sounding.Length > 0 ? sounding : "N.C."));
            sounding = slots[^1].Symbol;
            bars.Add(string.Join(' ', slots.Select((s, i) => $"{s.Symbol}:{(i + 1 < slots.Count ? slots[i + 1].At : beats) - s.At}")));
            var verse = measure.Verses.Take(pass).LastOrDefault(v => v.Length > 0) ?? [];
            sung.Add(string.Join(' ', verse).Replace("- ", "", StringComparison.Ordinal));
        }
        (Bars, Sung) = (bars, sung);
    }

    private void Play(Block block, bool isBack)
    {
        void Once(List<Measure> measures) { foreach (var m in measures) _played.Add((m, ++m.Played)); }
        for (var pass = isBack ? block.Times : 1; pass <= block.Times; pass++)
        {
            Once(block.Body);
            Once(block.First.Count == 0 ? [] : pass == block.Times ? block.Last : block.First);
        }
    }
}
