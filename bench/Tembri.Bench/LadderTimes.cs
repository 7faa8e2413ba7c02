using System.Diagnostics;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Bench;

/// <summary>Times whole ladders: cold (nothing known yet), and again (shapes and fingerings known, every arrangement solved
/// anew).</summary>
internal static class LadderTimes
{
    private static readonly LadderBuilder Builder = new(new ResultCache());

    public static int Run(IReadOnlyList<string> files)
    {
        // One song to warm the runtime up, not the caches of the others' hands.
        Build(files[0], new Player { Hand = Hand.Preset("large") });
        Console.WriteLine("| song | chords | cold, ms | again, ms (median of 7) |\n|---|---|---|---|");
        foreach (var file in files)
        {
            var player = new Player { Hand = Hand.Medium, Guitar = Guitar.Steel };
            var (cold, ladder) = Build(file, player);
            var again = Enumerable.Range(0, 7).Select(_ => Build(file, player).Milliseconds).Order().ElementAt(3);
            Console.WriteLine($"| {ladder.Chart.Title} | {ladder.Flow.Chords.Count} | {cold:0} | {again:0} |");
        }
        return 0;
    }

    private static (double Milliseconds, Ladder Ladder) Build(string file, Player player)
    {
        var chart = ChartReader.Read(File.ReadAllText(file)).Chart;
        var clock = Stopwatch.StartNew();
        var ladder = Builder.Build(new ArrangementRequest { Chart = chart, Kind = player.Kind });
        return (clock.Elapsed.TotalMilliseconds, ladder);
    }
}
