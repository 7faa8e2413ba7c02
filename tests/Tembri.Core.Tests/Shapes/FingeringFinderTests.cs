using CsCheck;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Core.Tests.Shapes;

public sealed class FingeringFinderTests
{
    private static readonly FingeringFinder Medium = LoadTests.Finder(Guitar.Steel, Hand.Medium, 0);

    private static readonly Gen<Shape> Shapes =
        from start in Gen.Int[1, 7]
        from frets in Gen.Int[-2, 4].Array[6]
        where frets.Any(f => f >= -1)
        select new Shape([.. frets.Select(f => f == -2 ? -1 : f == -1 ? 0 : start + f)]);

    /// <summary>An independent reading of the rules: try every assignment of five fingers and judge each as a whole.</summary>
    private static HashSet<string> AllByRule(Shape shape, Hand hand, NeckGeometry neck)
    {
        var stopped = Enumerable.Range(0, 6).Where(s => shape[s] > 0).ToArray();
        var found = new HashSet<string>();
        for (var code = 0; code < Math.Pow(5, stopped.Length); code++)
        {
            var fingers = new int[6];
            for (int i = 0, rest = code; i < stopped.Length; i++, rest /= 5) fingers[stopped[i]] = rest % 5 + 1;
            if (Judge(shape, fingers, hand, neck)) found.Add(string.Concat(fingers));
        }
        return found;
    }

    private static bool Judge(Shape shape, int[] fingers, Hand hand, NeckGeometry neck)
    {
        var held =
            Enumerable.Range(1, 5).ToDictionary(f => f, f => Enumerable.Range(0, 6).Where(s => fingers[s] == f).ToArray());
        foreach (var (finger, strings) in held)
        {
            if (strings.Length == 0) continue;
            if (strings.Select(s => shape[s]).Distinct().Count() > 1) return false;
            for (var s = strings[0]; s <= strings[^1]; s++)
                if (fingers[s] != finger && shape[s] >= 0 && shape[s] <= shape[strings[0]]) return false;
        }
        int? Fret(int f) => held[f].Length == 0 ? null : shape[held[f][0]];
        for (var low = 1; low <= 3; low++)
            for (var high = low + 1; high <= 4; high++)
            {
                if (Fret(low) is not { } a || Fret(high) is not { } b) continue;
                if (a > b) return false;
                var give = 0.3 * (neck.FretSpace(a) + neck.FretSpace(b));
                if (neck.Landing(b) - neck.Landing(a) - give > hand.Greatest(low, high)) return false;
            }
        if (held[5].Length > 0)
        {
            // The thumb reaches the lowest string, and the next one with it or when the lowest is left out.
            if (held[5].Any(s => s > 1) || held[5][0] == 1 && shape[0] >= 0) return false;
            var lowest = Enumerable.Range(1, 4).Select(Fret).FirstOrDefault(f => f is not null);
            if (lowest is { } l && Math.Abs(l - Fret(5)!.Value) > 2) return false;
        }
        return true;
    }

    [Fact]
    public void All_fingerings_and_no_others_are_found()
    {
        foreach (var hand in new[] { Hand.Medium, Hand.Preset("young-child") })
        {
            var neck = new NeckGeometry(Guitar.Steel, 0);
            var finder = new FingeringFinder(neck, hand, thumb: true);
            Shapes.Sample(shape =>
            {
                var expected = AllByRule(shape, hand, neck);
                var found = finder.Find(shape, 64);
                var texts = found.Select(f => string.Concat(f.Fingers.Select(x => (int)x))).ToHashSet();
                var habits = found.Select(f => FingerHabits.Default.Of(shape, PlacedFingers.Of(shape, f.Packed))
                        + FingerHabits.Default.OfEffort(f.Effort)).ToList();
                var byLoad = finder.ByLoad(shape);
                return texts.IsSubsetOf(expected) && texts.Count == Math.Min(64, expected.Count)
                    && habits.Zip(habits.Skip(1)).All(p => p.First <= p.Second)
                    && found.Zip(habits).All(p => Math.Abs(p.First.Oddness - (p.Second - habits[0])) < 1e-4)
                    && byLoad.Zip(byLoad.Skip(1)).All(p => p.First.Effort <= p.Second.Effort);
            }, iter: 300);
        }
    }

    [Theory]
    [InlineData("133211", "134211")] // full barre
    [InlineData("x24432", "x13421")]
    [InlineData("xx3211", "xx3211")] // short barre by the index on two strings
    [InlineData("x35353", "x13141")] // a barre under two others
    [InlineData("x32333", "x21333")] // short barre by the ring finger
    [InlineData("x43121", "x43121")] // index across three strings behind two fingers
    [InlineData("x5333x", "x3111x")] // index across inner strings
    [InlineData("1x111x", "2x333x")] // a string muted between
    [InlineData("xx0222", "xx0111")]
    [InlineData("x2323x", "x1324x")]
    [InlineData("2x0232", "Tx0132")] // thumb
    [InlineData("x24442", "x13331")] // two barres at once
    public void Fingerings_that_players_use_exist(string frets, string fingers) =>
        Assert.NotNull(Medium.Weigh(Shape.Parse(frets), LoadTests.Fingers(fingers)));

    [Theory]
    [InlineData("x32010", "x12030")] // a higher finger below a lower one
    [InlineData("133211", "111111")] // one finger on two frets
    [InlineData("x02220", "x01110X")] // more fingers than strings
    [InlineData("102010", "102000")] // a stopped string without a finger
    [InlineData("x0x100", "x0x1x1")] // a finger on an open string
    [InlineData("100004", "100002")] // out of reach
    public void Impossible_fingers_are_refused(string frets, string fingers)
    {
        Assert.Null(Medium.Weigh(Shape.Parse(frets), LoadTests.Fingers(fingers.Replace("X", "0", StringComparison.Ordinal))));
    }

