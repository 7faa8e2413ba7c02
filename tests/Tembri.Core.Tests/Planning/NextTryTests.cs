using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Tests.Shapes;

namespace Tembri.Core.Tests.Planning;

/// <summary>What is tried at a first meeting: the tries that tell most of the skills that are known least.</summary>
public sealed class NextTryTests
{
    private static readonly DateTimeOffset Noon = new(2026, 11, 2, 12, 0, 0, TimeSpan.Zero);

    private static Skills All(double skill) => Skills.Each(t => t == Technique.FullBarre ? skill / 2 : skill);

    [Fact]
    public void Eight_tries_chosen_one_after_the_other_tell_more_than_eight_by_chance()
    {
        var finder = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);
        var shapes = GripLibrary.All.Where(g => !g.Rare)
            .Select(g => (TryOut)new ShapeTryOut(g.Chord.Name, finder.Weigh(g.Shape, g.Fingers)!)).ToList();
        var random = new Random(11);
        Technique[] asked = [Technique.Fingers, Technique.Stretch, Technique.ShortBarre, Technique.FullBarre, Technique.Muting];
        double Left(bool chosen)
        {
            var sum = 0.0;
            for (var i = 0; i < 60; i++)
            {
                var first = All(20 + 40 * random.NextDouble());
                var student = new SimulatedStudent(
                    Skills.Each(t => Math.Clamp(first[t] + 30 * (random.NextDouble() - 0.5), 0, 100)), random);
                var learning = new SkillLearning(first);
                var left = shapes.ToList();
                for (var n = 0; n < 8; n++)
                {
                    var next = chosen ? NextTry.Best(learning.Belief, left) : left[random.Next(left.Count)];
                    left.Remove(next);
                    learning.Learn(student.Try(Noon, ((ShapeTryOut)next).Fingering, NextTry.Tries));
                }
                sum += asked.Sum(t => Math.Log(learning.Belief.Deviation(t)));
            }
            return sum / 60;
        }
        Assert.True(Left(true) < Left(false) - 0.3, "the tries that are chosen narrow the belief more");
    }

    /// <summary>The expected information of a try by a fine sum over what is believed, slopes as differences.</summary>
    [Fact]
    public void What_a_try_tells_is_the_information_that_is_expected_of_it()
    {
        var finder = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);
        var learning = new SkillLearning(All(45));
        var shapes = GripLibrary.All.Where(g => !g.Rare).Select(g => finder.Weigh(g.Shape, g.Fingers)!).ToList();
        // A few tries of each, so that the belief is narrow enough for the three places where the model looks.
        foreach (var shape in shapes) learning.Learn(Trials.OfShape(Noon, shape, 4, 2));
        var belief = learning.Belief;
        double Expected(Fingering shape)
        {
            var gates = FitModel.Demands(shape).Select(Gate.Of).ToList();
            var told = 0.0;
            foreach (var technique in gates.Select(g => g.Technique).Distinct())
            {
                var (mean, deviation) = (belief.Mean(technique), belief.Deviation(technique));
                double Clean(double skill) => gates
                    .Aggregate(1.0, (p, g) => p * g.Chance(g.Technique == technique ? skill : belief.Mean(g.Technique)));
                var (sum, weights) = (0.0, 0.0);
                for (var z = -4.0; z <= 4; z += 0.05)
                {
                    var skill = mean + z * deviation;
                    var (p, slope) = (Clean(skill), (Clean(skill + 0.01) - Clean(skill - 0.01)) / 0.02);
                    var weight = Math.Exp(-z * z / 2);
                    (sum, weights) = (sum + weight * NextTry.Tries * slope * slope / (p * (1 - p)), weights + weight);
                }
                told += 0.5 * Math.Log(1 + sum / weights * deviation * deviation);
            }
            return told;
        }
        Assert.All(shapes, s =>
            Assert.InRange(NextTry.Tells(belief, new ShapeTryOut("", s)) / Expected(s), 0.92, 1.08));
    }
}
