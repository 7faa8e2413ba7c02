using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Charts;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Wishes;
using static Tembri.Core.Tests.Results.ResultLines;

namespace Tembri.Core.Tests.Results;

/// <summary>What the parts of the model give that a ladder is made of, also where no ladder of these songs would show it: every
/// change between two shapes, every shape of a chord, what each rung may play, what the chart forbids.</summary>
internal static class PartLines
{
    private static readonly Shape[] Shapes =
    [
        .. new[]
        {
            "x32010", "320003", "320033", "xx0232", "022100", "x02220", "022000", "x02210", "xx0231", "133211", "x24442", "x24432",
            "xx3211", "x3201x", "021202", "x21202", "x20102", "2x0232", "xx0212", "xx0211", "320001", "x02010", "355433", "x35553",
            "577655", "xx4432", "x1333x", "xxx010", "000000", "x02200", "3x0033", "113311",
        }.Select(Shape.Parse),
    ];

    private static readonly string[] Chords =
    [
        "C", "F", "Bb", "G", "B", "Am", "Bm", "F#m", "Gm", "E7", "Cmaj7", "Fmaj7", "Dm7", "C#m7", "B7sus4", "G6", "Em9", "F#dim",
        "Bm7b5", "Ab+", "D/F#", "C/E", "Am/G", "E7#9", "A13", "G5", "Dadd9", "F#dim7",
    ];

    /// <summary>Each change between two of the shapes, both ways, for an open neck and for a child at a capo, with what every
    /// finger does.</summary>
    public static IEnumerable<string> Changes()
    {
        foreach (var (hand, guitar, capo, thumb) in new[] { (Hand.Medium, Guitar.Steel, 0, false),
            (Hand.Preset("child"), Guitar.Preset("three-quarter"), 4, false), (Hand.Preset("large"), Guitar.Steel, 0, true) })
        {
            var neck = new NeckGeometry(guitar, capo);
            var (finder, model) = (new FingeringFinder(neck, hand, thumb), new ChangeModel(neck));
            var held = Shapes.Select(s => thumb ? finder.Find(s, 3).LastOrDefault() : finder.Best(s)).OfType<Fingering>()
                .ToList();
            foreach (var from in held)
                yield return $"{hand.Id} {from}: {string.Join(" | ", held.Select(to => model.Between(from, to)).Select(c => $"{c.To.Shape} {Number(c.Seconds)} {c.Blocks} {Number(c.ShiftMm)} {Moves(c)} {Number(model.Easiness(from, c.To).Cost)}"))}";
        }

        static string Moves(Change c) => string.Join("/", new[] { c.Anchors, c.Guides, c.Moving, c.Landing, c.Lifting }
            .Select(list => string.Concat(list.Select(f => (int)f))));
    }

    /// <summary>How near each of the shapes comes to each of the chords, with the record, alone and under a tune.</summary>
    public static IEnumerable<string> Closenesses()
    {
        foreach (var name in Chords)
        {
            var chord = Chord.Parse(name);
            foreach (var (with, capo, full, tune) in new[] { (Accompaniment.Record, 0, 6, 0),
                (Accompaniment.Alone, 0, 5, 1 << 5 | 1 << 9), (Accompaniment.Alone, 2, 6, 0),
                (Accompaniment.Record, 3, 4, 1 << 11 | 1 << 4) })
                yield return $"{name} {with} {capo}: {string.Join(" | ", Shapes.Select(s => Closeness.Of(s, chord, Tuning.Standard, capo, with, full, tune)).Select(c => $"{Number(100 * c.Value)} {string.Concat(c.Missing)} {c.ForeignMask:x}{(c.WrongBass ? " bass" : "")} {c.Sounding}"))}";
        }
    }

    /// <summary>What is taught and found for each chord, on guitars that are tuned in four ways: how many, where they come from,
    /// and the first of each kind.</summary>
    public static IEnumerable<string> Found()
    {
        Assert.True(Tuning.TryParse("D A D G A D", out var modal));
        foreach (var (words, tuning) in new[] { ("standard", Tuning.Standard), ("a tone down", Tuning.Standard.Shift(-2)),
            ("low D", Tuning.DropD), ("modal", modal) })
        {
            var finder = new ShapeFinder(Known.Results, tuning);
            foreach (var name in Chords)
            {
                var chord = Chord.Parse(name);
                var (taught, searched) = (finder.Taught(chord), finder.Searched(chord));
                yield return $"{words} {name}: {taught.Count} {searched.Count} {searched.Sum(f => Weight(f.Shape))} {string.Join(" ", searched.Take(6).Select(f => f.Shape))}";
                foreach (var kind in taught.GroupBy(f => f.Origin.Source))
                    yield return $" {kind.Key} {string.Join(" ", kind.Select(f => $"{f.Shape},{f.Origin.LowLeftOut},{f.Origin.HighLeftOut},{f.Origin.Lifted}"))}";
            }
        }

        static int Weight(Shape shape) => shape.Frets.Select((fret, s) => (fret + 2) * (s * s + 3 * s + 7)).Sum();
    }

