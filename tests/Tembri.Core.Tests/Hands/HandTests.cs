using CsCheck;
using Tembri.Core.Hands;

namespace Tembri.Core.Tests.Hands;

/// <summary>How far fingers spread, and what is known of a hand that was laid on paper.</summary>
public sealed class HandTests
{
    [Theory]
    [InlineData(1, 2, 34, 72)]
    [InlineData(1, 3, 58, 96)]
    [InlineData(1, 4, 84, 120)]
    [InlineData(2, 3, 30, 50)]
    [InlineData(2, 4, 56, 84)]
    [InlineData(3, 4, 30, 48)]
    public void A_medium_hand_spreads_as_the_document_says_and_others_in_proportion(int low, int high, double comfortable,
        double greatest)
    {
        Assert.Equal((comfortable, greatest), (Hand.Medium.Comfortable(low, high), Hand.Medium.Greatest(low, high)));
        foreach (var hand in Hand.Presets)
        {
            Assert.Equal(comfortable * hand.Spread / 120, hand.Comfortable(low, high), 1e-9);
            Assert.Equal(greatest * hand.Spread / 120, hand.Greatest(low, high), 1e-9);
        }
    }

    [Fact]
    public void A_measured_hand_lies_between_the_presets_around_it() =>
        Gen.Double[Hand.SmallestSpread, Hand.LargestSpread].Sample(spread =>
        {
            var hand = Hand.Measured(spread);
            Assert.InRange(hand.Spread, spread - 2, spread + 2);
            Assert.Equal(0, hand.Spread % 4);
            var (below, above) = (Hand.Presets.LastOrDefault(h => h.Spread <= hand.Spread),
                Hand.Presets.FirstOrDefault(h => h.Spread >= hand.Spread));
            // Beyond the smallest and the largest there is nothing to go by but those.
            var (a, b) = (below ?? above!, above ?? below!);
            Assert.InRange(hand.Strength, a.Strength, b.Strength);
            Assert.InRange(hand.FingertipWidth, a.FingertipWidth, b.FingertipWidth);
            // On a straight line: the area of the triangle with both neighbours is nothing.
            double Area(Func<Hand, double> of) =>
                (hand.Spread - a.Spread) * (of(b) - of(a)) - (b.Spread - a.Spread) * (of(hand) - of(a));
            Assert.Equal(0, Area(h => h.Strength), 1e-9);
            Assert.Equal(0, Area(h => h.FingertipWidth), 1e-9);
            Assert.Contains($"{hand.Spread:0}", hand.Name, StringComparison.Ordinal);
        }, iter: 200);

    [Fact]
    public void Hands_grow_in_all_they_have_and_what_is_no_hand_is_refused()
    {
        foreach (var (smaller, larger) in Hand.Presets.Zip(Hand.Presets.Skip(1)))
            Assert.True(smaller.Spread < larger.Spread && smaller.Strength < larger.Strength
                    && smaller.FingertipWidth < larger.FingertipWidth, larger.Id);
        Assert.Equal((120, 1), (Hand.Medium.Spread, Hand.Medium.Strength));
        Assert.Equal(Hand.MediumSpread, Hand.Medium.Spread);
        Assert.All(new[] { 69.9, 170.1, double.NaN, -120 },
            spread => Assert.Throws<ArgumentOutOfRangeException>(() => Hand.Measured(spread)));
        Assert.Same(Hand.Preset("medium"), Hand.Preset("MEDIUM"));
        Assert.All(Hand.Presets,
            h => Assert.Contains(h.Id, Assert.Throws<KeyNotFoundException>(() => Hand.Preset("claw")).Message,
                StringComparison.Ordinal));
    }
}
