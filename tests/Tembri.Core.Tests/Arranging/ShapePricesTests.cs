using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Wishes;

namespace Tembri.Core.Tests.Arranging;

public sealed class ShapePricesTests
{
    /// <summary>Each price is reckoned again from its parts: load, lost closeness, idiom and habit, what is
    /// new beside the rung below; and the teacher's own grip costs no more than the lightest other way, its own sound
    /// added.</summary>
    [Theory]
    [InlineData("G", new[] { 3, -1, 0, 0, 3, 3 }, new[] { 2, 0, 0, 0, 3, 4 })]
    [InlineData("D7", new[] { -1, 5, 4, 5, 3, -1 }, new[] { 0, 3, 2, 4, 1, 0 })]
    [InlineData("C/E", new[] { 0, 3, 2, 0, 1, 0 }, new[] { 0, 3, 2, 0, 1, 0 })]
    [InlineData("Bm", new[] { -1, -1, 4, 4, 3, 2 }, new[] { 0, 0, 3, 4, 2, 1 })]
    public void A_price_is_the_sum_of_its_parts(string name, int[] frets, int[] fingers)
    {
        var (chord, kind, w) = (Chord.Parse(name), PlayerKind.Usual, ArrangerWeights.Default);
        var book = new FingeringBook(Known.Results, kind.Guitar, kind.Hand, kind.Thumb, 0);
        var finder = new CandidateFinder(Known.Results);
        var list = finder.ListFor(chord, book, Accompaniment.Record, kind.Guitar.Strings, 0);
        var own = TeacherWishes.None with { Grips = [new OwnGrip(name, frets, fingers, RungSpan.All)] };
        var wish = new ChordWish(own, "0:", chord, _ => null, finder, book, Accompaniment.Record, 0);
        var compared = 0;
        foreach (var wishes in new ChordWish[]?[] { null, [wish] })
            foreach (var limits in RungLimits.Defaults)
            {
                var pool = new CandidatePool([list], [chord], [default], wishes);
                var values = pool.Open(0, limits);
                if (values.Length < 2) continue;
                var below = new Arrangement([pool.At(0, values[values.Length / 2])], 0, 0, 0);
                foreach (var (sound, share) in new[] { (0.0, 1.0), (0.4, 0.25), (3, 0.6) })
                {
                    var costs = new double[values.Length];
                    new ShapePrices(pool, kind).Fill(costs, values, 0, share, limits, sound, below);
                    var expected = values
                        .Select(v => share * Points(pool.At(0, v), below.Choices[0], sound, limits)).ToArray();
                    if (wishes is not null && wish.Grip(limits) is { } grip
                        && Array.FindIndex(values, v => pool.At(0, v).SameAs(grip)) is >= 0 and var at)
                    {
                        double Heard(int i) => share * sound * 100 * (1 - pool.At(0, values[i]).Closeness.Value);
                        var lightest = Enumerable.Range(0, values.Length).Where(i => i != at).Min(i => expected[i] - Heard(i));
                        expected[at] = Math.Min(expected[at], lightest + Heard(at)) - share * w.OtherThanOwnGrip;
                    }
                    for (var i = 0; i < values.Length; i++) Assert.Equal(expected[i], costs[i], 1e-9);
                    compared += values.Length;
                }
            }
        Assert.True(compared > 50, $"{compared} prices");

        double Points(Candidate c, Candidate before, double sound, RungLimits limits) =>
            c.Load + sound * 100 * (1 - c.Closeness.Value) + c.Idiom * limits.IdiomWeight + c.Habit
                + (c.SameAs(before) ? 0 : c.Fingering.Shape.Equals(before.Fingering.Shape) ? w.Refingered : w.Newness);
    }
}
