using Tembri.Core.Changes;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Core.Tests.Shapes;

/// <summary>The arithmetic that <c>docs/model.md</c> does by hand, part by part, and what each weight is multiplied
/// by.</summary>
public sealed class ModelDocumentTests
{
    private static Fingering F(int capo) =>
        LoadTests.Finder(Guitar.Steel, Hand.Medium, capo).Weigh(Shape.Parse("133211"), LoadTests.Fingers("134211"))!;

    [Fact]
    public void The_full_f_weighs_what_its_parts_add_up_to()
    {
        var parts = F(0).Parts.ToDictionary(p => p.Kind);
        Assert.Equal(25.46 - 5.2, parts[LoadPartKind.Fingers].Effort, 2);   // ring and little finger go down as one
        Assert.Equal(1.31, parts[LoadPartKind.WeakFingers].Effort, 2);
        Assert.Equal(5.13, parts[LoadPartKind.Stretch].Effort, 2);
        Assert.Equal(67.9, parts[LoadPartKind.Stretch].Measure, 1);
        Assert.Equal(48.27, parts[LoadPartKind.Barre].Effort, 2);
        Assert.Equal(10.17, parts[LoadPartKind.Barre].Measure, 2);
        Assert.Equal(0.53, parts[LoadPartKind.Crowding].Effort, 2);
        Assert.Equal(0.58, parts[LoadPartKind.Crossing].Effort, 2);
        Assert.Equal(6, parts.Count);
        Assert.Equal(76.08, F(0).Effort, 1);
        Assert.Equal(72, F(0).Load.Value, 0);
    }

    [Theory]
    [InlineData(1, 5.6, 64.1, 66.2)]
    [InlineData(5, 7.1, 50.9, 66.9)]
    public void A_capo_lightens_the_full_f_as_the_document_says(int capo, double newtons, double opened, double load)
    {
        var parts = F(capo).Parts.ToDictionary(p => p.Kind);
        Assert.Equal(newtons, parts[LoadPartKind.Barre].Measure, 1);
        Assert.Equal(opened, parts[LoadPartKind.Stretch].Measure, 1);
        Assert.Equal(load, F(capo).Load.Value, 0.06);
    }

