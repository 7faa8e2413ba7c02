using Tembri.Core.Charts.Reading;
using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Wishes;
using static Tembri.Core.Tests.Results.ResultLines;

namespace Tembri.Core.Tests.Results;

/// <summary>What weighs in a choice that no ladder of the songs here turns on: prices of shapes to each kind of player and
/// beside a teacher's own grip, moves for a voice, what shapes ask of a hand, from which skill on full barres are arranged, what
/// comes nearest to a chord that a small hand cannot hold.</summary>
internal static class PriceLines
{
    private static readonly string[] Chords = ["F", "Bm", "G", "C", "C/E", "Em9", "Ab", "B7"];

    private static readonly string[] Hard =
        ["Gm", "F#m7b5", "E7#9", "A13", "Bbmaj7", "Abmaj9", "C13#11", "Ebm9", "Db7b9", "F#7#5", "Gm11", "B/D#", "Ab/Eb", "Fm(maj7)"];

    /// <summary>The rungs as they are, and one that a teacher opened for barres of all strings.</summary>
    private static readonly RungLimits[] Limits =
        [.. RungLimits.Defaults, RungLimits.Defaults[3] with { Number = 6, LongestBarre = 6, LoadCeiling = 100 }];

    public static IEnumerable<string> Lines() =>
        [.. Shapes(), .. Voices(), .. Demands(), .. Barres(), .. Nearest(), .. Blocked()];

    private static IEnumerable<string> Shapes()
    {
        var own = TeacherWishes.None with
        {
            Grips = [new OwnGrip("G", [3, -1, 0, 0, 3, 3], [2, 0, 0, 0, 3, 4], RungSpan.All),
                new OwnGrip("F", [-1, 3, 3, 2, 1, 1], [0, 3, 4, 2, 1, 1], RungSpan.All)],
        };
        foreach (var goal in Enum.GetValues<BarreGoal>())
        {
            var kind = PlayerKind.Usual with { Barres = goal };
            var book = new FingeringBook(Known.Results, kind.Guitar, kind.Hand, kind.Thumb, 0);
            var finder = new CandidateFinder(Known.Results);
            foreach (var chord in Chords.Select(Chord.Parse))
            {
                var list = finder.ListFor(chord, book, Accompaniment.Record, kind.Guitar.Strings, 0);
                foreach (var wish in new[] { null, new ChordWish(own, "0:", chord, _ => null, finder, book, Accompaniment.Record, 0) })
                {
                    var pool = new CandidatePool([list], [chord], [default], wish is null ? null : [wish]);
                    yield return $"{goal} {chord.Name}{(wish is null ? "" : " own")}: {string.Join(" | ", Limits.Select(r => Costs(pool, kind, r)))}";
                }
            }
        }

        static string Costs(CandidatePool pool, PlayerKind kind, RungLimits limits)
        {
            var values = pool.Open(0, limits);
            var costs = new double[values.Length];
            new ShapePrices(pool, kind).Fill(costs, values, 0, 0.5, limits, 0.8, null);
            return $"{values.Length} {Number(costs.DefaultIfEmpty().Min())} {Number(costs.Sum())}";
        }
    }

    private static IEnumerable<string> Voices()
    {
        foreach (var (singer, tune) in new[] { ("C3 to E4", "G3 to D5"), ("A3 to A4", "C4 to E5"), ("F3 to C5", "D4 to A4"),
            ("C4 to E4", "C3 to C5") })
        {
            Assert.True(PitchRange.TryParse(singer, out var reach));
            Assert.True(PitchRange.TryParse(tune, out var song));
            yield return $"voice {singer} tune {tune}: {string.Join(" ", VoiceKeys.For(new VoiceWish(0, reach, song)).Select(m => $"{m.Semitones} {Number(m.Price)}"))}";
        }
    }

    /// <summary>With the thumb over the edge of the neck as well.</summary>
    private static IEnumerable<string> Demands()
    {
        var finder = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Preset("large"), thumb: true);
        foreach (var shape in new[] { "133211", "2x0232", "1x3211", "2x2222", "320033", "x24432", "3x0433", "1x2211" }.Select(Shape.Parse))
            foreach (var held in finder.Find(shape, 4))
                yield return $"asks {held}: {string.Join(" ", FitModel.Demands(held).Select(d => $"{d.Technique} {Number(d.Points)}"))} clean {Number(100 * FitModel.Clean(held, Skills.Each(_ => 45)))}";
    }

    private static IEnumerable<string> Barres() =>
        Enum.GetValues<BarreGoal>().Select(goal =>
            $"{goal} is arranged for as {string.Join(" ", Enumerable.Range(18, 20).Select(skill => new Player { Barres = goal, Skills = Skills.Each(t => t == Technique.FullBarre ? skill : 50) }.Kind.Barres))}");

    private static IEnumerable<string> Nearest()
    {
        var finder = new CandidateFinder(Known.Results);
        var kind = PlayerKind.Usual with { Hand = Hand.Preset("child"), Guitar = Guitar.Steel };
        var book = new FingeringBook(Known.Results, kind.Guitar, kind.Hand, kind.Thumb, 0);
        foreach (var chord in Hard.Select(Chord.Parse))
            foreach (var with in new[] { Accompaniment.Record, Accompaniment.Alone })
            {
                var pool = new CandidatePool([finder.ListFor(chord, book, with, kind.Guitar.Strings, 0)], [chord], [default]);
                var open = pool.Open(0, RungLimits.Defaults[^1]);
                yield return $"nearest {chord.Name} {with}: {open.Length} {Number(100 * open.Sum(v => pool.At(0, v).Closeness.Value))}";
            }
    }

    /// <summary>Places where a rung cannot be arranged.</summary>
    private static IEnumerable<string> Blocked()
    {
        var chart = Core.Charts.Reading.ChartReader.Read("key: C#m\ntempo: 80\n| C#m | F#7 | G#m7b5 | C#m |").Chart;
        var wishes = TeacherWishes.None with { Rungs = [new RungWish(1) { MostFingers = 1, HighestFret = 2 }] };
        var ladder = Known.Builder.Build(new() { Chart = chart, Kind = PlayerKind.Usual, Wishes = wishes });
        foreach (var place in ladder.Places)
            yield return $"place {place.Capo} {Number(place.Score)} {string.Join(" ", place.Rungs.Select(r => r is { } t ? Number(t.Load) : "none"))}";
    }
}
