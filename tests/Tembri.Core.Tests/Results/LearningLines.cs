using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Checking;
using Tembri.Core.Ladders;
using Tembri.Core.Planning;
using Tembri.Core.Playing;
using Tembri.Core.Practice;
using Tembri.Core.Roads;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Tests.Charts;
using Tembri.Core.Tests.Ladders;
using static Tembri.Core.Tests.Results.ResultLines;

namespace Tembri.Core.Tests.Results;

/// <summary>What is found in charts, played, learnt and led to: a line for each.</summary>
internal static class LearningLines
{
    private static readonly DateTimeOffset Start = new(2026, 9, 1, 15, 0, 0, TimeSpan.Zero);

    private static Ladder LadderOf(string text) =>
        Known.Builder.Build(new() { Chart = ChartReader.Read(text).Chart, Kind = new Player().Kind });

    /// <summary>What is doubted in each chart of the corpus and how it can be mended.</summary>
    public static IEnumerable<string> Doubts()
    {
        foreach (var (name, text) in MessyCharts.All.Select(c => (c.Key, c.Value.Text)).Concat(Songs()))
        {
            var chart = ChartReader.Read(text).Chart;
            foreach (var doubt in DoubtFinder.Find(text, chart))
                yield return $"{name}: {doubt.Id} {doubt.Line} {doubt.Column} {doubt.Message} {string.Join(" / ", doubt.Mends.Select(m => $"{m.Words} {m.Edits.Count}"))}";
        }
    }

    /// <summary>Every stroke of the second rung and of the record's rung of each demo song.</summary>
    public static IEnumerable<string> Strokes()
    {
        foreach (var (song, text) in Songs())
            foreach (var number in new[] { 2, 5 })
            {
                var ladder = LadderOf(text);
                var played = new Performance(new VersionChart(ladder, ladder.Played(number)));
                yield return $"{song} {number}: {Number(played.Length)} {Number(played.QuarterTempo)} {string.Join(" ", played.Chords.Select(c => $"{c.ShapeName} {c.Bass}"))}";
                foreach (var bar in played.Bars.Take(12))
                    yield return $" {Number(bar.At)} {string.Join(" ", played.Strokes.Where(s => s.At >= bar.At && s.At < bar.At + bar.Length).Select(s => $"{Number(s.At - bar.At)} {Number(s.Length)} {Number(s.Strength)}{(s.Up ? "u" : "")}{(s.IsDamped ? "x" : "")} {string.Join(",", s.Notes)}"))}";
            }
    }

    /// <summary>What is believed of two students after six weeks of counts, shapes and strums, how long a song takes them, and
    /// what they are advised.</summary>
    public static IEnumerable<string> Learning()
    {
        foreach (var (seed, off) in new[] { (3, 18.0), (4, -12.0) })
        {
            var random = new Random(seed);
            var first = Skills.Each(_ => 20 + 50 * random.NextDouble());
            var truth = Skills.Each(t => Math.Clamp(first[t] + off * random.NextDouble(), 2, 98));
            var student = new SimulatedStudent(truth, random);
            var shapes = GripLibrary.All.Select(g => g.Shape).ToList();
            var finder = new FingeringFinder(new(Core.Fretboard.Guitar.Steel, 0), Core.Hands.Hand.Medium, false);
            var entries = new List<Evidence>();
            for (var day = 0; day < 42; day++)
            {
                var at = Start.AddDays(day);
                Shape from = shapes[random.Next(shapes.Count)], to = shapes[random.Next(shapes.Count)];
                entries.Add(student.Count(at, 0.4 + random.NextDouble(), 60, (from, to)));
                if (finder.Best(from) is { } held) entries.Add(student.Try(at, held, 8));
                if (day % 3 == 0) entries.Add(student.Strum(at, 20 + 50 * random.NextDouble()));
            }
            var (learnt, _) = Core.Practice.Learnt.From(first, entries, Start.AddDays(45));
            yield return $"student {seed}: {string.Join(" ", Enum.GetValues<Technique>().Select(t => $"{t} {Number(learnt.Skills[t])} {Number(learnt.Deviations[t])}"))}";
            foreach (var shape in learnt.Shapes) yield return $" {string.Join(",", shape.Frets)} {Number(shape.Tries)} {Number(shape.Clean)}";
            foreach (var c in learnt.Changes)
                yield return $" {string.Join(",", c.From)} to {string.Join(",", c.To)} {Number(c.Counts)} {Number(c.LogSeconds)}";
            foreach (var stuck in StuckChange.Of(entries, Start.AddDays(45), (_, _, aMinute) => aMinute >= 40))
                yield return $" stuck {stuck.From} {stuck.To} {Number(stuck.Now)} {Number(stuck.Before)} {stuck.Days}";
            foreach (var (song, text) in Songs())
            {
                var player = new Player { Skills = learnt.Skills, Measured = learnt.ToMeasured() };
                var graded = new StudentLadder(LadderOf(text), player);
                foreach (var rung in graded.Ladder.Playable)
                {
                    var fit = graded.FitOf(rung)!;
                    var forecast = GoalForecast.Of(rung, fit, learnt.Skills, 30);
                    var advice = StepAdvice.Of(graded, rung.Number, new StepAdvice.Evidence(3, 2));
                    yield return $" {song} {rung.Number} {fit.Verdict} {Number(fit.Value)} {Number(forecast.Minutes)} min {forecast.PracticeDays} days {forecast.MinutesADay} a day {advice.Step} {advice.Reason} {advice.To?.Number}";
                }
            }
        }
    }

    /// <summary>The road to the record's rung of each demo song, and to a full barre, through the versions of all.</summary>
    public static IEnumerable<string> Roads()
    {
        var player = new Player { Skills = Skills.Each(t => t == Technique.FullBarre ? 18 : 40) };
        var versions = Songs().SelectMany(s =>
        {
            var ladder = LadderOf(s.Text);
            var outline = LadderOutline.Of(ladder);
            return ladder.Playable.Select(r => new RoadVersion(s.Song, r.Number, outline.Find(r.Number)!));
        }).ToList();
        foreach (var goal in versions.Where(v => v.Rung == 5).Select(v => (RoadGoal)new VersionGoal(v.Song, v.Rung))
            .Append(new TechniqueGoal(Technique.FullBarre, 45)))
        {
            var map = new RoadMap(new RoadRequest { Player = player, Versions = versions, Goal = goal, Steps = 4 });
            var road = RoadFinder.Find(map);
            yield return $"{(goal is VersionGoal song ? song.Song : "full barre")}: {road.End} {Number(road.Price)} {Number(road.Gap)}";
            foreach (var step in road.Steps) yield return $" {step.Version.Song} {step.Version.Rung} {Number(step.Added)} {step.Adds.Count} things";
        }
    }
}
