using CsCheck;
using Tembri.Core.Planning;
using Tembri.Core.Roads;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Roads;

public sealed class RoadTests
{
    private static readonly Shape[] Pool = [.. new[]
    {
        "x32010", "320003", "xx0232", "022000", "x02210", "xx3211", "133211", "x24432", "xx4432", "x02220"
    }.Select(Shape.Parse)];

    private static readonly StrumPattern Downs =
        StrumPattern.TryParse("d-d-d-d-", Meter.Common, out var downs, out _) ? downs! : throw new InvalidOperationException();

    private static readonly Player Student = new();

    private static RoadVersion Version(string song, int rung, double tempo,
        params (int Shape, Technique Technique, double Points)[] chords) =>
        new(song, rung, new VersionOutline(
        tempo, OutlinedHand.Of(Downs),
        [.. chords.Select(c => new OutlinedChord($"C{c.Shape}", 8, 4, [new Demand(c.Technique, c.Points)], Pool[c.Shape]))],
        [.. Enumerable.Range(0, chords.Length)
            .Select(i => new OutlinedChange(i, (i + 1) % chords.Length, 4, chords.Length > 1 ? 0.5 : 0, false, 3.5))]));

    private static readonly Gen<RoadVersion[]> Libraries =
        from versions in Gen.Select(Gen.Int[0, Pool.Length - 1].Array[1, 4], Gen.Int[0, 4], Gen.Double[20, 90],
                Gen.Double[60, 150], Gen.Bool).Array[2, 6]
        select versions.Select((v, i) => Version($"s{i / 2}", i % 2 + 1, v.Item4,
                    [.. v.Item1.Distinct().Select(s => (s, (Technique)v.Item2, v.Item3 * (0.6 + s / 20.0)))])
                with { Wished = v.Item5 && i % 3 == 0 }).ToArray();

    private static RoadMap Map(RoadVersion[] versions, RoadGoal? goal, int steps, params Shape[] fading) =>
        new(new RoadRequest { Player = Student, Versions = versions, Goal = goal, Steps = steps, Fading = fading });

    /// <summary>The price of one version after some others, reckoned with sets.</summary>
    private static double Price(RoadMap map, int version, IReadOnlySet<RoadThing> learnt)
    {
        var fresh = map.ThingsOf(version).Where(t => !learnt.Contains(t.Thing)).Sum(t => t.Weight);
        var v = map.Request.Versions[version];
        var met =
            v.Outline.Chords.Where(c => c.Beats > 0).Select(c => c.Shape!).Distinct().Count(s => map.Request.Fading.Contains(s));
        return Math.Max(0, fresh * fresh - 0.1 * Math.Min(3, met) - (v.Wished ? 0.5 : 0));
    }

    private static double Cheapest(RoadMap map, Func<int, bool> isEnd, int steps, HashSet<RoadThing> learnt)
    {
        var least = double.PositiveInfinity;
        for (var v = 0; v < map.Request.Versions.Count; v++)
        {
            var price = Price(map, v, learnt);
            if (isEnd(v)) least = Math.Min(least, price);
            else if (steps > 1)
                least = Math.Min(least,
                    price + Cheapest(map, isEnd, steps - 1, [.. learnt, .. map.ThingsOf(v).Select(t => t.Thing)]));
        }
        return least;
    }

