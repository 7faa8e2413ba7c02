using System.Globalization;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Core.Tests.Teaching;

namespace Tembri.Bench;

/// <summary>Builds many ladders and counts what a teacher would not accept, by kind; what that is stands with the
/// tests.</summary>
internal static class Complaints
{
    public static int Run(string folder, string? only)
    {
        var players = FitCheck.Players(folder);
        var charts = ComplaintTally.Progressions(WeightFit.Repository()).SelectMany((chart, i) =>
            new[] { 0, 2 + i % 3, 6 + i % 2, 9 + i % 3 }.Select(
                up => up == 0 ? chart : ChartTransposer.Move(chart, chart.Key.Transpose(up), up))).ToList();
        var cache = new ResultCache(400_000_000);
        var builder = new LadderBuilder(cache);
        var tally = new ComplaintTally();
        // One pair of players a chart, so that everybody meets every kind of song.
        Parallel.ForEach(charts.SelectMany(
                (c, i) => new[] { i % players.Count, (i + 3) % players.Count }.Select(p => (Chart: c, Player: players[p]))),
            job =>
        {
            var ladder = builder.Build(new ArrangementRequest { Chart = job.Chart, Kind = job.Player.Kind });
            tally.Judge(new StudentLadder(ladder, job.Player), job.Player);
        });
        Print(tally, only);
        return 0;
    }

    private static void Print(ComplaintTally tally, string? only)
    {
        foreach (var (kind, (bad, all, examples)) in tally.Counts)
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{bad,6} of {all,6}  {kind}"));
            if (only is not null && kind.Contains(only, StringComparison.OrdinalIgnoreCase))
                foreach (var e in examples.GroupBy(e => e).OrderByDescending(g => g.Count()).Take(60))
                    Console.WriteLine($"           {e.Count(),4} × {e.Key}");
        }
    }
}