    /// <summary>For each chord all ways to play it, for two kinds of player, and what each rung opens of them under what a
    /// chart may forbid.</summary>
    public static IEnumerable<string> Open()
    {
        var finder = new CandidateFinder(Known.Results);
        foreach (var (kind, capo, with) in new[] { (PlayerKind.Usual, 0, Accompaniment.Record),
            (PlayerKind.Usual with { Hand = Hand.Preset("child"), Guitar = Guitar.Preset("three-quarter") }, 2, Accompaniment.Alone) })
        {
            var book = new FingeringBook(Known.Results, kind.Guitar, kind.Hand, kind.Thumb, capo);
            foreach (var name in Chords)
            {
                var chord = Chord.Parse(name);
                var list = finder.ListFor(chord, book, with, kind.Guitar.Strings, 0);
                yield return $"{kind.Hand.Id} {name}: {list.Count} {Sums(list)}";
                foreach (var c in list.OrderBy(CandidateFinder.Strangeness)
                    .ThenBy(c => c.Fingering.ToString(), StringComparer.Ordinal).Take(4))
                    yield return $"  {c.Kind} {c.Played.Name} {c.Fingering} {Number(CandidateFinder.Strangeness(c))} idiom {Number(c.Idiom)} habit {Number(c.Habit)}";
                foreach (var (words, guard) in Guards(chord))
                {
                    var pool = new CandidatePool([list], [chord], [guard]);
                    yield return $" {words}: {string.Join(" | ", RungLimits.Defaults.Select(r => { var open = pool.Open(0, r); return $"{open.Length} {Sums([.. open.Select(v => list[v])])}"; }))}";
                    yield return $"  blocked {string.Join(" ", RungLimits.Defaults.Select(r => pool.Explain(0, r with { LoadCeiling = 3 }).Nearest).Select(n => n is { } b ? $"{b.Candidate.Fingering.Shape} {b.Broken}" : "none"))}";
                }
            }
        }

        static string Sums(IReadOnlyList<Candidate> c) =>
            $"{Number(c.Sum(x => x.Load))} {Number(100 * c.Sum(x => x.Closeness.Value))} {Number(c.Sum(x => x.Idiom))} {Number(c.Sum(x => x.Habit))}";

        static IEnumerable<(string, Guard)> Guards(Chord chord)
        {
            yield return ("free", default);
            yield return ("resolves", new Guard(true, false, false));
            yield return ("leads", new Guard(false, true, false));
            yield return ("steps", new Guard(false, false, true));
            yield return ("home", new Guard(false, false, false, IsTonic: true));
            yield return ("in a line", new Guard(false, false, false, Line: 1 << chord.Degrees[^1].Semitones % 12 | 1));
        }
    }

    /// <summary>What each chart of the corpus forbids for its chords, and what speaks against what could stand in for
    /// them.</summary>
    public static IEnumerable<string> Guards()
    {
        foreach (var (name, chart) in Charts())
        {
            var guards = GuardFinder.Find(chart.Flow, chart.Chart.Key);
            if (guards.All(g => g == default)) continue;
            yield return $"{name}: {string.Join(" ", chart.Flow.Chords.Zip(guards).Select(p => $"{p.First.Name}={Words(p.Second)}"))}";
            foreach (var (chord, guard) in chart.Flow.Chords.Zip(guards).DistinctBy(p => (p.First.Name, p.Second)))
                yield return $" {chord.Name} {string.Join(" ", SubstitutionFinder.For(chord).Select(s => $"{s.Chord.Name}:{string.Concat(GuardBreaks.Of(guard, chord, s.Chord).Select(b => (int)b))}"))}";
        }

        static string Words(Guard g) => $"{(g.NoSuspension ? "r" : "")}{(g.KeepsThird ? "l" : "")}{(g.StepwiseBass ? "s" : "")}{(g.IsTonic ? "h" : "")}{(g.Line != 0 ? $"{g.Line:x}" : "")}";
    }

    /// <summary>What is left of each chart when chords of less than a third and of less than half of their bar are left
    /// out.</summary>
    public static IEnumerable<string> Thinned()
    {
        foreach (var (name, chart) in Charts())
            foreach (var below in new[] { 0.34, 0.5, 0.51 })
            {
                var thinned = PassingChords.LeaveOut(chart.Chart, below);
                if (PassingChords.BeatsLeftOut(chart.Chart, thinned) is not (> 0 and var beats)) continue;
                yield return $"{name} {Number(below)}: {Number(beats)} {string.Join(" | ", thinned.Sections.SelectMany(s => s.Bars).Select(b => string.Join(" ", b.Slots.Select(s => $"{s.Chord?.Name}:{Number(s.Beats)}{(s.Lyric.Length > 0 ? $"'{s.Lyric}'" : "")}"))))}";
            }
    }

