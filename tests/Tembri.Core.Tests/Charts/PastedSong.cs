namespace Tembri.Core.Tests.Charts;

/// <summary>A made-up song written down as one of the many people who write songs down would: their names of sections, their
/// marks, their rows, their counts, what else they put on the page. Each habit is drawn by chance, so that they meet.</summary>
internal sealed class PastedSong
{
    private static readonly string[] Words =
        [.. "river lantern morning window quiet garden silver stone hollow winter letter narrow harbour feather candle meadow".Split(' ')];
    private static readonly string[][] Pools =
    [
        ["C", "G", "Am", "F", "Dm", "Em"], ["G", "D", "Em", "C", "Am", "Bm"], ["D", "A", "Bm", "G", "Em", "F#m"],
        ["F", "C", "Dm", "Bb", "Gm", "Am"], ["Cmaj7", "A7", "Dm7", "G7", "Em7", "Fmaj7"], ["C2", "G/B", "Am7", "Fmaj7", "Gsus4", "Dm7/G"],
        ["Dm", "A7", "Gm6", "Bb7", "Edim", "C+"],
        // As chords are called elsewhere.
        ["D", "A", "Hm", "G", "Em", "Fism"], ["D", "A", "h", "G", "e", "fis"], ["Do", "Sol", "Lam", "Fa", "Rem", "Mim"],
        ["Do", "Sol7", "La-", "Fa", "Re-", "Mim"], ["Emaj7", "H7", "Cism", "A", "Gism"],
        // By their place in the key, which is said.
        ["1", "5", "6m", "4", "2m", "3m"], ["I", "V", "vi", "IV", "ii", "iii"],
    ];
    private static readonly Dictionary<string, string> InEnglish = new()
    {
        ["Hm"] = "Bm", ["Fism"] = "F#m", ["h"] = "Bm", ["e"] = "Em", ["fis"] = "F#m", ["Do"] = "C", ["Sol"] = "G", ["Lam"] = "Am", ["Fa"] = "F",
        ["Rem"] = "Dm", ["Mim"] = "Em", ["Sol7"] = "G7", ["La-"] = "Am", ["Re-"] = "Dm", ["H7"] = "B7", ["Cism"] = "C#m", ["Gism"] = "G#m",
        ["1"] = "C", ["5"] = "G", ["6m"] = "Am", ["4"] = "F", ["2m"] = "Dm", ["3m"] = "Em",
        ["I"] = "C", ["V"] = "G", ["vi"] = "Am", ["IV"] = "F", ["ii"] = "Dm", ["iii"] = "Em",
    };
    private static readonly string[] Heads =
    [
        "[{0}]", "{0}:", "{0}", "{0}.", "## {0}", "**{0}**", "-{0}-", "({0})", "<{0}>", "== {0} ==", "{0} -", "[{0}]:", "** [{0}] **",
        "« {0} »", "★ {0}", "▶ {0}", "{{comment: {0}}}", "{0}\n-----", "{0}\n=====", "• {0}", "<b>{0}</b>", "[ {0} ]", "|{0}|", "_{0}_",
    ];
    private static readonly (string Verse, string Chorus, string Bridge)[] Languages =
    [
        ("Verse {0}", "Chorus", "Bridge"), ("VERSE {0}", "CHORUS", "BRIDGE"), ("verse {0}", "chorus", "bridge"), ("Strophe {0}", "Refrain", "Bridge"),
        ("Estrofa {0}", "Estribillo", "Puente"), ("Vers {0}", "Kehrvers", "Zwischenspiel"), ("Verse #{0}", "Chorus", "Middle 8"),
        ("Verse {0} (quiet)", "Chorus (loud)", "Bridge (half time)"), ("Verso {0}", "Refrão", "Ponte"), ("Strofa {0}", "Ritornello", "Intermezzo"),
        ("Zwrotka {0}", "Refren", "Mostek"), ("Vers {0}", "Refräng", "Brygga"), ("Couplet {0}", "Refrain", "Pont"), ("Куплет {0}", "Припев", "Проигрыш"),
    ];
    private static readonly string[] Counts = ["{0} x{1}", "{0} (x{1})", "{0} ({1}x)", "{0} {1}x", "{0} ×{1}", "{0} [x{1}]", "{0} *{1}", "{0}, {1} times", "{1}x {0}"];
    private static readonly string[] Titles = ["{0}", "Title: {0}", "# {0}", "{{title: {0}}}", "=== {0} ===", "\"{0}\"", "**{0}**", "{0}\n=======", "{0}\nwords and music by Orla Venn"];
    private static readonly string[] Facts =
    [
        "Tempo: 96 - 100", "96 bpm", "4/4 time", "in 4", "Tuning: E A D G B E", "Strumming: D DU UDU", "D DU UDU", "Let the chords ring.",
        "Difficulty: easy", "From the Tuesday class", "http://example.org/charts/12", "* tempo 96", "Posted 12 May",
        "Takt: 4/4", "Mesure : 4/4", "Compás: 4/4", "Stimmung: Standard", "Tempo: 4/4", "Interpret: Orla Venn",
    ];
    private static readonly string[] Capos = ["Capo 2", "capo on 2nd fret", "{capo: 2}", "Capo II", "capo @ 2", "* capo 2", "Kapo 2", "Kapodaster: 2. Bund", "Capo 2e case", "Cejilla: 2", "Capotasto al 2° tasto", "Capo na 2ª casa"];
    private static readonly string[] Same = [" (same chords)", " (same)", " - same as verse 1", " (chords as verse 1)", ": same as 1", " (repeat verse 1)"];
    private static readonly string[] Again = ["{0}", "({0})", "Repeat {0}", "{0} again", "Rpt {0}", "Back to the {0}", "To {0}", "{0} x2", "{0} (2x)"];

