using CsCheck;
using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Tests.Shapes;

namespace Tembri.Core.Tests.Practice;

public sealed class LearningTests
{
    private static readonly DateTimeOffset Start = new(2026, 9, 1, 15, 0, 0, TimeSpan.Zero);
    private static readonly FingeringFinder Finder = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);
    private static readonly List<Fingering> Shapes = [.. GripLibrary.All.Select(g => Finder.Weigh(g.Shape, g.Fingers)!)];
    private static readonly ChangeModel Changes = new(new NeckGeometry(Guitar.Steel, 0));

    /// <summary>A student nobody knows, and six weeks of what a simulated one does: twenty counts, twenty shapes, twenty strums,
    /// each about what the guess would call doubtful.</summary>
    /// <param name="random">Where chance comes from.</param>
    /// <param name="off">How far the first guess is off, points.</param>
    /// <param name="growthADay">What is learnt in a day, points.</param>
    private static (Skills True, SkillHistory History, List<Evidence> Entries) SixWeeks(Random random, double off,
        double growthADay)
    {
        var first = Skills.Each(_ => 10 + 60 * random.NextDouble());
        var truth = Skills.Each(t => Math.Clamp(first[t] + off * SimulatedStudent.Normal(random), 2, 98));
        var student = new SimulatedStudent(truth, random);
        var entries = new List<Evidence>();
        for (var i = 0; i < 60; i++)
        {
            var at = Start.AddDays(i * 0.7);
            student.Skills = Skills.Each(t => Math.Min(98, truth[t] + growthADay * (at - Start).TotalDays));
            entries.Add((i % 3) switch
            {
                0 => Count(),
                1 => student.Strum(at, first.RightHand - 10 + 40 * random.NextDouble()),
                _ => student.Try(at, Doubtful(), 10)
            });

            Evidence Count()
            {
                double seconds;
                while ((seconds = Changes.Seconds(Shapes[random.Next(Shapes.Count)], Shapes[random.Next(Shapes.Count)])) < 0.3)
                {
                }
                return student.Count(at, seconds, 60);
            }
        }
        return (student.Skills, SkillLearning.Replay(first, entries), entries);

        Fingering Doubtful() =>
            Enumerable.Range(0, 8).Select(_ => Shapes[random.Next(Shapes.Count)])
                .MinBy(s => Math.Abs(FitModel.Clean(s, first) - 0.6))!;
    }

    private static readonly Lazy<List<(Skills True, SkillHistory History, List<Evidence> Entries)>> Many = new(() =>
    {
        var random = new Random(7);
        return [.. Enumerable.Range(0, 300).Select(i => SixWeeks(random, i % 2 == 0 ? 18 : 12, i % 3 == 0 ? 0.08 : 0))];
    });

    [Fact]
    public void Simulated_students_are_recovered()
    {
        var (error, inside, all) = (0.0, 0, 0);
        foreach (var (truth, history, entries) in Many.Value)
        {
            var belief = history.Belief;
            foreach (var t in entries.SelectMany(
                    e => e is Trials trials ? trials.Gates.Select(g => g.Technique) : [Technique.Changes]).Distinct())
            {
                var (low, high) = belief.Range(t);
                (error, inside,
                    all) = (error + Math.Abs(belief.Mean(t) - truth[t]), inside + (truth[t] >= low && truth[t] <= high ? 1 : 0),
                        all + 1);
            }
        }
        Assert.True(all > 1500, $"{all} skills were tried");
        Assert.True(error / all <= 6, $"{error / all:0.00} points off on the average");
        Assert.InRange(100.0 * inside / all, 85, 95);
    }

    [Fact]
    public void Predictions_of_counts_are_calibrated()
    {
        // The first counts of a student are left out: there the guess is judged, not the learning.
        var places = Many.Value.SelectMany(
                m => m.History.Steps.Where(s => s.Place is not null).Skip(3).Select(s => s.Place!.Value)).ToList();
        var deciles =
            places.GroupBy(p => Math.Min(9, (int)(10 * p))).ToDictionary(g => g.Key, g => 100.0 * g.Count() / places.Count);
        Assert.Equal(10, deciles.Count);
        Assert.All(deciles.Values, share => Assert.InRange(share, 6.5, 13.5));
    }

    [Fact]
    public void Tries_of_one_technique_give_what_Bayes_rule_gives()
    {
        Gen.Select(Gen.Double[35, 65], Gen.Double[20, 80], Gen.Int[1, 12], Gen.Int[0, 12]).Sample((first, load, tries, clean) =>
        {
            clean = Math.Min(clean, tries);
            var belief =
                SkillLearning.Replay(Skills.Each(_ => first), [new Trials(Start, [Gate.OfStrum(load)], tries, clean)]).Belief;
            // The same over a fine grid, with the chance the fit takes; tries of a sitting are alike by 0.04.
            var worth = 1 / (1 + 0.04 * (tries - 1));
            var (sum, mean, square) = (0.0, 0.0, 0.0);
            for (var s = first - 120; s <= first + 120; s += 0.05)
            {
                var chance = FitModel.Strummed(load, s);
                var density = Math.Exp(-(s - first) * (s - first) / (2 * 18.0 * 18)) * Math.Pow(chance, worth * clean)
                    * Math.Pow(1 - chance, worth * (tries - clean));
                (sum, mean, square) = (sum + density, mean + density * s, square + density * s * s);
            }
            mean /= sum;
            // What comes off whatever the skill may be is left out; where it is not, the sums agree to a tenth of a point.
            var near = belief.Mean(Technique.RightHand) == first ? 0.4 : 0.1;
            return Math.Abs(belief.Mean(Technique.RightHand) - Math.Clamp(mean, 0, 100)) <= near
                && Math.Abs(belief.Deviation(Technique.RightHand) - Math.Sqrt(square / sum - mean * mean)) <= near;
        });
    }

    [Fact]
    public void A_failed_shape_leaves_open_which_technique_failed()
    {
        var barre = Shapes.MaxBy(s => FitModel.Demands(s).Where(d => d.Technique == Technique.FullBarre).Sum(d => d.Points))!;
        var both = FitModel.Demands(barre).Select(d => d.Technique).ToHashSet();
        var first = Skills.Each(_ => 45);
        var failed = SkillLearning.Replay(first, [Trials.OfShape(Start, barre, 10, 0)]).Belief;
        Assert.All(both.Where(t => FitModel.Demands(barre).First(d => d.Technique == t).Points > 30),
            t => Assert.True(failed.Mean(t) < 45));
        // Once the fingers alone are seen to be good, the barre is what is blamed, more than before.
        var open = Shapes.Where(s => FitModel.Demands(s).All(d => d.Technique == Technique.Fingers)).MaxBy(s => s.Load.Value)!;
        var cleared = SkillLearning.Replay(first,
            [Trials.OfShape(Start, barre, 10, 0), Trials.OfShape(Start, open, 10, 10),
                Trials.OfShape(Start, open, 10, 10)]).Belief;
        Assert.True(cleared.Mean(Technique.Fingers) > failed.Mean(Technique.Fingers));
        Assert.True(cleared.Mean(Technique.FullBarre) < failed.Mean(Technique.FullBarre));
    }

    [Fact]
    public void More_clean_tries_make_a_shape_likelier_and_more_clean_changes_make_a_quicker_hand()
    {
        Gen.Select(Pick.From(Shapes), Gen.Int[1, 20], Gen.Int[0, 20], Gen.Double[5, 90], Gen.Double[0.3, 2])
            .Sample((shape, tries, clean, skill, seconds) =>
        {
            clean = Math.Min(clean, tries - 1);
            Skills After(Evidence evidence) => SkillLearning.Replay(Skills.Each(_ => skill), [evidence]).Belief.ToSkills();
            var (less, more) =
                (After(Trials.OfShape(Start, shape, tries, clean)), After(Trials.OfShape(Start, shape, tries, clean + 1)));
            var (slow, quick) =
                (After(new ChangeCount(Start, seconds, clean, 60)), After(new ChangeCount(Start, seconds, clean + 1, 60)));
            return FitModel.Clean(shape, more) >= FitModel.Clean(shape, less) - 1e-3 && quick.Changes >= slow.Changes - 1e-6;
        });
    }

    [Fact]
    public void A_log_gives_the_same_skills_in_any_order_of_telling_and_each_step_follows_on_the_one_before()
    {
        var (_, history, entries) = Many.Value[0];
        var shuffled = entries.Select((e, i) => (e, i)).OrderBy(x => x.i * 37 % entries.Count).Select(x => x.e).ToList();
        var first = history.Steps[0].Moves.Count > 0;
        Assert.True(first);
        var again = SkillLearning.Replay(Skills.Each(_ => 40), shuffled);
        var straight = SkillLearning.Replay(Skills.Each(_ => 40), entries);
        Assert.All(Enum.GetValues<Technique>(), t => Assert.Equal(straight.Belief.Mean(t), again.Belief.Mean(t), 1e-9));
        // What one step leaves is where the next starts, less what is forgotten between.
        var changes = straight.Steps.SelectMany(s => s.Moves.Where(m => m.Technique == Technique.Changes)).ToList();
        Assert.All(changes.Zip(changes.Skip(1)), p => Assert.Equal(p.First.To, p.Second.From, 1));
    }

    [Fact]
    public void What_is_not_tried_for_weeks_is_forgotten_a_little_and_known_less_surely()
    {
        var entry = new ChangeCount(Start, 0.9, 40, 60);
        var soon = SkillLearning.Replay(Skills.Each(_ => 40), [entry], Start.AddDays(14));
        var later = SkillLearning.Replay(Skills.Each(_ => 40), [entry], Start.AddDays(14 + 70));
        var ages = SkillLearning.Replay(Skills.Each(_ => 40), [entry], Start.AddYears(10));
        // half of the most, 8 points
        Assert.Equal(4, soon.Belief.Mean(Technique.Changes) - later.Belief.Mean(Technique.Changes), 1e-6);
        Assert.Equal(8, soon.Belief.Mean(Technique.Changes) - ages.Belief.Mean(Technique.Changes), 1);
        Assert.True(later.Belief.Deviation(Technique.Changes) > soon.Belief.Deviation(Technique.Changes));
        // no less sure than at first
        Assert.Equal(18, ages.Belief.Deviation(Technique.Changes), 1e-6);
        // never tried: as guessed
        Assert.Equal(40, ages.Belief.Mean(Technique.Fingers), 1e-9);
    }

    [Fact]
    public void A_gate_is_the_chance_the_fit_takes()
    {
        Gen.Select(Gen.Double[0, 100], Gen.Double[0, 100], Gen.Double[0.05, 3], Gen.Double[0.05, 3])
            .Sample((points, skill, reference, available) =>
        {
            var player = new Player { Skills = Skills.Each(_ => skill) };
            return Math.Abs(Gate.OfStrum(points).Chance(skill) - FitModel.Strummed(points, skill)) < 1e-9
                && Math.Abs(Gate.OfChange(reference, available).Chance(skill)
                        - FitModel.InTime(reference * player.ChangeSlowness, available)) < 1e-9;
        });
        Assert.All(Shapes,
            s => Assert.Equal(FitModel.Clean(s, Skills.Each(_ => 33)),
                FitModel.Demands(s).Aggregate(1.0, (c, d) => c * Gate.Of(d).Chance(33)), 9));
    }
}
