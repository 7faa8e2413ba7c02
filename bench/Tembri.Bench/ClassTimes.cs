using System.Diagnostics;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Classes;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Bench;

/// <summary>How long a class sheet takes: every key, capo and rung for several players.</summary>
internal static class ClassTimes
{
    public static int Run(string folder)
    {
        foreach (var file in Directory.GetFiles(Path.Combine(folder, "demo", "songs"), "*.txt").Order())
        {
            var chart = ChartReader.Read(File.ReadAllText(file)).Chart;
            foreach (var players in new[] { 1, 3, 6 })
            {
                var builder = new LadderBuilder(new ResultCache());
                var request = new ClassRequest
                {
                    Chart = chart,
                    Players = [.. Enumerable.Range(0, players)
                        .Select(i => new ClassPlayer($"p{i}",
                            new Player
                            {
                                Skills = new Skills { Fingers = 30 + 8 * i, Changes = 20 + 12 * i, FullBarre = 10 * i }
                            }, [1, 2, 3, 4, 5]))],
                };
                var watch = Stopwatch.StartNew();
                var sheet = new ClassArranger(builder).Arrange(request);
                var first = watch.ElapsedMilliseconds;
                watch.Restart();
                new ClassArranger(builder).Arrange(request);
                Console.WriteLine($"{Path.GetFileNameWithoutExtension(file),-24} {players} players, "
                    + $"{request.Players.Select(p => p.Player.Kind.Key).Distinct().Count()} kinds: first {first} ms, again "
                    + $"{watch.ElapsedMilliseconds} ms; {sheet.Chart.Key} ({sheet.Semitones}), {sheet.Tempo} of "
                    + $"{sheet.RecordTempo}, worst {sheet.WorstFit:P1} "
                    + $"{string.Join(' ', sheet.Parts.Select(p => $"r{p.Rung.Number}c{p.Rung.Capo}"))}");
            }
        }
        return 0;
    }
}