    private readonly Random _chance;
    private readonly List<string> _blocks = [];
    private readonly List<string> _played = [];
    private readonly string _head;
    private readonly int _row, _sung;

    /// <summary>The text.</summary>
    public string Text { get; }

    /// <summary>What it is called.</summary>
    public string Title { get; }

    /// <summary>Where its capo sits, 0 for none.</summary>
    public int Capo { get; }

    /// <summary>The chords in the order they are played, each change once, as they are called in English.</summary>
    public IReadOnlyList<string> Chords =>
        [.. _played.Where((c, i) => i == 0 || _played[i - 1] != c).Select(c => InEnglish.GetValueOrDefault(c, c))];

    public PastedSong(int seed)
    {
        _chance = new Random(seed);
        var pool = Pick(Pools);
        List<string[]> Part(int rows, int chords) =>
            [.. Enumerable.Range(0, rows).Select(_ => Enumerable.Range(0, chords).Select(_ => Pick(pool)).ToArray())];
        var (verse, chorus, bridge) = (Part(_chance.Next(1, 4), 4), Part(_chance.Next(1, 3), 4), Part(1, _chance.Next(2, 5)));
        Title = string.Join(' ',
            Enumerable.Range(0, 2).Select(_ => Pick(Words)).Select(w => char.ToUpperInvariant(w[0]) + w[1..]));
        (_head, _row, _sung) = (Often(0.4) ? Heads[0] : Pick(Heads), _chance.Next(8), _chance.Next(5));
        // Chords in square brackets leave those to the chords.
        if ((_sung == 1 || _row == 5) && _head.StartsWith('[')) _head = Heads[1];
        var names = Often(0.5) ? Languages[0] : Pick(Languages);
        var front = new List<string> { string.Format(null, Pick(Titles), Title) };
        if (pool[0] is "1" or "I") front.Add("Key: C");
        else if (Often(0.2)) (front, Capo) = ([.. front, Pick(Capos)], 2);
        if (Often(0.3)) front.Add(Pick(Facts));
        if (Often(0.15))
            front.Add("Chords used: " + string.Join(Pick([" ", ", "]), verse.Concat(chorus).Concat(bridge).SelectMany(r => r).Distinct()));
        _blocks.Add(string.Join('\n', front));
        if (Often(0.4)) Add("Intro", bridge, isSung: false, Pick([1, 1, 2, 4]));
        Add(string.Format(null, names.Verse, 1), verse, isSung: true);
        Add(names.Chorus, chorus, isSung: true);
        var second = string.Format(null, _head.Split('\n')[0], string.Format(null, names.Verse, 2));
        if (Often(0.3)) Add(string.Format(null, names.Verse, 2), verse, isSung: true);
        else if (Often(0.3)) Like(verse, second + Pick(Same));
        else if (_sung < 3 && Often(0.5)) Like(verse, second + string.Concat(verse.Select(_ => $"\n{Sung(6)}")));
        if (Often(0.3))
        {
            var again = Pick(Again);
            for (var i = again.Contains('2') ? 2 : 1; i > 0; i--) Play(chorus);
            _blocks.Add(string.Format(null, again, names.Chorus.Split(" (")[0]));
        }
        if (Often(0.4)) Add(names.Bridge, bridge, isSung: false);
        if (Often(0.3)) Add(Pick(["Outro", "Ending", "End"]), bridge, isSung: false);
        Text = Noisy(string.Join(Often(0.7) ? "\n\n" : Pick(["\n", "\n\n\n"]), _blocks));
    }

