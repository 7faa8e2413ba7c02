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
    public void Two_fingers_stay_parked_through_the_four_chord_song()
    {
        var shapes = new[] { Grip("320033", "210034"), Grip("x32033", "x21034"), Grip("022033", "012034") };
        foreach (var from in shapes)
            foreach (var to in shapes)
                if (!ReferenceEquals(from, to)) Assert.True(Model.Between(from, to).Anchors.Intersect([Finger.Ring, Finger.Little]).Count() == 2);
        var dsus4 = Grip("xx0233", "xx0134");
        Assert.Contains(Finger.Ring, Model.Between(shapes[0], dsus4).Anchors);
        // Parked fingers make the change quicker than the same song in full open shapes.
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

    [Fact]
    public void Both_ways_of_asking_give_the_same_time()
    {
        var grips = GripLibrary.All.Select(g => Finder.Weigh(g.Shape, g.Fingers)!).Where((_, i) => i % 7 == 0).ToList();
        foreach (var from in grips)
            foreach (var to in grips)
            {
                var change = Model.Between(from, to);
                Assert.Equal(change.Seconds, Model.Seconds(from, to));
                Assert.InRange(change.Seconds, 0, 2);
                var used = to.Fingers.Where(f => f != Finger.None).Distinct().Count();
                Assert.Equal(used, change.Anchors.Count + change.Guides.Count + change.Moving.Count + change.Landing.Count);
            }
    }
}
