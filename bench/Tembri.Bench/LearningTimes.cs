using System.Diagnostics;
using System.Globalization;
using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Bench;

/// <summary>Learning from logs: how long a replay takes, how far off the skills are, whether intervals hold and predictions of
/// counts are spread evenly.</summary>
internal static class LearningTimes
{
    private static readonly DateTimeOffset Start = new(2026, 1, 1, 0, 0, 0, TimeSpan.Zero);

    public static int Run()
    {
        var neck = new NeckGeometry(Guitar.Steel, 0);
        var finder = new FingeringFinder(neck, Hand.Medium, true);
        var changes = new ChangeModel(neck);
        var shapes = GripLibrary.All.Select(g => finder.Weigh(g.Shape, g.Fingers)).OfType<Fingering>().ToList();
        foreach (var count in new[] { 1_000, 2_000, 10_000, 20_000 }) Time(count, shapes, changes);
        Calibrate(shapes, changes);
        return 0;
    }

    private static List<Evidence> Log(int count, SimulatedStudent student, List<Fingering> shapes, ChangeModel changes,
        Random random, double daysApart)
    {
        var entries = new List<Evidence>(count);
        for (var i = 0; i < count; i++)
        {
            var at = Start.AddDays(i * daysApart);
            double seconds;
            while ((seconds = changes.Seconds(shapes[random.Next(shapes.Count)], shapes[random.Next(shapes.Count)])) < 0.3) { }
            entries.Add((i % 3) switch
            {
                0 => student.Count(at, seconds, 60),
                1 => student.Strum(at, 15 + 60 * random.NextDouble()),
                _ => student.Try(at, shapes[random.Next(shapes.Count)], 10)
            });
        }
        return entries;
    }

    private static void Time(int count, List<Fingering> shapes, ChangeModel changes)
    {
        var random = new Random(3);
        var entries = Log(count, new SimulatedStudent(new Skills(), random), shapes, changes, random, 0.1);
        var times = new List<double>();
        for (var i = 0; i < 7; i++)
        {
            var watch = Stopwatch.StartNew();
            SkillLearning.Replay(new Skills(), entries);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"replay of {count,6:N0} entries: {times.Order().ElementAt(3):0.0} ms (least {times.Min():0.0})"));
    }

    private static void Calibrate(List<Fingering> shapes, ChangeModel changes)
    {
        foreach (var (off, growth) in new[] { (10, 0.0), (18, 0.0), (18, 0.08), (25, 0.0) })
        {
            var random = new Random(5);
            var (error, inside, all) = (0.0, 0, 0);
            var places = new int[10];
            for (var n = 0; n < 500; n++)
            {
                var first = Skills.Each(_ => 10 + 60 * random.NextDouble());
                var truth = Skills.Each(t => Math.Clamp(first[t] + off * SimulatedStudent.Normal(random), 2, 98));
                var student = new SimulatedStudent(truth, random);
                var learning = new SkillLearning(first);
                var tried = new HashSet<Technique>();
                for (var i = 0; i < 60; i++)
                {
                    student.Skills = Skills.Each(t => Math.Min(98, truth[t] + growth * 0.7 * i));
                    var doubtful = Enumerable.Range(0, 8).Select(_ => shapes[random.Next(shapes.Count)])
                        .MinBy(s => Math.Abs(FitModel.Clean(s, first) - 0.6))!;
                    var at = Start.AddDays(0.7 * i);
                    double seconds;
                    while ((seconds = changes.Seconds(shapes[random.Next(shapes.Count)], shapes[random.Next(shapes.Count)]))
                        < 0.3)
                    {
                    }
                    Evidence entry = (i % 3) switch
                    {
                        0 => student.Count(at, seconds, 60),
                        1 => student.Strum(at, first.RightHand - 10 + 40 * random.NextDouble()),
                        _ => student.Try(at, doubtful, 10)
                    };
                    tried.UnionWith(entry is Trials trials ? trials.Gates.Select(g => g.Technique) : [Technique.Changes]);
                    var step = learning.Learn(entry, i);
                    if (step.Place is { } place && i > 8) places[Math.Min(9, (int)(10 * place))]++;
                }
                foreach (var t in tried)
                {
                    var (low, high) = learning.Belief.Range(t);
                    (error, inside,
                        all) = (error + Math.Abs(learning.Belief.Mean(t) - student.Skills[t]),
                            inside + (student.Skills[t] >= low && student.Skills[t] <= high ? 1 : 0), all + 1);
                }
            }
            var counts = places.Sum();
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"guess off by {off}, growth {growth} a day: {error / all:0.0} points off, {100.0 * inside / all:0.0} % inside; "
                    + $"counts by decile {string.Join(" ", places.Select(p => $"{100.0 * p / counts:0.0}"))}"));
        }
    }
}