    private T Pick<T>(T[] from) => from[_chance.Next(from.Length)];

    private bool Often(double share) => _chance.NextDouble() < share;

    private string Sung(int words) => string.Join(' ', Enumerable.Range(0, words).Select(_ => Pick(Words)));

    private void Play(List<string[]> rows) => _played.AddRange(rows.SelectMany(r => r));

    private void Like(List<string[]> rows, string block)
    {
        Play(rows);
        _blocks.Add(block);
    }

    private void Add(string name, List<string[]> rows, bool isSung, int times = 1)
    {
        var lines = isSung && _sung < 4 ? [.. rows.SelectMany(OverWords)] : rows.Select(Row).ToList();
        if (times > 1) lines[^1] = string.Format(null, Pick(Counts), lines[^1], times);
        for (var i = 0; i < times; i++) Play(rows);
        _blocks.Add(string.Join('\n', lines.Prepend(string.Format(null, _head, name))));
    }

    private string Row(string[] chords) => _row switch
    {
        0 => string.Join("  ", chords),
        1 => $"| {string.Join(" | ", chords)} |",
        2 => string.Join(" - ", chords),
        3 => string.Join(", ", chords),
        4 => string.Join(" | ", chords),
        5 => string.Join(' ', chords.Select(c => $"[{c}]")),
        6 => string.Join(" → ", chords),
        _ => $"| {string.Join(" | ", chords.Select(c => $"{c} / / /"))} |",
    };

    private string[] OverWords(string[] chords)
    {
        var sung = chords.Select(_ => Sung(_chance.Next(1, 3))).ToArray();
        if (_sung == 1) return [string.Join(' ', chords.Zip(sung, (c, w) => $"[{c}]{w}"))];
        var (over, under) = ("", "");
        foreach (var (chord, words) in chords.Zip(sung))
        {
            under = under.PadRight(over.Length == 0 ? 0 : over.Length + 1);
            over = over.PadRight(under.Length) + (_sung == 2 ? $"({chord})" : _sung == 3 ? $"| {chord}" : chord);
            under += $"{words} ";
        }
        return [over, under.TrimEnd()];
    }

    /// <summary>What copying does to a text.</summary>
    private string Noisy(string text)
    {
        var lines = text.Split('\n');
        return _chance.Next(20) switch
        {
            0 => string.Join('\n', lines.Select(l => $"    {l}")),
            1 => string.Join('\n', lines.Select(l => $"> {l}")),
            2 => text.Replace(' ', '\u00A0'),
            3 => string.Join('\n', lines.Select(l => $"{l}  ")),
            4 => string.Join('\n', lines.Select(l => l.Length > 0 ? $"{l}\\" : l)),
            5 => string.Join('\n', lines.Select(l => $"{l}<br>")),
            6 => $"<pre>\n{text}\n</pre>",
            7 => string.Join("\n\n", lines),
            8 => string.Join("\r\n", lines),
            _ => text,
        };
    }
}
