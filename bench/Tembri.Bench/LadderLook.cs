using System.Diagnostics;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Bench;

/// <summary>Prints the ladder of a chart file and how long it took, cold and warm.</summary>
internal static class LadderLook
{
    public static int Run(IEnumerable<string> files)
    {
        foreach (var file in files)
        {
            var (chart, problems) = ChartReader.Read(File.ReadAllText(file));
            foreach (var p in problems) Console.WriteLine($"  {file}:{p.Line}:{p.Column} {p.Message}");
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual };
            var clock = Stopwatch.StartNew();
            var builder = new LadderBuilder(new ResultCache());
            var ladder = builder.Build(request);
            var cold = clock.Elapsed.TotalMilliseconds;
            clock.Restart();
            builder.Build(request);
            Console.WriteLine($"{chart.Title}: sounds in {chart.Key}, capo {ladder.Capo}, shapes in {ladder.ShapeKey}; "
                + $"{ladder.Flow.Chords.Count} chords; cold {cold:0} ms, warm {clock.Elapsed.TotalMilliseconds:0} ms");
            Console.WriteLine("  "
                + string.Join("  ",
                    ladder.Places.Select(p =>
                        $"{p.Capo}:{p.ShapeKey} {p.Score:0.0} "
                            + $"[{string.Join(" ", p.Rungs.Select(r => r is not { } w ? "-" : $"{w.Load:0}/{100 * w.Closeness:0}"))}]")));
            var graded = new StudentLadder(ladder, new Player());
            foreach (var rung in ladder.Rungs.Reverse())
            {
                if (rung is not PlayableRung playable || graded.FitOf(rung) is not { } fit)
                {
                    Console.WriteLine($"  {rung.Number} {rung.Limits.Name,-14} blocked");
                    continue;
                }
                Console.WriteLine($"  {rung.Number} {rung.Limits.Name,-14} load {playable.Load:0} close "
                    + $"{100 * playable.Closeness:0} fit {100 * fit.Value:0} at {fit.ComfortableTempo} {fit.Verdict} "
                    + $"{fit.Reason}");
                Console.WriteLine("      "
                    + string.Join("  ",
                        playable.Played.Select(c =>
                            $"{c.ShapeChord.Name}:{(c.IsNew ? c.Choice.Fingering.ToString().Replace(' ', '/') : "=")}({c.Choice.Kind},{c.Choice.Load:0},{100 * c.Choice.Closeness.Value:0})")));
            }
        }
        return 0;
    }
}