    [Theory]
    [InlineData("022000", "023000")]
    [InlineData("x02220", "x01230")]
    [InlineData("320003", "210003")]
    [InlineData("x32010", "x32010")]
    [InlineData("xx0232", "xx0132")]
    [InlineData("x21202", "x21304")]
    [InlineData("x32033", "x21034")]
    [InlineData("x35343", "x13121")]
    public void The_usual_fingering_comes_first(string frets, string fingers) =>
        Assert.Equal(LoadTests.Fingers(fingers), Medium.Best(Shape.Parse(frets))!.Fingers);

    /// <summary>What is counted of a fingering, counted by hand.</summary>
    [Theory]
    [InlineData("x02220", "x01230",
        "fingers.3 1, uses.1 1, uses.2 1, uses.3 1, uses.4 0, sideBySide 2, apartOnOneFret 1, crossed 0, couldLie.0 2, "
            + "couldLie.1 1, row.1.3 1, pair.1.2.0 1, pair.2.3.0 1, offFrame 1, first.1.1.2 1, at.3.2 1, noIndex.1 0")]
    [InlineData("x02220", "x03210",
        "sideBySide 2, apartOnOneFret 1, crossed 3, crossed.1.2 1, crossed.1.3 1, crossed.2.3 1, row.1.3 1")]
    [InlineData("320003", "210003",
        "fingers.3 1, sideBySide 0, apartOnOneFret 1, couldLie.0 0, couldLie.1 0, pair.1.2.1 1, pair.2.3.0 1, away.2.1 1, "
            + "away.3.1 1, at.1.2 1, row.1.2 0")]
    [InlineData("320033", "210034", "fingers.4 1, sideBySide 1, apartOnOneFret 2, row.1.2 1, couldLie.1 1")]
    [InlineData("133211", "134211",
        "lies.1.6 1, lies.1 1, lies.away.1.0 1, lies.toTreble.0 1, lies.inside.0 0, lies.overStopped.0 3, lies.overSilent.0 0, "
            + "lies.sounding.0.3 1, lies.openAbove 0, lies.openBelow 0, lies.several 0, sideBySide 1, couldLie.1 1, "
            + "away.indexLies.2.1 1, away.indexLies.4.2 1, row.0.2 1, first.0.1.1 1, offFrame 0")]
    [InlineData("x24442", "x13331",
        "lies.1.5 1, lies.3.3 1, lies.several 1, lies.inside.1 1, lies.toTreble.0 1, lies.sounding.1.3 1, lies.overStopped.0 3, "
            + "away.indexLies.3.2 1, sideBySide 0")]
    [InlineData("xx0233", "xx0133", "lies.3.2 1, lies.toTreble.1 1, lies.openBelow 0, fingers.2 1, noIndex.1 0")]
    [InlineData("x0222x", "x0111x", "lies.1.3 1, lies.inside.0 0, lies.toTreble.0 1, lies.openBelow 1, lies.sounding.0.3 1")]
    [InlineData("022000", "023000", "noIndex.1 1, first.1.2.2 1, offFrame 0, sideBySide 1, couldLie.1 1")]
    [InlineData("2x0232", "Tx0132", "uses.5 1, thumb.away 0, thumb.overTwo 0, fingers.3 1, apartOnOneFret 1")]
    public void Habits_count_what_a_hand_counts(string frets, string fingers, string counted)
    {
        var features = new double[FingerHabits.Names.Count];
        FingerHabits.Count(Medium.Weigh(Shape.Parse(frets), LoadTests.Fingers(fingers))!, features);
        foreach (var feature in counted.Split(", ").Select(c => c.Split(' ')))
            Assert.Equal((feature[0], double.Parse(feature[1], System.Globalization.CultureInfo.InvariantCulture)),
                (feature[0], features[FingerHabits.Names.ToList().IndexOf(feature[0])]));
    }

    [Fact]
    public void The_usual_fingers_of_the_library_are_mostly_first_and_nearly_always_among_the_first_three()
    {
        var ranks = GripLibrary.All
            .GroupBy(g => (g.Shape, g.Movable))
            .SelectMany(g => (g.Key.Movable ? Enumerable.Range(0, 7) : [0]).Select(up =>
            {
                var found = Medium.Find(g.Key.Shape.Move(up), 8).Select(f => f.Fingers).ToList();
                return g.Min(grip => found.FindIndex(f => f.SequenceEqual(grip.Fingers)) is var i and >= 0 ? i : 99);
            })).ToList();
        Assert.True(ranks.Count(r => r == 0) >= 0.82 * ranks.Count,
            $"first: {100.0 * ranks.Count(r => r == 0) / ranks.Count:0.0} %");
        Assert.True(ranks.Count(r => r < 3) >= 0.93 * ranks.Count,
            $"among three: {100.0 * ranks.Count(r => r < 3) / ranks.Count:0.0} %");
    }

    [Fact]
    public void A_left_out_string_or_a_fret_out_of_range_is_refused_where_the_shape_is_made()
    {
        Assert.Throws<ArgumentException>(() => new Shape(-1, -1, -1, -1, -1, -1));
        Assert.Throws<ArgumentException>(() => new Shape(0, 0, 0, 0, 0, 25));
        Assert.Throws<FormatException>(() => Shape.Parse("x32o10"));
    }
}
