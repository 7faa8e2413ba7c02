using System.Globalization;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Charts;

/// <summary>Rows of bars written down as people write them: held beats as dots, strokes, dashes or numbers, the bar before as a
/// sign, repeats and endings, each drawn by chance.</summary>
internal sealed class PastedBars
{
    private static readonly string[][] Pools =
        [["C", "G", "Am", "F", "Dm", "Em"], ["D", "A", "Bm", "G", "Em", "F#m"], ["Cmaj7", "A7", "Dm7", "G7", "Em7"], ["Dm", "A7", "Gm6", "Bb7", "Edim", "C+"]];
    private static readonly string[] Meters = ["4/4", "4/4", "4/4", "3/4", "6/8", "2/4", "5/4"];
    private static readonly string[] Says = ["{0}", "Time: {0}", "{0} time", "Time signature {0}", "in {0}", "Tempo 100, {0}"];
    private static readonly string[] Repeats = ["|: {0} :|", "||: {0} :||", "| {0} | x2", "| {0} | (x2)", "{0} (2x)", "2x | {0} |"];
    private static readonly string[] Endings =
        ["|: {0} |1. {1} :|2. {2} |", "|: {0} |1 {1} :|2 {2} |", "|: {0} | [1] {1} :| [2] {2} |", "|: {0} |1) {1} :|2) {2} ||"];

    private readonly Random _chance;
    private readonly List<(string Chord, int Units)[]> _played = [];
    private readonly Meter _meter;
    private readonly int _kind;
    private readonly string[] _pool;

    /// <summary>The text.</summary>
    public string Text { get; }

    /// <summary>Each bar as it is played: its chords as they are written, with their beats.</summary>
    public IEnumerable<string> Bars => _played.Select(b => string.Join(' ', b.Select(c =>
        string.Create(CultureInfo.InvariantCulture, $"{c.Chord}:{(double)c.Units * _meter.Beats / _meter.Count:0.##}"))));

    public PastedBars(int seed)
    {
        _chance = new Random(seed);
        (_pool, _kind) = (Pick(Pools), _chance.Next(8));
        _ = Meter.TryParse(Pick(Meters), out _meter);
        var lines = new List<string> { "Gravel Steps", string.Format(null, Pick(Says), _meter), "" };
        foreach (var name in new[] { "Intro", "Verse", "Chorus" }.Take(_chance.Next(1, 4)))
        {
            lines.Add($"[{name}]");
            var row = Enumerable.Range(0, _chance.Next(2, 6)).Select(_ => Bar()).ToList();
            if (_chance.Next(3) == 0) row[^1] = row[^2];
            var cells = row.Select(Written).ToList();
            if (_chance.Next(4) == 0)
            {
                lines.Add(string.Format(null, Pick(Repeats), string.Join(" | ", cells)));
                _played.AddRange([.. row, .. row]);
            }
            else if (row.Count > 2 && _chance.Next(4) == 0)
            {
                var other = Bar();
                lines.Add(string.Format(null, Pick(Endings), string.Join(" | ", cells.SkipLast(1)), cells[^1], Written(other)));
                _played.AddRange([.. row, .. row.SkipLast(1), other]);
            }
            else
            {
                for (var i = 1; i < row.Count; i++)
                    if (row[i] == row[i - 1]) cells[i] = Pick(["%", "./.", "//", "/"]);
                lines.Add(string.Format(null, Pick(["| {0} |", "{0}", "|| {0} ||", "|{0}|"]), string.Join(" | ", cells)));
                _played.AddRange(row);
            }
            lines.Add("");
        }
        Text = string.Join('\n', lines);
    }

    private T Pick<T>(T[] from) => from[_chance.Next(from.Length)];

    private (string, int)[] Bar()
    {
        var chords = Enumerable.Range(0, 20).Select(_ => Pick(_pool)).Distinct().Take(3).ToArray();
        var whole = _meter.Count;
        int[] lengths = _chance.Next(5) < 3 || whole == 5 ? [whole]
            : whole == 3 ? Pick<int[]>([[2, 1], [1, 2]])
            : whole != 4 || _kind == 7 ? [whole / 2, whole / 2]
            : Pick<int[]>([[2, 2], [3, 1], [1, 3], [2, 1, 1]]);
        // Without signs for beats chords share a bar evenly.
        if (_kind == 7 && whole % 2 == 1) lengths = [whole];
        return [.. lengths.Select((l, i) => (chords[i], l))];
    }

    private string Written((string Chord, int Units)[] bar)
    {
        // One chord fills its bar without a sign.
        if (bar.Length == 1 && _chance.Next(2) == 0 || _kind == 7) return string.Join(' ', bar.Select(c => c.Chord));
        string Held(string sign, string between) =>
            string.Join(' ', bar.Select(c => c.Chord + string.Concat(Enumerable.Repeat(between + sign, c.Units - 1))));
        return _kind switch
        {
            0 => Held(".", " "),
            1 => Held("/", " "),
            2 => Held("-", " "),
            3 => Held("/", ""),
            4 => bar.Length == 1 ? bar[0].Chord : string.Join(' ', bar.Select(c => $"{c.Chord}({c.Units})")),
            5 => bar.Length == 1 ? bar[0].Chord : string.Join(' ', bar.Select(c => $"{c.Chord} ({c.Units})")),
            _ => bar.Length == 1 ? bar[0].Chord : string.Join(", ", bar.Select(c => $"{c.Chord} ({c.Units} beat{(c.Units > 1 ? "s" : "")})")),
        };
    }
}
