using CsCheck;
using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Practice;

/// <summary>What was tried, weighed for the hand and the guitar it was tried on.</summary>
public sealed class EvidenceTests
{
    private static readonly DateTimeOffset Noon = new(2026, 11, 2, 12, 0, 0, TimeSpan.Zero);
    private static readonly Shape C = Shape.Parse("x32010"), G = Shape.Parse("320003"), F = Shape.Parse("133211");
    private static readonly List<Shape> Open =
        [.. GripLibrary.All.Where(g => g.Shape.StringCount == 6 && g.Shape.HighestStopped <= 5).Select(g => g.Shape).Distinct()];

    private static Skills All(double skill) => Skills.Each(_ => skill);

    [Fact]
    public void The_same_tries_say_more_of_the_skill_on_a_guitar_that_is_harder_to_press()
    {
        var maker = new EvidenceMaker(Hand.Medium, thumb: false);
        var high = (GuitarMeasures.Of(Guitar.Steel) with { ActionAtFret12 = 4 }).ToGuitar();
        double Barre(Guitar guitar) =>
            SkillLearning.Replay(All(40), [maker.Tries(Noon, guitar, 0, F, null, 10, 7)!]).Belief.Mean(Technique.FullBarre);
        Assert.True(Barre(high) > Barre(Guitar.Steel) + 1, $"{Barre(high)} {Barre(Guitar.Steel)}");
        // Up the neck, above a capo, the same shape asks less.
        double Asked(int capo) => maker.Fingerings(Guitar.Steel, capo, F)[0].Load.Value;
        Assert.True(Asked(5) < Asked(0));
        // A shape no such hand can do is no evidence, and no count of changes to it either.
        var small = new EvidenceMaker(Hand.Preset("young-child"), thumb: false);
        var wide = Shape.Parse("1x5x4x");
        Assert.Empty(small.Fingerings(Guitar.Steel, 0, wide));
        Assert.Null(small.Tries(Noon, Guitar.Steel, 0, wide, null, 5, 0));
        Assert.Null(small.SecondsFor(Guitar.Steel, 0, (C, null), (wide, null)));
    }

    [Fact]
    public void What_is_remembered_is_what_is_found_anew()
    {
        var remembering = new EvidenceMaker(Hand.Medium, thumb: true);
        Gen.Select(Pick.From(Open), Pick.From(Open), Pick.From(Guitar.Presets), Gen.Int[0, 5]).Sample((from, to, guitar, capo) =>
        {
            var fresh = new EvidenceMaker(Hand.Medium, thumb: true);
            var seconds = remembering.SecondsFor(guitar, capo, (from, null), (to, null));
            Assert.Equal(fresh.SecondsFor(guitar, capo, (from, null), (to, null)), seconds);
            Assert.Equal(seconds, remembering.SecondsFor(guitar, capo, (from, null), (to, null)));
            // The pair is the easiest: no pair of likely fingerings has less time and load together.
            if (seconds is null) return;
            var changes = new ChangeModel(new NeckGeometry(guitar, capo));
            var pairs = fresh.Fingerings(guitar, capo, from)
                .SelectMany(f => fresh.Fingerings(guitar, capo, to)
                    .Select(
                        t => (Seconds: changes.Seconds(f, t), Sum: 20 * changes.Seconds(f, t) + f.Load.Value + t.Load.Value)));
            Assert.Equal(pairs.MinBy(p => p.Sum).Seconds, seconds.Value, 1e-9);
        }, iter: 60, threads: 1);
        Assert.Equal(0, remembering.SecondsFor(Guitar.Steel, 0, (C, null), (C, null)));
    }

    [Fact]
    public void A_change_in_time_needs_the_skill_that_makes_it_so()
    {
        Gen.Select(Gen.Double[0.2, 3], Gen.Double[0.1, 3], Gen.Double[0, 1], Gen.Double[0, 100])
            .Sample((reference, available, more, skill) =>
        {
            var gate = Gate.OfChange(reference, available);
            return Gate.OfChange(reference, available + more).Chance(skill) >= gate.Chance(skill) - 1e-12
                && gate.Chance(skill + 5) >= gate.Chance(skill)
                && Math.Abs(gate.Chance(gate.Threshold) - 0.5) < 1e-12
                && Math.Abs(ChangePace.SkillFor(reference, reference * ChangePace.SlownessOf(skill)) - skill) < 1e-9;
        });
    }

    [Fact]
    public void A_pattern_that_goes_at_a_quicker_tempo_says_more()
    {
        var pattern = StrumPattern.Parse("D-du-udu", Core.Music.Meter.Common, StrumPattern.Straight);
        double After(double tempo, bool went) =>
            SkillLearning.Replay(All(40), [EvidenceMaker.Strum(Noon, pattern, tempo, went)]).Belief.Mean(Technique.RightHand);
        var tempos = new[] { 60.0, 90, 120, 160 };
        Assert.Equal(tempos.Select(t => After(t, true)).Order(), tempos.Select(t => After(t, true)));
        Assert.Equal(tempos.Select(t => After(t, false)).Order(), tempos.Select(t => After(t, false)));
        Assert.All(tempos, t => Assert.True(After(t, true) >= 40 && After(t, false) <= 40));
    }

    [Fact]
    public void What_was_tried_before_the_teachers_numbers_is_in_them_but_what_was_measured_stays()
    {
        var maker = new EvidenceMaker(Hand.Medium, thumb: false);
        List<Evidence> log = [maker.Tries(Noon.AddDays(-20), Guitar.Steel, 0, C, null, 10, 10)!,
            new ChangeCount(Noon.AddDays(-10), 0.9, 60, 60, (C, G)),
            maker.Tries(Noon.AddDays(-1), Guitar.Steel, 0, G, null, 10, 2)!];
        var (whole, all) = Learnt.From(All(40), log, Noon);
        var (since, some) = Learnt.From(All(40), log, Noon, Noon.AddDays(-5));
        Assert.Equal((3, 1), (whole.Entries, since.Entries));
        Assert.Equal([0, 1, 2], all.Steps.Select(s => s.Index));
        Assert.Equal([2], some.Steps.Select(s => s.Index));
        Assert.Equal(40, since.Skills.Changes);
        Assert.True(whole.Skills.Changes > 45);
        Assert.Equal(whole.Changes.Select(c => c.Counts), since.Changes.Select(c => c.Counts));
        Assert.Equal(2, since.Shapes.Count);
    }

    [Fact]
    public void A_student_who_counts_evenly_is_known_more_surely_than_one_who_does_not()
    {
        double Deviation(double scatter)
        {
            var random = new Random(19);
            var student = new SimulatedStudent(All(50), random, scatter);
            var learning = new SkillLearning(All(45));
            for (var i = 0; i < 40; i++) learning.Learn(student.Count(Noon.AddDays(i), 0.9, 60));
            return learning.Belief.Deviation(Technique.Changes);
        }
        Assert.True(Deviation(0.05) < Deviation(0.14) && Deviation(0.14) < Deviation(0.35));
    }
}
