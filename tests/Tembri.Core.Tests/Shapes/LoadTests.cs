using CsCheck;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Core.Tests.Shapes;

public sealed class LoadTests
{
    private static readonly FingeringFinder Medium = Finder(Guitar.Steel, Hand.Medium, 0);

    internal static FingeringFinder Finder(Guitar guitar, Hand hand, int capo, bool thumb = true) =>
        new(new NeckGeometry(guitar, capo), hand, thumb);

    internal static Finger[] Fingers(string text) =>
        [.. text.Select(c => c switch { 'T' => Finger.Thumb, 'x' or '0' => Finger.None, _ => (Finger)(c - '0') })];

    /// <summary>The anchors of the model: shape, fingers where they are part of the anchor, load for a medium hand on steel
    /// without a capo.</summary>
    public static TheoryData<string, string, double> Anchors => new()
    {
        { "022000", "",
            18 },
            {
                "020100", "", 20
            }, { "x02010", "", 20 }, { "x32000", "", 20 }, { "x20003", "", 24 }, { "x02220", "", 28 }, { "022100", "", 28 },
        { "x02210", "",
            28 },
            {
                "xx0232", "", 30
            }, { "xx0231", "", 33 }, { "xx3210", "", 33 }, { "320003", "", 33 }, { "x32010", "", 34 }, { "xx0233", "", 31 },
        { "xx321x", "",
            34 },
            {
                "xxx222", "xxx111", 29
            }, { "022033", "", 36 }, { "320033", "", 38 }, { "x32033", "", 38 }, { "x21202", "", 45 }, { "xx3211", "", 46 },
        { "xx4432", "",
            46 },
            {
                "2x0232", "Tx0132", 52
            }, { "x2444x", "", 52 }, { "244222", "", 65 }, { "x24432", "", 67 }, { "x13331", "", 72 }, { "133211", "", 74 },
    };

    [Theory]
    [MemberData(nameof(Anchors))]
    public void The_anchors_are_met_within_seven_points(string frets, string fingers, double load)
    {
        var shape = Shape.Parse(frets);
        var fingering = fingers.Length > 0 ? Medium.Weigh(shape, Fingers(fingers)) : Medium.Best(shape);
        Assert.NotNull(fingering);
        Assert.InRange(fingering.Load.Value, load - 7, load + 7);
    }

    [Fact]
    public void The_parts_add_up_to_the_load()
    {
        foreach (var grip in GripLibrary.All)
            foreach (var fingering in Medium.Find(grip.Shape))
                Assert.Equal(100 * (1 - Math.Exp(-fingering.Parts.Sum(p => p.Effort) / 60)), fingering.Load.Value, 1e-9);
    }

    [Theory]
    [InlineData("133211")]
    [InlineData("x24432")]
    [InlineData("xx3211")]
    public void A_capo_lightens_a_barre_that_stands_right_behind_it(string frets)
    {
        var shape = Shape.Parse(frets);
        var atNut = Medium.Best(shape)!;
        foreach (var capo in new[] { 3, 5 })
        {
            var above = Finder(Guitar.Steel, Hand.Medium, capo).Best(shape)!;
            Assert.True(above.Load.Value < atNut.Load.Value, $"capo {capo}: {above.Load} is not below {atNut.Load}");
        }
    }

    [Fact]
    public void A_guitar_tuned_down_is_easier_to_press_by_the_square_of_the_pitch()
    {
        double Newtons(int semitones) =>
            Finder(Guitar.Steel.Tuned(semitones), Hand.Medium, 0).Weigh(Shape.Parse("133211"), Fingers("134211"))!.Parts.Single(
                p => p.Kind == LoadPartKind.Barre).Measure;
        Assert.Equal(Newtons(0) * 0.8909, Newtons(-1), 2);
        Assert.Equal(Newtons(0) / 4, Newtons(-12), 1e-6);
    }

    [Fact]
    public void Nylon_presses_lighter_than_steel_and_electric_lighter_too()
    {
        var f = Shape.Parse("133211");
        double Newtons(string guitar) =>
            Finder(Guitar.Preset(guitar), Hand.Medium, 0).Weigh(f, Fingers("134211"))!.Parts.Single(
                p => p.Kind == LoadPartKind.Barre).Measure;
        Assert.True(Newtons("classical") < Newtons("steel"));
        Assert.True(Newtons("electric") < Newtons("steel"));
    }

    [Fact]
    public void The_force_under_a_finger_is_what_the_formula_says()
    {
        // First fret of the treble string: wire at 648·(1 − 2^(−1/12)) = 36.37 mm; landing 30 % behind it at 25.46 mm; 0.45 mm
        // high;
        // 104·0.45·(1/25.46 + 1/622.54) = 1.913 N.
        var neck = new NeckGeometry(Guitar.Steel, 0);
        Assert.Equal(1.913, neck.PressForce(5, 1), 2);
        Assert.Equal(25.46, neck.Landing(1), 2);
    }

    [Fact]
    public void Smaller_hands_and_longer_scales_stretch_more()
    {
        var shapes = Pick.From("x32010", "133211", "xx0231", "x24432", "320033", "x3243x", "1x221x");
        shapes.Sample(frets =>
        {
            var shape = Shape.Parse(frets);
            var fingers = Medium.Best(shape)!.Fingers;
            double Stretch(Guitar g, Hand h) =>
                Finder(g, h, 0).Weigh(shape, fingers)?.Parts.Where(p => p.Kind == LoadPartKind.Stretch).Sum(p => p.Effort)
                    ?? double.PositiveInfinity;
            var hands = Hand.Presets.Select(h => Stretch(Guitar.Steel, h)).ToList();
            var shorter = Guitar.Steel with { Id = "short", ScaleLength = 580 };
            return hands.Zip(hands.Skip(1)).All(p => p.First >= p.Second)
                && Stretch(shorter, Hand.Medium) <= Stretch(Guitar.Steel, Hand.Medium) + 1e-9;
        });
    }

    [Fact]
    public void A_longer_barre_is_never_lighter_and_leaving_bass_strings_off_never_makes_it_heavier()
    {
        Gen.Select(Gen.Int[1, 9], Gen.Int[0, 4], Gen.Int[0, 5]).Sample((fret, from, capo) =>
        {
            var finder = Finder(Guitar.Steel, Hand.Medium, capo);
            double Barre(int first)
            {
                var frets = Enumerable.Range(0, 6).Select(s => s < first ? -1 : fret).ToArray();
                var fingers = frets.Select(f => f > 0 ? Finger.Index : Finger.None).ToArray();
                return finder.Weigh(new Shape(frets), fingers)!.Parts.Where(p => p.Kind == LoadPartKind.Barre)
                    .Sum(p => p.Effort);
            }
            return from == 4 || Barre(from) >= Barre(from + 1);
        });
    }

    [Fact]
    public void Placing_one_finger_more_never_lowers_the_load()
    {
        // A free fretted string more than the same shape with that string open: everything else stays.
        foreach (var (with, without) in new[]
        {
            ("x32010", "x32000"), ("x32010", "x02010"), ("022100", "022000"), ("xx0232", "xx0230"), ("320033", "320003"),
            ("x02210", "x02200"), ("xx3210", "xx3200")
        })
            Assert.True(Medium.Best(Shape.Parse(with))!.Load.Value > Medium.Best(Shape.Parse(without))!.Load.Value,
                $"{with} against {without}");
    }
}