    [Fact]
    public void No_road_to_a_song_or_to_a_technique_is_cheaper()
    {
        var (several, none) = (0, 0);
        Gen.Select(Libraries, Gen.Int[1, 4], Gen.Bool, Gen.Int[0, 100]).Sample((versions, steps, toSong, pick) =>
        {
            RoadGoal goal = toSong
                ? new VersionGoal(versions[pick % versions.Length].Song, versions[pick % versions.Length].Rung)
                : new TechniqueGoal((Technique)(pick % 5), 45);
            var map = Map(versions, goal, steps, Pool[0]);
            var road = RoadFinder.Find(map);
            if (goal is TechniqueGoal { } technique && Student.Skills[technique.Technique] >= technique.Level)
            {
                Assert.Equal((RoadEnd.ThereAlready, 0), (road.End, road.Steps.Count));
                return;
            }
            bool IsEnd(int v) =>
                goal is VersionGoal g
                    ? versions[v].Song == g.Song && versions[v].Rung == g.Rung
                    : versions[v].Asks(((TechniqueGoal)goal).Technique) >= 45;
            var least = Cheapest(map, IsEnd, steps, []);
            if (double.IsPositiveInfinity(least))
            {
                Interlocked.Increment(ref none);
                Assert.Equal((RoadEnd.NothingLeadsThere, 0), (road.End, road.Steps.Count));
                return;
            }
            Assert.Equal(least, road.Price, 1e-9);
            Assert.Equal(0, road.Gap);
            Assert.InRange(road.Steps.Count, 1, steps);
            Assert.True(IsEnd(Array.IndexOf(versions, road.Steps[^1].Version)));
            if (road.Steps.Count > 1) Interlocked.Increment(ref several);
            // What a step says of itself is what it is.
            var learnt = new HashSet<RoadThing>();
            foreach (var step in road.Steps)
            {
                var at = Array.IndexOf(versions, step.Version);
                Assert.Equal(Price(map, at, learnt), step.Price, 1e-9);
                Assert.Equal(map.ThingsOf(at).Select(t => t.Thing).Where(t => !learnt.Contains(t)).ToHashSet(),
                    step.Adds.Select(a => a.Thing).ToHashSet());
                learnt.UnionWith(map.ThingsOf(at).Select(t => t.Thing));
                Assert.Equal(map.ThingsOf(Array.IndexOf(versions, road.Steps[^1].Version)).Count(t => !learnt.Contains(t.Thing)),
                    step.Left);
            }
        }, iter: 1500, threads: 2);
        Assert.True(several > 100 && none > 10, $"{several} roads of several steps, {none} without end");
    }

    [Fact]
    public void More_songs_and_more_steps_never_make_a_road_dearer()
    {
        Gen.Select(Libraries, Libraries).Sample((versions, more) =>
        {
            var goal = new VersionGoal(versions[^1].Song, versions[^1].Rung);
            var alone = RoadFinder.Find(Map(versions, goal, 3)).Price;
            // A shape weighs as where it is hardest, so the library that is added must not make the same shapes harder.
            RoadVersion[] all = [.. versions, .. more.Select(m => m with { Song = $"more {m.Song}" })];
            var map = Map(all, goal, 3);
            if (Enumerable.Range(0, versions.Length).All(v => Math.Abs(map.NewIn(v) - Map(versions, goal, 3).NewIn(v)) < 1e-12))
                Assert.True(RoadFinder.Find(map).Price <= alone + 1e-9);
            Assert.True(RoadFinder.Find(Map(versions, goal, 4)).Price <= alone + 1e-9);
        }, iter: 300, threads: 2);
    }

    [Fact]
    public void Without_a_goal_each_step_is_the_cheapest_that_brings_something()
    {
        Gen.Select(Libraries, Gen.Int[1, 5]).Sample((versions, steps) =>
        {
            var map = Map(versions, null, steps);
            var road = RoadFinder.Find(map);
            var learnt = new HashSet<RoadThing>();
            double Added(int v) => map.ThingsOf(v).Where(t => !learnt.Contains(t.Thing)).Sum(t => t.Weight);
            foreach (var step in road.Steps)
            {
                var worth = Enumerable.Range(0, versions.Length).Where(v => Added(v) >= 0.5).ToList();
                Assert.Equal(worth.Min(v => Price(map, v, learnt)), step.Price, 1e-9);
                Assert.True(step.Added >= 0.5);
                learnt.UnionWith(map.ThingsOf(Array.IndexOf(versions, step.Version)).Select(t => t.Thing));
            }
            if (road.Steps.Count < steps) Assert.DoesNotContain(Enumerable.Range(0, versions.Length), v => Added(v) >= 0.5);
            Assert.Equal(road.Steps.Count < steps ? RoadEnd.NothingNewLeft : RoadEnd.AsLongAsAsked, road.End);
        }, iter: 500, threads: 2);
    }