    private static IEnumerable<(string Name, (Chart Chart, ChordFlow Flow) Chart)> Charts() =>
        MessyCharts.All.Select(c => (c.Key, c.Value.Text)).Concat(Songs()).Concat(
        [
            ("lines and leads", "key: Am\ntempo: 90\n[A]\n| Am Am(maj7) | Am7 Am6 | Dsus4 D | D/F# G |\n| E7sus4 E7 . . | Am | C/B Am | Am/G F |\n[B]\n| C Cmaj7 | C7 F | Fm6 C . . | G7 C |"),
            ("quick ones", "key: G\nmeter: 4/4\n[A]\n| G . . D7 | G . D/F# Em | C . Cm . | G Gdim7 Am7 D7 |\n[B]\n| Dsus4 D . . | G . . G7 | C . Am D | G |\n[C]\n| D7 . . G | G . . A7 |\nform: A x2, B, C, A"),
        ]).Select(c => (c.Item1, ChartReader.Read(c.Item2).Chart)).Where(c => c.Chart.Chords.Count > 0)
            .Select(c => (c.Item1, (c.Chart, new ChordFlow(c.Chart))));

    /// <summary>How every rung of each demo song fits players of many skills, at its tempo and faster, and how slowly they would
    /// play it.</summary>
    public static IEnumerable<string> Fits()
    {
        var players = new List<(string Words, Player Player)>();
        foreach (var level in new[] { 8, 22, 40, 58, 76, 95 }) players.Add(($"all {level}", new Player { Skills = Skills.Each(_ => level) }));
        foreach (var weak in Enum.GetValues<Technique>())
            players.Add(($"weak {weak}", new Player { Skills = Skills.Each(t => t == weak ? 12 : 62) }));
        players.Add(("measured", new Player
        {
            Skills = Skills.Each(_ => 45),
            Measured = new Measured(
                Shapes.Select((s, i) => (s, i)).ToDictionary(p => p.s, p => new MeasuredShape(2 + p.i % 5, p.i % 3)),
                Shapes.SelectMany((a, i) => Shapes.Select((b, j) => (a, b, i, j))).Where(p => (p.i + p.j) % 3 == 1)
                    .ToDictionary(p => (p.a, p.b), p => new MeasuredChange(1 + p.i % 4, Math.Log(0.3 + 0.1 * (p.j % 9))))),
        }));
        foreach (var (song, text) in Songs())
        {
            var ladder = Known.Builder.Build(new() { Chart = ChartReader.Read(text).Chart, Kind = PlayerKind.Usual });
            foreach (var rung in ladder.Playable)
            {
                var outline = VersionOutline.Of(rung, ladder.Chart.Tempo);
                yield return $"{song} {rung.Number}: {Number(outline.TotalBeats)} {Number(outline.StrumLoad)} {outline.HasBarre} {outline.HasFullBarre}";
                foreach (var (words, player) in players)
                {
                    var odds = new PlayerOdds(player);
                    var (grade, clean) = (outline.Grade(player), outline.Clean(odds));
                    yield return $" {words}: {Number(100 * grade.Fit)} {grade.Verdict} {Number(outline.ComfortableTempo(player))} {Number(100 * outline.At(1.2 * outline.Tempo, clean, odds))} {Number(100 * outline.InTime(0.8 * outline.Tempo, odds))} weakest {outline.WeakestLink(clean, odds)} clean {Number(100 * clean.Sum())}";
                }
            }
            var graded = players.Select(p => new StudentLadder(ladder, p.Player)).ToList();
            yield return $" work on {string.Join(" ", graded.Select(g => g.WorkingRung))}";
        }
    }

    /// <summary>Each rung of the demo songs written out, what its passes play, and what the record's rung costs to forbid
    /// there.</summary>
    public static IEnumerable<string> Versions()
    {
        foreach (var (song, text) in Songs())
        {
            var ladder = Known.Builder.Build(new() { Chart = ChartReader.Read(text).Chart, Kind = PlayerKind.Usual, Capo = 1 });
            foreach (var rung in ladder.Playable)
            {
                var version = new VersionChart(ladder, rung);
                yield return $"{song} {rung.Number}: {version.Chart.Key} {version.Raised} {string.Join(" ", version.Chart.Sections.Select((s, i) => $"{s.Name}+{version.RaisedIn(i)}"))}";
                foreach (var section in version.Chart.Sections)
                    yield return $" {string.Join(" | ", section.Bars.Select(b => string.Join(" ", b.Slots.Select(s => $"{s.Symbol} {version.ShapeOf(s)}"))))}";
                yield return $" passes {string.Join(" ", Enumerable.Range(0, Math.Min(24, rung.Flow.PlayedBars)).Select(bar => version.PlayedAt(bar, 0)?.Choice.Fingering.ToString() ?? "-"))}";
            }
        }
    }
}
