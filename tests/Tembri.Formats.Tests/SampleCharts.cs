using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Formats.Tests;

/// <summary>Random charts that use everything the chart model has.</summary>
internal static class SampleCharts
{
    private static readonly string[] Symbols =
        ["C", "Am", "F", "G7", "Dm7", "Em7b5", "Bb", "E7#9", "Fmaj7", "G/B", "D7b9", "Asus4", "Cadd9", "Ebdim7", "A+", "C6/9",
            "F#m11", "Bm", "G13", "Dm(maj7)", "C5", "G7sus4", "Ab", "N.C.", "D/F#", "Esus2", "Cmaj9", "F7#11"];

    private static readonly string[] Words = ["salt ", "on the ", "sill", "and ", "so", "kettle sings ", ""];

    private static readonly string[] Names = ["Verse 1", "Chorus", "Bridge", "Outro"];
    private static readonly string[] Letters = ["A", "B (bridge)", "C", "D riff"];

    private static Gen<T> Pick<T>(params T[] of) => Gen.Int[0, of.Length - 1].Select(i => of[i]);

    private static readonly Gen<IReadOnlyList<double>> Lengths =
        Pick<IReadOnlyList<double>>([4], [2, 2], [1, 3], [2, 1, 1], [1, 1, 1, 1], [3.5, 0.5], [0.5, 1.5, 2]);

    private static Slot MakeSlot(string symbol, double beats, string lyric, bool early) =>
        new(symbol, ChordReader.Read(symbol).Chord, beats, lyric) { IsEarly = early && symbol != "N.C." };

    private static Gen<Bar> BarOf(bool words, bool tune) =>
        from lengths in Lengths
        from symbols in Pick(Symbols).Array[4]
        from lyrics in Pick(Words).Array[4]
        from early in Gen.Int[0, 9]
        from remark in Pick("", "", "", "hold", "slow", "let it ring")
        from starts in Gen.Int[0, 3]
        from pitches in Gen.Int[55, 79].Array[4]
        from sung in Gen.Bool
        select new Bar(Meter.Common,
            [.. lengths.Select((l, i) => MakeSlot(symbols[i], l, words ? lyrics[i] : "",
                early == 0 && i > 0 && lengths[i - 1] >= 1 && lengths[i] >= 1))], starts == 0)
        {
            Remarks = remark.Length > 0 ? [remark] : [],
            Melody = tune && sung
                ? [.. pitches.Select((p, i) => new MelodyNote(Pitch.FromMidi(p, new Key(Note.C, false)), i, i == 3 ? 0.5 : 1))]
                : [],
        };

    /// <summary>A chart; with words, with a tune, or with neither.</summary>
    public static Gen<Chart> Charts(bool words, bool tune) =>
        from sections in BarOf(words, tune).Array[1, 6].Array[1, 4]
        from form in Gen.Int[0, 3].Array[1, 5]
        from times in Gen.Int[1, 3].Array[5]
        from tempo in Gen.Int[50, 180]
        from key in Pick("C", "Am", "Eb", "F#m", "G")
        from tuning in Gen.Int[-2, 1]
        from pickup in Pick<Meter?>(null, null, new Meter(1, 4), new Meter(3, 8), new Meter(3, 4))
        from names in Pick(Names, Names, Names, Letters)
        select Build(sections, names, form, times, tempo, key, tuning, pickup);

    /// <summary>A note of a riff, a quarter of a beat long.</summary>
    private static Core.Figures.FigureNote Riff(double at, int midi, Core.Figures.StringFret? where) =>
        new(Core.Figures.FigureLine.PitchOf(midi), at, 0.25,
            where is null ? Core.Figures.Ornament.None : Core.Figures.Ornament.Hammer, where);

    private static Chart Build(Bar[][] sections, string[] names,
        int[] form, int[] times, int tempo, string keyName, int tuning, Meter? pickup)
    {
        Key.TryParse(keyName, out var key);
        var named = sections.Select((bars, i) => new Section(names[i],
            [.. bars.Select((b, j) => j == 0 ? b with { StartsLine = true } : b)])
        {
            Strum = i == 0 ? "D-du-udu|D-dud-du, swing 60, soft" : ""
        })
            .Select((s, i) => i == 0
                ? s with { Figures = [new Core.Figures.Figure(0,
                    [Riff(0, 41 + tuning, null), Riff(0.5, 43 + tuning, new Core.Figures.StringFret(0, 3))])] }
                : s).ToList();
        var parts =
            form.Where(f => f < named.Count).DefaultIfEmpty(0).Select((f, i) => new FormPart(named[f].Name, times[i])).ToList();
        // A pickup stands before all else, in a section of its own.
        if (pickup is { } meter)
        {
            named.Add(new Section("Pickup", [new Bar(meter, [MakeSlot("G", meter.Beats, "", false)], StartsLine: true)]));
            parts.Insert(0, new FormPart("Pickup", 1));
        }
        // Neighbours in the form differ, else they would be one part played more often.
        for (var i = parts.Count - 1; i > 0; i--) if (parts[i].Section == parts[i - 1].Section) parts.RemoveAt(i);
        return new Chart
        {
            Title = "The Kettle & the Key", Key = key, KeyIsGiven = true, Tempo = tempo, TuningShift = tuning, RecordCapo = 2,
            Form = parts, Recordings = [new Recording("live", 3, -1, 99.5)], Extra = [("note", "sing it low")],
            Sections = [.. named.Where(n => parts.Any(p => p.Section == n.Name))
                .OrderBy(n => parts.FindIndex(p => p.Section == n.Name))],
        };
    }

    /// <summary>All that is heard of a chart, bar by bar.</summary>
    public static IReadOnlyList<string> Facts(Chart chart, bool words = true, bool tune = true, bool remarks = true) =>
    [
        $"{chart.Title} {chart.Key} {chart.Tempo} {chart.Meter}",
        string.Join(',', chart.Form.Select(f => $"{f.Section}x{f.Times}")),
        .. chart.Sections.Select(s => s.Name + ": " + string.Join(" | ", s.Bars.Select(b => Fact(b, words, tune, remarks)))),
    ];

    private static string Fact(Bar bar, bool words, bool tune, bool remarks) =>
        $"{bar.Meter} {string.Join(' ', Joined(bar).Select(s => $"{(s.IsEarly ? "<" : "")}{s.Name}:{s.Beats:0.###}{(words ? "'" + s.Lyric.Trim() + "'" : "")}"))}"
        // A word may go on under the next chord.
        + (words ? $" '{string.Concat(bar.Slots.Select(s => s.Lyric)).Trim()}'" : "")
        + (remarks ? " (" + string.Join(',', bar.Remarks) + ")" : "")
        + (tune ? " ~" + string.Join(' ', bar.Melody.Select(n => $"{n.Pitch}@{n.At:0.###}+{n.Beats:0.###}")) : "");

    private static IEnumerable<(string Name, double Beats, bool IsEarly, string Lyric)> Joined(Bar bar) =>
        bar.Slots.Select(s => (s.Chord is { } c
                ? $"{c.Root.PitchClass}/{c.BassPitchClass}/{c.Degrees.Aggregate(0, (m, d) => m | 1 << d.Semitones)}"
                : s.Symbol, s.Beats, s.IsEarly, s.Lyric));
}