    [Fact]
    public void A_road_takes_time_that_grows_with_what_is_new_and_shrinks_with_minutes_a_day()
    {
        Gen.Select(Libraries, Gen.Int[1, 5], Gen.Int[5, 60], Gen.Int[10, 200]).Sample((versions, steps, minutes, days) =>
        {
            var road = RoadFinder.Find(Map(versions, null, steps));
            var (time, twice) = (RoadForecast.Of(road, minutes), RoadForecast.Of(road, 2 * minutes));
            Assert.Equal(road.Steps.Count, time.Minutes.Count);
            for (var i = 0; i < road.Steps.Count; i++)
            {
                Assert.True(time.Minutes[i] >= 0 && time.DaysUntil(i) >= (i == 0 ? 0 : time.DaysUntil(i - 1))
                    && twice.DaysUntil(i) <= time.DaysUntil(i));
                // A shape alone that never sounds takes log₂(1/0.15) halvings of ten minutes, half as much again.
                if (road.Steps[i].Adds is [{ Thing: ShapeThing, Weight: 1 }])
                    Assert.Equal(1.5 * 10 * Math.Log2(1 / 0.15), time.Minutes[i], 1e-9);
            }
            Assert.True(time.MinutesADayFor(days) * Math.Max(1, Math.Floor(days * 5.0 / 7)) >= time.Total);
        }, iter: 200, threads: 2);
    }

    [Fact]
    public void What_is_new_shrinks_as_skills_grow_and_what_was_measured_is_known()
    {
        Gen.Select(Libraries, Gen.Double[0, 60], Gen.Double[0, 40]).Sample((versions, low, more) =>
        {
            RoadMap For(double skill) =>
                new(new RoadRequest { Player = Student with { Skills = Skills.Each(_ => skill) }, Versions = versions });
            var (weak, able) = (For(low), For(low + more));
            for (var v = 0; v < versions.Length; v++) Assert.True(able.NewIn(v) <= weak.NewIn(v) + 1e-9);
        }, iter: 300, threads: 2);
        var hard = Version("x", 1, 90, (6, Technique.FullBarre, 60));
        var known = Student with { Measured = new Measured(new Dictionary<Shape, MeasuredShape> { [Pool[6]] = new(200, 198) },
            new Dictionary<(Shape, Shape), MeasuredChange>()) };
        Assert.Contains(new RoadMap(new RoadRequest { Player = Student, Versions = [hard] }).ThingsOf(0),
            t => t.Thing is TechniqueThing { Technique: Technique.FullBarre, Level: 60 });
        Assert.Empty(new RoadMap(new RoadRequest { Player = known, Versions = [hard] }).ThingsOf(0));
    }

    [Fact]
    public void A_change_is_new_down_to_the_time_the_song_leaves_and_what_a_technique_goal_asks_is_met()
    {
        // Half a second of way at a slowness of √2 (skill 40), nine of ten in time; 60/120 × 3.5 beats are there.
        var song = Version("x", 1, 120, (0, Technique.Fingers, 5), (1, Technique.Fingers, 5));
        var map = new RoadMap(new RoadRequest { Player = Student, Versions = [song] });
        Assert.DoesNotContain(map.ThingsOf(0), t => t.Thing is ChangeThing);
        var quick = Version("x", 1, 400, (0, Technique.Fingers, 5), (1, Technique.Fingers, 5));
        var levels = new RoadMap(new RoadRequest { Player = Student, Versions = [quick] }).ThingsOf(0).Select(t => t.Thing)
            .OfType<ChangeThing>().ToList();
        Assert.NotEmpty(levels);
        Assert.All(levels, l => Assert.True(l.Seconds >= 60 / 400.0 * 3.5 - 1e-9));
        // At the skill that a version asks of changes, nine of ten are in time.
        var asked = quick.Asks(Technique.Changes);
        var fit = new VersionFit(quick.Outline, Student with { Skills = Skills.Each(t => t == Technique.Changes ? asked : 90) });
        Assert.Equal(0.9, fit.Changes[0].InTime, 1e-6);
        Assert.Throws<ArgumentException>(() => RoadFinder.Find(Map([song], new VersionGoal("y", 1), 3)));
        Assert.Throws<ArgumentException>(() => RoadFinder.Find(Map([song], null, 0)));
    }

    [Fact]
    public void What_stands_in_the_way_names_songs_that_bring_it()
    {
        RoadVersion[] library = [Version("goal", 5, 90, (6, Technique.FullBarre, 60), (0, Technique.Fingers, 5)),
            Version("helps", 3, 90, (6, Technique.FullBarre, 55)), Version("other", 1, 90, (1, Technique.Fingers, 10))];
        var leading = Map(library, null, 1).LeadingTo(0);
        Assert.Equal([1], leading.Single(l => l.Thing is ShapeThing).Versions);
        Assert.All(leading, l => Assert.DoesNotContain(0, l.Versions));
        Assert.True(leading.Zip(leading.Skip(1)).All(p => p.First.Weight >= p.Second.Weight));
    }
}
