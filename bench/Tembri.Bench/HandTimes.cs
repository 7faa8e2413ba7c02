using System.Diagnostics;
using System.Globalization;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Wishes;

namespace Tembri.Bench;

/// <summary>How long a teacher waits for what she does on a ladder of fourteen chords: a shape taken, a chord typed, a shape
/// forbidden, a rung in between, a shape looked at while it is drawn, a version by hand scored, the order to learn. Everything
/// else is known already, as on a ladder that is open.</summary>
internal static class HandTimes
{
    private const int Rounds = 30;

    public static int Run()
    {
        var chart = ChartReader.Read("key: G\ntempo: 100\n| G | Em | C | D7 | Am7 | Bm | F | A7 | E7 | Cmaj7 | G/B | Dsus4 | "
            + "Cadd9 | B7 |\n| G | C | G | D7 | Em | Am7 | Cmaj7 | D7 | F | G/B | A7 | Dsus4 | Cadd9 | G |").Chart;
        var builder = new LadderBuilder(new ResultCache());
        var results = new ResultCache();
        var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual };
        var ladder = builder.Build(request);
        request = request with { Capo = ladder.Capo };
        ladder = builder.Build(request);
        Console.WriteLine($"{chart.Chords.Count} chords, capo {ladder.Capo}");
        var tonic = ladder.ShapeKey.Tonic.PitchClass;
        var alternatives = Enumerable.Range(0, chart.Chords.Count)
            .Select(i => builder.Alternatives(request, ladder, i, RungLimits.Defaults[2])).ToList();
        ShapeLock Lock(int round) =>
            alternatives[round % alternatives.Count] is var offered
                && offered[(1 + round / alternatives.Count) % offered.Count].Candidate.Fingering is var f
            ? new ShapeLock(3, chart.Chords[round % alternatives.Count].DegreeIn(chart.Key), tonic, f.Shape, f.Fingers)
            : throw new InvalidOperationException();
        string Degree(int round) => chart.Chords[round % chart.Chords.Count].DegreeIn(chart.Key);
        var none = TeacherWishes.None;
        Time("a shape taken", round => builder.Build(request with { Locks = [Lock(round)] }));
        Time("a chord typed",
            round => builder.Build(
                request with { Wishes = none with { Instead = [new ChordInstead(Degree(round), "0:", RungSpan.Only(3))] } }));
        Time("a shape forbidden",
            round => builder.Build(request with { Wishes = none with { Shapes = [new ShapeBan(
                ladder.Played(3).PlayedAs(round % chart.Chords.Count).Choice.Fingering.Shape.Frets, RungSpan.All)] } }));
        Time("a grip of one's own",
            round => builder.Build(request with { Wishes = none
                with { Grips = [new OwnGrip("G", [3, 2, 0, 0, 3, 3], [2, 1, 0, 0, 3, 4], new RungSpan(0, 3 + round % 3))] } }));
        Time("a rung in between",
            round =>
                builder.Build(request with { Wishes = none with { Rungs = [new RungWish(25) { AimsAtLoad = 20 + round }] } }));
        Time("another limit",
            round => builder.Build(request
                with { Wishes = none with { Rungs = [new RungWish(3) { MostFingers = 3, LoadCeiling = 40 + round }] } }));
        Time("a shape looked at",
            round => builder.Study(request, ladder, round % chart.Chords.Count,
                new Shape(round % 5, 2 + round % 2, round % 3, 0, round % 4, 0)));
        var rung = ladder.Played(2);
        var written = new VersionChart(ladder, rung).Chart;
        Time("a version scored",
            round => HandMade.Of(
                new HandWriting("mine", written, (ladder.Capo + round) % 4, new Dictionary<string, Fingering>(), 3), request,
                ladder, results));
        var fit = new VersionFit(VersionOutline.Of(rung, chart.Tempo), new Player());
        Time("the order to learn", _ => LearningOrder.Of(rung, fit));
        Time("what would be quicker",
            round => builder.Quicker(request, ladder, rung, rung.PlayedAs(round % chart.Chords.Count)));
        return 0;
    }

    private static void Time(string what, Func<int, object> act)
    {
        act(0);
        var times = new List<double>();
        for (var round = 0; round < Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            act(round);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        times.Sort();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{what,-24} median {times[Rounds / 2],7:0.0} ms, nine of ten within {times[Rounds * 9 / 10],7:0.0} ms"));
    }
}
