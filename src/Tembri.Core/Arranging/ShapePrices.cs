using Tembri.Core.Shapes;

namespace Tembri.Core.Arranging;

/// <summary>What the shapes of a chord cost in the sum an arrangement minimises: load, lost closeness, idiom, newness,
/// barres.</summary>
/// <param name="pool">The candidates.</param>
/// <param name="kind">The kind of player.</param>
internal sealed class ShapePrices(CandidatePool pool, PlayerKind kind)
{
    private static readonly ArrangerWeights W = ArrangerWeights.Default;

    /// <summary>Fills in what each of the numbered candidates of a chord costs.</summary>
    /// <param name="costs">As many as there are values.</param>
    /// <param name="values">Numbers of candidates.</param>
    /// <param name="chord">The chord.</param>
    /// <param name="weight">Its share of the sum.</param>
    /// <param name="limits">The rung.</param>
    /// <param name="closenessWeight">Load points a percent of closeness is worth.</param>
    /// <param name="below">The rung below, when there is one.</param>
    public void Fill(Span<double> costs, ReadOnlySpan<int> values, int chord, double weight, RungLimits limits,
        double closenessWeight, Arrangement? below)
    {
        var list = pool.ListOf(chord);
        var known = below?.Choices[chord];
        // A barre that a student wants to avoid weighs more; one she seeks, less.
        var barre = limits.IsRecord
            ? 0
            : kind.Barres switch { BarreGoal.Avoid => W.BarreAvoided, BarreGoal.Seek => W.BarreSought, _ => 0 };
        var own = pool.WishOf(chord)?.Grip(limits) is { } grip && values.Contains(pool.NumberOf(chord, grip)) ? grip : null;
        for (var i = 0; i < costs.Length; i++)
        {
            var v = values[i];
            double points;
            bool barred;
            if (v < list.Count)
            {
                points = list.Load[v] + closenessWeight * list.Lost[v] + list.Idiom[v] * limits.IdiomWeight + list.Habit[v];
                barred = list.IsBarred[v];
            }
            else
            {
                var other = pool.At(chord, v);
                points = other.Load + closenessWeight * 100 * (1 - other.Closeness.Value) + other.Idiom * limits.IdiomWeight
                    + other.Habit;
                barred = other.Fingering.LongestBarre > Barre.LongestShort;
            }
            if (known is not null && pool.At(chord, v) is var c && !c.SameAs(known))
                points += c.Fingering.Shape.Equals(known.Fingering.Shape) ? W.Refingered : W.Newness;
            if (barred) points += barre;
            costs[i] = weight * points;
        }
        if (own is not null) PreferOwn(costs, values, chord, weight, closenessWeight, own);
    }

    /// <summary>The teacher's own grip weighs no more than the lightest other way to play the chord, its sound aside, and less
    /// by what a habit is worth: only changes, or the sound, pay for another.</summary>
    private void PreferOwn(Span<double> costs, ReadOnlySpan<int> values, int chord, double weight, double closenessWeight,
        Candidate own)
    {
        double Sound(int v) => weight * closenessWeight * 100 * (1 - pool.At(chord, v).Closeness.Value);
        var (at, least) = (-1, double.PositiveInfinity);
        for (var i = 0; i < costs.Length; i++)
        {
            if (pool.At(chord, values[i]).SameAs(own)) at = i;
            else least = Math.Min(least, costs[i] - Sound(values[i]));
        }
        if (at >= 0) costs[at] = Math.Min(costs[at], least + Sound(values[at])) - weight * W.OtherThanOwnGrip;
    }

    /// <summary>Brings the least costs to the front, in order, with their values.</summary>
    public static void Least(Span<double> costs, Span<int> values, int count)
    {
        // Quickselect (Hoare 1961) before the sort: most of the list need not be ordered.
        var (low, high) = (0, costs.Length - 1);
        while (low < high && count < costs.Length)
        {
            var pivot = costs[(low + high) / 2];
            var (i, j) = (low, high);
            while (i <= j)
            {
                while (costs[i] < pivot) i++;
                while (costs[j] > pivot) j--;
                if (i > j) break;
                (costs[i], costs[j]) = (costs[j], costs[i]);
                (values[i], values[j]) = (values[j], values[i]);
                i++;
                j--;
            }
            if (count - 1 <= j) high = j;
            else if (count - 1 >= i) low = i;
            else break;
        }
        costs[..count].Sort(values[..count]);
    }
}
