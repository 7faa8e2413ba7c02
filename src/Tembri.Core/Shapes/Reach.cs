using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>Two fingers of a shape that are farther apart than a hand spreads them.</summary>
/// <param name="Low">The lower-numbered finger.</param>
/// <param name="High">The higher-numbered finger.</param>
/// <param name="Millimetres">How far apart they would be along the neck, mm.</param>
/// <param name="Greatest">How far this hand spreads them at the very most, mm, what a finger can give way within its fret
/// counted in.</param>
public sealed record TooFar(Finger Low, Finger High, double Millimetres, double Greatest);

/// <summary>Says why a hand cannot hold a shape.</summary>
public static class Reach
{
    private const double LargestSpread = 600;   // mm; no hand is refused for its size
    private const int Halvings = 14;

    /// <summary>The pair of fingers that keeps a hand from a shape; null when the hand can hold it, or no hand could, however
    /// large.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="neck">Guitar and capo.</param>
    /// <param name="hand">The hand.</param>
    /// <param name="thumb">True when the thumb may stop strings.</param>
    public static TooFar? Of(Shape shape, NeckGeometry neck, Hand hand, bool thumb)
    {
        Fingering? With(double spread) => new FingeringFinder(neck, hand with { Spread = spread }, thumb).Best(shape);
        if (With(hand.Spread) is not null || With(LargestSpread) is not { } best) return null;
        // The least hand that can do it shows which fingers are at the end of their reach.
        var (small, large) = (hand.Spread, LargestSpread);
        for (var i = 0; i < Halvings; i++)
        {
            var middle = (small + large) / 2;
            if (With(middle) is { } held) (large, best) = (middle, held);
            else small = middle;
        }
        TooFar? worst = null;
        var spots = best.Spots;
        for (var high = 2; high <= 4; high++)
            for (var low = 1; low < high; low++)
            {
                if (spots[low].Fret == 0 || spots[high].Fret == 0) continue;
                var along = neck.Landing(spots[high].Fret) - neck.Landing(spots[low].Fret);
                var greatest = hand.Greatest(low, high)
                    + LoadModel.LandingSlack * (neck.FretSpace(spots[low].Fret) + neck.FretSpace(spots[high].Fret));
                if (along > greatest && (worst is null || along - greatest > worst.Millimetres - worst.Greatest))
                    worst = new TooFar((Finger)low, (Finger)high, along, greatest);
            }
        return worst;
    }
}
