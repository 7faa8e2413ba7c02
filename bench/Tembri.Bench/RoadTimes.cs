using System.Diagnostics;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Roads;
using Tembri.Core.Students;

namespace Tembri.Bench;

/// <summary>How long a road over 500 songs of five rungs takes, and how often it is proved: songs made from a seed.</summary>
internal static class RoadTimes
{
    private static readonly string[] Chords =
        ["C", "Dm", "Em", "F", "G", "Am", "G7", "Bb", "D", "E7", "Bm7b5", "Fmaj7", "A7", "Cadd9", "Dsus4", "C/E"];

    public static int Run(string songs)
    {
        var random = new Random(7);
        var builder = new LadderBuilder(new ResultCache());
        var player = new Player();
        var versions = new List<RoadVersion>();
        var count = int.Parse(songs, System.Globalization.CultureInfo.InvariantCulture);
        for (var i = 0; i < count; i++)
        {
            var text =
                $"tempo: {random.Next(60, 140)}\nkey: C\n| "
                    + $"{string.Join(" | ", Enumerable.Range(0, random.Next(3, 9)).Select(_ => Chords[random.Next(Chords.Length)]))} "
                    + "|";
            var chart = ChartReader.Read(text).Chart;
            chart = ChartTransposer.Move(chart, chart.Key.Transpose(random.Next(12)));
            var ladder = builder.Build(new ArrangementRequest { Chart = chart, Kind = player.Kind, HighestCapo = 5 });
            versions.AddRange(ladder.Playable.Where(r => !r.SameAsBelow)
                .Select(r => new RoadVersion($"s{i}", r.Number, VersionOutline.Of(r, chart.Tempo))));
        }
        Console.WriteLine($"{count} songs, {versions.Count} versions");
        var times = new List<double>();
        var (proved, gaps, many) = (0, new List<double>(), 0);
        for (var round = 0; round < 40; round++)
        {
            var skills = Skills.Each(_ => random.Next(15, 60));
            RoadGoal? goal = (round % 4) switch
            {
                0 => null,
                1 => new TechniqueGoal(Technique.FullBarre, 40),
                _ => new VersionGoal(versions[random.Next(versions.Count)] is var v ? v.Song : "", v.Rung)
            };
            var watch = Stopwatch.StartNew();
            var map =
                new RoadMap(new RoadRequest { Player = player with { Skills = skills }, Versions = versions, Goal = goal });
            var road = RoadFinder.Find(map);
            times.Add(watch.Elapsed.TotalMilliseconds);
            if (road.Gap == 0) proved++;
            else gaps.Add(road.Gap);
            if (road.Steps.Count > 1) many++;
            Console.WriteLine($"{goal?.ToString() ?? "onward",-60} {map.Things} things, {road.Steps.Count} steps, price "
                + $"{road.Price:0.00}, gap {road.Gap:P1}, {road.End}, {times[^1]:0} ms");
        }
        times.Sort();
        Console.WriteLine($"median {times[times.Count / 2]:0} ms, greatest {times[^1]:0}; proved {proved} of 40, several steps "
            + $"{many}; gaps {string.Join(' ', gaps.Select(g => $"{g:P1}"))}");
        return 0;
    }
}
