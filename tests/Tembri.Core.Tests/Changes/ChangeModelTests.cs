using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Tests.Shapes;

namespace Tembri.Core.Tests.Changes;

public sealed class ChangeModelTests
{
    private static readonly FingeringFinder Finder = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);
    private static readonly ChangeModel Model = new(new NeckGeometry(Guitar.Steel, 0));

    private static Fingering Grip(string frets, string fingers) => Finder.Weigh(Shape.Parse(frets), LoadTests.Fingers(fingers))!;

    [Fact]
    public void Staying_costs_nothing()
    {
        foreach (var grip in GripLibrary.All)
        {
            var fingering = Finder.Weigh(grip.Shape, grip.Fingers)!;
            var change = Model.Between(fingering, fingering);
            Assert.Equal(0, change.Seconds);
            Assert.Equal(0, change.Blocks);
        }
    }

    [Fact]
    public void Two_fingers_stay_as_anchors_through_the_four_chord_song()
    {
        var shapes = new[] { Grip("320033", "210034"), Grip("x32033", "x21034"), Grip("022033", "012034") };
        foreach (var from in shapes)
            foreach (var to in shapes)
                if (!ReferenceEquals(from, to))
                    Assert.True(Model.Between(from, to).Anchors.Intersect([Finger.Ring, Finger.Little]).Count() == 2);
        var dsus4 = Grip("xx0233", "xx0134");
        Assert.Contains(Finger.Ring, Model.Between(shapes[0], dsus4).Anchors);
        // Anchor fingers make the change quicker than the same song in full open shapes.
        Assert.True(Model.Seconds(shapes[0], shapes[1]) < Model.Seconds(Grip("320003", "210003"), Grip("x32010", "x32010")));
    }

    [Fact]
    public void A_finger_that_keeps_its_string_is_a_guide()
    {
        var change = Model.Between(Grip("xx0232", "xx0132"), Grip("xx0454", "xx0132"));
        Assert.Equal([Finger.Index, Finger.Middle, Finger.Ring], change.Guides);
        Assert.Equal(1, change.Blocks);
        Assert.True(change.ShiftMm > 50);
    }

    [Fact]
    public void Fingers_that_move_alike_are_one_block()
    {
        var change = Model.Between(Grip("x02210", "x02310"), Grip("022100", "023100"));
        Assert.Equal(1, change.Blocks);
        Assert.Equal([Finger.Index, Finger.Middle, Finger.Ring], change.Moving);
    }

    [Fact]
    public void The_order_of_changes_is_what_teachers_expect()
    {
        var c = Grip("x32010", "x32010");
        double FromC(string frets, string fingers) => Model.Seconds(c, Grip(frets, fingers));
        Assert.True(FromC("x02010", "x02010") < FromC("x02210", "x02310"));
        Assert.True(FromC("x02210", "x02310") < FromC("320003", "210003"));
        Assert.True(FromC("320003", "210003") < FromC("133211", "134211"));
    }

    [Theory]
    [InlineData("x02210", "022100", 50, 70, 0.12)]
    [InlineData("x32010", "x02210", 50, 60, 0.12)]
    [InlineData("xx0232", "x02220", 50, 55, 0.12)]
    [InlineData("320003", "x32010", 50, 45, 0.12)]
    [InlineData("022000", "xx0232", 50, 45, 0.12)]
    [InlineData("320033", "x32033", 50, 80, 0.12)]
    [InlineData("133211", "355433", 50, 55, 0.12)]
    [InlineData("x32010", "133211", 50, 28, 0.12)]
    [InlineData("x32010", "320003", 10, 12.5, 0.2)]   // first weeks: 10 to 15
    [InlineData("022000", "x02210", 10, 20, 0.2)]
    public void Counts_a_minute_are_those_teachers_measure(string from, string to, double skill, double count, double within)
    {
        var way = Model.Seconds(Finder.Best(Shape.Parse(from))!, Finder.Best(Shape.Parse(to))!) * ChangePace.SlownessOf(skill);
        Assert.InRange(TimedChanges.CountOf(way), count * (1 - within), count * (1 + within));
        // Seconds and counts agree in both directions: a count is the way and the dwell of 0.30 s.
        Assert.Equal(60 / (0.30 + way), TimedChanges.CountOf(way), 1e-9);
        Assert.Equal(way, TimedChanges.SecondsOf(TimedChanges.CountOf(way)), 1e-9);
    }

    [Fact]
    public void A_barre_that_slides_is_set_already_and_one_that_becomes_a_fingertip_has_to_stand_up()
    {
        var (f, g) = (Grip("133211", "134211"), Grip("355433", "134211"));
        // The same way from another chord, with the barre to be set: dearer by at least the setting.
        Assert.True(Model.Seconds(Grip("x35453", "x13241"), g) > Model.Seconds(f, g));
        Assert.Equal([Finger.Index, Finger.Middle, Finger.Ring, Finger.Little], Model.Between(f, g).Guides);
        // F to C/G at the nut: the index keeps its fret but stands on one string now.
        Assert.DoesNotContain(Finger.Index, Model.Between(f, Grip("x32010", "x32010")).Anchors);
        Assert.Contains(Finger.Index, Model.Between(f, Grip("133111", "134111")).Anchors);
    }

    [Fact]
    public void Both_ways_of_asking_give_the_same_time()
    {
        var grips = GripLibrary.All.Select(g => Finder.Weigh(g.Shape, g.Fingers)!).Where((_, i) => i % 7 == 0).ToList();
        foreach (var from in grips)
            foreach (var to in grips)
            {
                var change = Model.Between(from, to);
                Assert.Equal(change.Seconds, Model.Seconds(from, to));
                Assert.InRange(change.Seconds, 0, 3.5);
                var used = to.Fingers.Where(f => f != Finger.None).Distinct().Count();
                Assert.Equal(used, change.Anchors.Count + change.Guides.Count + change.Moving.Count + change.Landing.Count);
            }
    }
}