    [Fact]
    public void The_change_from_c_to_the_full_f_takes_what_its_parts_add_up_to()
    {
        var finder = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);
        var (c, am) = (finder.Weigh(Shape.Parse("x32010"), LoadTests.Fingers("x32010"))!,
            finder.Weigh(Shape.Parse("x02210"), LoadTests.Fingers("x02310"))!);
        var model = new ChangeModel(new NeckGeometry(Guitar.Steel, 0));
        var change = model.Between(c, F(0));
        Assert.Equal([Finger.Ring], change.Anchors);
        Assert.Equal([Finger.Little], change.Landing);
        Assert.Equal([Finger.Index, Finger.Middle], change.Moving);
        Assert.Equal(3, change.Blocks);
        Assert.Equal(0.25 + 0.482 + 2 * 0.156 + 0.76 + 0.052, change.Seconds, 2);
        Assert.Equal(change.Seconds, model.Seconds(c, F(0)), 1e-12);
        Assert.Equal(0.79, model.Seconds(c, am), 2);
        Assert.Equal(0, model.Seconds(c, c));
        Assert.Equal(0.25, model.Seconds(c, finder.Weigh(Shape.Parse("x32000"), LoadTests.Fingers("x32000"))!), 1e-9);
    }

    /// <summary>A weight, a fingered shape in which it counts, and how often: reckoned by hand from the shape.</summary>
    public static TheoryData<string, string, string, double> Weights => new()
    {
        { "Fingers4", "133211", "134211", 1 },
        { "Fingers3", "x32010", "x32010", 1 },
        { "Fingers2", "022000", "012000", 1 },
        { "PairedFingers", "x32033", "x21034", -1 },           // ring and little finger side by side
        { "PairedFingers", "xx3333", "xx1234", -1 },
        { "PairedFingers", "x2022x", "x1034x", -1 },
        { "PairedFingers", "3x0033", "2x0033", 0 },
        { "RingFinger", "x32010", "x32010", 1 },
        { "LittleFinger", "133211", "134211", 1 },
        { "Span", "133211", "134211", 2.59 },                  // 67.9 mm, 25.9 more than two fret spaces, per 10 mm
        { "SkippedFret", "xx1x3x", "xx1x2x", 1.0125 },         // fret 2 left empty; the space at fret 3 is 32.4 of 32 mm
        { "IdleFinger", "x32010", "x32010", 0 },               // neighbours stand as their numbers do
        { "IdleFinger", "x32010", "x43010", 1 },               // from index to ring finger one fret for two numbers
        { "IdleFinger", "x32010", "x42010", 1 },               // from the middle to the little finger one fret for two numbers
        { "BarreLength6", "133211", "134211", 1 },
        { "BarreLength2", "xx3211", "xx3211", 1 },
        { "BarreForce", "133211", "134211", 10.17 },           // newtons, a medium hand
        { "BarreJoint", "133211", "134211", 2 },               // six strings
        { "BarreStack", "133211", "134211", 3 },
        { "LyingFinger3", "x02220", "x03330", 1 },
        { "MutedUnderBarre", "1x3211", "1x3211", 1 },
        { "Crossing", "xx2220", "xx3120", 2 },                 // the ring finger beyond both others
        { "InteriorMute", "3x0003", "2x0003", 1 },
        { "BassMute", "xx0232", "xx0132", 2 },
        { "TrebleMute", "x3201x", "x3201x", 1 },
        { "OpenNeighbour", "x32010", "x32010", 2 },            // G and e
        { "Thumb", "2x0232", "Tx0132", 1 },
        { "ThumbDistance", "2x0232", "Tx0132", 0 },            // thumb and index on one fret
        { "ThumbDistance", "1x0232", "Tx0132", 1 },
        { "OpenFrame", "x02210", "x02310", 0 },                // index on the first fret
        { "OpenFrame", "x02220", "x01230", 1 },                // index on the second
        { "WideOpen", "320003", "210003", 1 },
        { "Height", "x79997", "x13331", 2 },                   // the index two frets above the fifth
        { "Height", "x35553", "x13331", 0 },
    };

    [Theory]
    [MemberData(nameof(Weights))]
    public void A_weight_counts_as_often_as_the_document_says(string weight, string frets, string fingers, double times)
    {
        double Effort(LoadWeights weights) =>
            new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, true, weights)
                .Weigh(Shape.Parse(frets), LoadTests.Fingers(fingers))!.Effort;
        const double more = 0.01;
        Assert.Equal(times, (Effort(With(weight, more)) - Effort(LoadWeights.Default)) / more,
            times == Math.Floor(times) ? 6 : 1);
    }

    private static LoadWeights With(string weight, double more)
    {
        var w = LoadWeights.Default;
        IReadOnlyList<double> At(IReadOnlyList<double> list, int index) => [.. list.Select((x, i) => i == index ? x + more : x)];
        return weight switch
        {
            "Fingers2" or "Fingers3" or "Fingers4" => w with { Fingers = At(w.Fingers, weight[^1] - '0') },
            "BarreLength2" or "BarreLength6" => w with { BarreLength = At(w.BarreLength, weight[^1] - '0') },
            "LyingFinger3" => w with { LyingFinger = At(w.LyingFinger, 3) },
            "PairedFingers" => w with { PairedFingers = w.PairedFingers + more },
            "RingFinger" => w with { RingFinger = w.RingFinger + more },
            "LittleFinger" => w with { LittleFinger = w.LittleFinger + more },
            "Span" => w with { Span = w.Span + more },
            "SkippedFret" => w with { SkippedFret = w.SkippedFret + more },
            "IdleFinger" => w with { IdleFinger = w.IdleFinger + more },
            "BarreForce" => w with { BarreForce = w.BarreForce + more },
            "BarreJoint" => w with { BarreJoint = w.BarreJoint + more },
            "BarreStack" => w with { BarreStack = w.BarreStack + more },
            "MutedUnderBarre" => w with { MutedUnderBarre = w.MutedUnderBarre + more },
            "Crossing" => w with { Crossing = w.Crossing + more },
            "InteriorMute" => w with { InteriorMute = w.InteriorMute + more },
            "BassMute" => w with { BassMute = w.BassMute + more },
            "TrebleMute" => w with { TrebleMute = w.TrebleMute + more },
            "OpenNeighbour" => w with { OpenNeighbour = w.OpenNeighbour + more },
            "Thumb" => w with { Thumb = w.Thumb + more },
            "ThumbDistance" => w with { ThumbDistance = w.ThumbDistance + more },
            "OpenFrame" => w with { OpenFrame = w.OpenFrame + more },
            "WideOpen" => w with { WideOpen = w.WideOpen + more },
            "Height" => w with { Height = w.Height + more },
            _ => throw new ArgumentOutOfRangeException(nameof(weight), weight, "There is no such weight."),
        };
    }

    /// <summary>What is played of a chord on the record, the lowest note first, and what is left of it: 1 less the prices of
    /// section 6.</summary>
    public static TheoryData<string, string, double> Heard => new()
    {
        { "C", "C E G C", 1 },
        { "C", "C E C E", 46 / 53.0 },                // the plain fifth, 7 of 26 + 20 + 7
        { "C", "C G C G", 27 / 53.0 },                // the third
        { "C", "E G C E", 1 - 0.06 },                 // another bass, with the record
        { "C/E", "C E G C", 1 - 0.10 },
        { "C", "C E G D", 1 - 0.08 },                 // an added ninth
        { "C", "C G A C E", 1 - 0.25 },               // a sixth, which makes it the relative minor
        { "C", "C E G A", 1 - 0.25 - 0.08 },          // and more so where the root sounds once
        { "Cm", "C Eb G A", 1 - 0.12 },               // but not in minor
        { "C7", "C E Bb A", 66 / 66.5 - 0.25 },       // nor where a seventh says what it is
        { "C", "C G C F", 27 / 53.0 + 0.6 * 26 / 53 },// a fourth where the third belongs: three fifths of it
        { "C", "C G C D", 27 / 53.0 + 0.6 * 26 / 53 },
        { "C", "C D G E", 1 - 0.08 - 0.06 },          // a ninth, and a step between the two lowest tones
        { "C7", "C E Bb C", 66 / 66.5 },              // the plain fifth of a seventh, half a point of 66.5
        { "Cdim7", "Eb Gb A C", 1 },                 // the same chord over each of its tones
        { "C", "C E G Bb", 1 - 0.15 },                // a minor seventh
        { "C", "C E G B", 1 - 0.08 },                 // a major seventh
        { "C", "C E G F", 1 - 0.18 },                 // the fourth against the third
        { "C", "C E G Eb", 1 - 0.28 },                // both thirds
        { "C", "C E G Db", 1 - 0.26 },                // anything else
        { "C", "C E G Ab", 1 - 0.26 },
        { "Cm", "C Eb G Bb", 1 - 0.07 },
        { "Cm", "C Eb G A", 1 - 0.12 },
        { "Cm", "C Eb G B", 1 - 0.18 },
        { "Cm", "C Eb G F", 1 - 0.12 },
        { "Cm", "C Eb G E", 1 - 0.28 },
        { "C7", "C E Bb G", 1 },
        { "C7", "C E G C", 46.5 / 66.5 },             // the seventh, 20 of 66.5
        { "C7", "C E Bb B", 66 / 66.5 - 0.30 },       // a major seventh against the minor one, and no fifth
        { "C+", "C E G# G", 1 - 0.08 },               // a plain fifth beside the altered one
        { "C+", "C E C E", 46 / 62.0 },               // the altered fifth, 16 of 62
        { "Csus4", "C F G E", 1 - 0.10 },             // a third where there is none
        { "Csus4", "C F G Bb", 1 - 0.10 },
        { "Cadd9", "C E G C", 53 / 62.0 },            // the colour, 9 of 62
        { "Cm7b5", "C Eb Gb Bb", 1 },
    };

    [Theory]
    [MemberData(nameof(Heard))]
    public void What_is_heard_of_a_chord_costs_what_the_document_says(string chord, string notes, double closeness)
    {
        // A tuning of just these notes, each a little above the one before, all strings open.
        var strings = new List<int>();
        foreach (var note in notes.Split(' '))
        {
            var pitch =
                Core.Music.Key.TryParse(note, out var key) ? key.Tonic.PitchClass : throw new InvalidOperationException(note);
            var floor = strings.Count == 0 ? 36 : strings[^1] + 1;
            strings.Add(floor + ((pitch - floor) % 12 + 12) % 12);
        }
        Assert.Equal(closeness,
            Closeness.Of(Shape.Parse(new string('0', strings.Count)), Chord.Parse(chord), new Tuning(strings), fullest: 4).Value,
            9);
    }

    [Theory]
    [InlineData("C", 0.12)]
    [InlineData("C/G", 0.16)]
    public void Alone_a_wrong_bass_costs_more(string chord, double price) =>
        Assert.Equal(1 - price,
            Closeness.Of(Shape.Parse("0000"), Chord.Parse(chord), new Tuning([40, 43, 48, 52]), 0, Accompaniment.Alone, 4).Value,
            9);

    [Theory]
    [InlineData(4, 1)]
    [InlineData(5, 0.975)]
    [InlineData(6, 0.935)]
    public void Fewer_strings_than_the_fullest_shape_sound_thinner(int fullest, double share) =>
        Assert.Equal(share,
            Closeness.Of(Shape.Parse("0000"), Chord.Parse("C"), new Tuning([36, 40, 43, 48]), fullest: fullest).Value, 9);

    [Fact]
    public void Frets_lie_where_equal_temperament_puts_them_and_spreads_grow_with_the_hand()
    {
        var neck = new NeckGeometry(Guitar.Steel, 0);
        Assert.Equal(324, neck.WireFromNut(12), 1e-9);
        Assert.Equal(648 * (1 - Math.Pow(2, -7 / 12.0)), neck.WireFromNut(7), 1e-9);
        Assert.Equal(neck.WireFromNut(5) - 0.3 * neck.FretSpace(5), neck.Landing(5), 1e-9);
        // The outer strings are 36 mm apart at the nut and 54 at the saddle, so five spacings at the twelfth fret's landing are
        // a little less than 45.
        Assert.Equal((36 + 18 * neck.Landing(12) / 648) / 5, neck.StringSpacing(12), 1e-9);
        // At capo 3 the second fret is the bare neck's fifth.
        Assert.Equal(neck.Landing(5), new NeckGeometry(Guitar.Steel, 3).Landing(2), 1e-9);
        Assert.Throws<ArgumentOutOfRangeException>(() => new NeckGeometry(Guitar.Steel, 12));
        Assert.Throws<ArgumentOutOfRangeException>(() => new NeckGeometry(Guitar.Steel, -1));
        var child = Hand.Preset("child");
        foreach (var (low, high, comfortable, greatest) in new[]
        {
            (1, 2, 34, 72), (2, 3, 30, 50), (3, 4, 30, 48), (1, 3, 58, 96), (2, 4, 56, 84), (1, 4, 84, 120)
        })
        {
            Assert.Equal(comfortable, Hand.Medium.Comfortable(low, high), 1e-9);
            Assert.Equal(greatest, Hand.Medium.Greatest(low, high), 1e-9);
            Assert.Equal(greatest * 98 / 120.0, child.Greatest(low, high), 1e-9);
        }
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(41.9, 10)]
    [InlineData(42, 11)]
    [InlineData(100, 25)]
    [InlineData(140, 25)]
    public void A_pace_is_the_nearest_step_of_the_skill(double skill, int step) => Assert.Equal(step, ChangePace.Of(skill).Step);

    [Fact]
    public void Twenty_points_of_skill_halve_the_time_of_a_change()
    {
        Assert.Equal(1, ChangePace.SlownessOf(50), 1e-12);
        Assert.Equal(2, ChangePace.SlownessOf(30), 1e-12);
        Assert.Equal(0.5, ChangePace.SlownessOf(70), 1e-12);
        Assert.Equal(ChangePace.SlownessOf(40), new ChangePace(10).Slowness, 1e-12);
        Assert.Throws<ArgumentOutOfRangeException>(() => new ChangePace(26));
    }
}
