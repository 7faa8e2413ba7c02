using System.Diagnostics;
using System.Globalization;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;

namespace Tembri.Bench;

/// <summary>Many kinds of player over many songs: what is kept, what the process takes, and how long a ladder takes the first
/// and the second time.</summary>
internal static class KindMemory
{
    private const int Songs = 50;

    public static int Run(IReadOnlyList<string> files)
    {
        var charts = Enumerable.Range(0, Songs).Select(i => Song(files, i)).ToList();
        List<PlayerKind> all =
        [
            .. from hand in new[] { "medium", "small", "child", "large" }
               from guitar in new[] { "steel", "classical" }
               from pace in new[] { 30, 60 }
               select new PlayerKind(Hand.Preset(hand), Guitar.Preset(guitar), false, BarreGoal.Neutral, ChangePace.Of(pace)),
        ];
        Console.WriteLine(
            "| kinds | first, ms a ladder (median, most) | again, ms | kept, MB | process, MB |\n|---|---|---|---|---|");
        foreach (var count in new[] { 1, 4 })
        {
            var cache = new ResultCache();
            var builder = new LadderBuilder(cache);
            var first = Times(builder, charts, all.Take(count));
            var again = Times(builder, charts, all.Take(count));
            GC.Collect();
            using var process = Process.GetCurrentProcess();
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"| {count} | {first[first.Count / 2]:0} ({first[^1]:0}) | {again[again.Count / 2]:0} ({again[^1]:0}) | "
                    + $"{cache.Bytes / 1e6:0} | {process.WorkingSet64 / 1e6:0} |"));
        }
        Console.WriteLine(Sizes(charts, all));
        return 0;
    }

    /// <summary>What a kept ladder and the kept results really take, against what the caches reckon.</summary>
    private static string Sizes(IReadOnlyList<Chart> charts, IReadOnlyList<PlayerKind> kinds)
    {
        var cache = new ResultCache();
        var builder = new LadderBuilder(cache);
        builder.Build(new ArrangementRequest { Chart = charts[0], Kind = kinds[0] });
        cache.Forget();
        var before = GC.GetTotalMemory(forceFullCollection: true);
        List<Ladder> ladders = [.. from kind in kinds.Take(
            4) from chart in charts select builder.Build(new ArrangementRequest { Chart = chart, Kind = kind })];
        var (reckoned, both) = (cache.Bytes, GC.GetTotalMemory(forceFullCollection: true) - before);
        cache.Forget();
        var alone = GC.GetTotalMemory(forceFullCollection: true) - before;
        GC.KeepAlive(ladders);
        return string.Create(CultureInfo.InvariantCulture,
            $"a ladder takes {alone / 1e3 / ladders.Count:0} kB; results take {(both - alone) / 1e6:0} MB where "
                + $"{reckoned / 1e6:0} are reckoned");
    }

    /// <summary>A demo song in another key, so that fifty songs are not ten.</summary>
    private static Chart Song(IReadOnlyList<string> files, int number)
    {
        var chart = ChartReader.Read(File.ReadAllText(files[number % files.Count])).Chart;
        var up = number / files.Count * 2;
        return up == 0 ? chart : ChartTransposer.Move(chart, chart.Key.Transpose(up), up);
    }

    private static List<double> Times(LadderBuilder builder, IReadOnlyList<Chart> charts, IEnumerable<PlayerKind> kinds)
    {
        var times = new List<double>();
        foreach (var kind in kinds)
            foreach (var chart in charts)
            {
                var clock = Stopwatch.StartNew();
                builder.Build(new ArrangementRequest { Chart = chart, Kind = kind });
                times.Add(clock.Elapsed.TotalMilliseconds);
            }
        times.Sort();
        return times;
    }
}
