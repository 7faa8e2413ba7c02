using System.Diagnostics;
using Tembri.Core.Arranging;
using Tembri.Core.Tests.Arranging;

namespace Tembri.Bench;

/// <summary>Side by side on the same instances: the arranger's optimiser and a general solver.</summary>
internal static class SolverDuel
{
    public static int Run()
    {
        Console.WriteLine("| chords | candidates | instances | same optimum | optimiser, ms median (greatest) | CP-SAT, ms "
            + "median | ratio of medians |\n|---|---|---|---|---|---|---|");
        foreach (var (nodes, values, instances, both) in new[]
        {
            (4, 8, 30, true), (5, 10, 20, true), (6, 12, 10, true), (12, 28, 10, false), (16, 40, 10, false), (24, 40, 10, false)
        })
        {
            List<double> mine = [], theirs = [];
            var same = 0;
            for (var seed = 0; seed < instances; seed++)
            {
                var problem = CpSat.Song(new Random(1000 * nodes + seed), nodes, values);
                var rounded = CpSat.Rounded(problem);
                var clock = Stopwatch.StartNew();
                var cost = (long)Math.Round(rounded.CostOf(ExactOptimiser.Solve(rounded).Choice));
                mine.Add(clock.Elapsed.TotalMilliseconds);
                if (!both) continue;
                clock.Restart();
                if (cost == CpSat.Solve(problem)) same++;
                theirs.Add(clock.Elapsed.TotalMilliseconds);
            }
            mine.Sort();
            theirs.Sort();
            var middle = instances / 2;
            Console.WriteLine($"| {nodes} | {values} | {instances} | {(both ? same : "not asked")} | {mine[middle]:0.0} "
                + $"({mine[^1]:0.0}) | {(both ? $"{theirs[middle]:0}" : "–")} | "
                + $"{(both ? $"{theirs[middle] / mine[middle]:0}" : "–")} |");
        }
        return 0;
    }
}
