using System.Buffers;

namespace Tembri.Core.Shapes;

/// <summary>Every way the rules allow to put fingers on a shape, whatever the hand, the guitar and the capo: those first that
/// can end with the least effort. Kept between hands and capos. Safe for several threads.</summary>
/// <remarks>The rules: one fret per finger, fingers in order along the neck, a finger lies only across strings that sound at its
/// fret or higher or that it silences.</remarks>
internal sealed class ShapePlacements
{
    private const int UsualWays = 64;
    private readonly FingerHabits _habits;
    private readonly PlacedFingers[] _ways;
    private readonly double[] _floors;
    private readonly double[] _strange;   // not a number until it is asked for

    private ShapePlacements(Shape shape, ReadOnlySpan<PlacedFingers> ways, LoadModel model, FingerHabits habits)
    {
        (Shape, _habits) = (shape, habits);
        var ofShape = model.EffortOfShape(shape);
        _ways = ways.ToArray();
        _floors = Array.ConvertAll(_ways, w => ofShape + model.EffortOfFingers(shape, w));
        Array.Sort(_floors, _ways);
        _strange = new double[_ways.Length];
        Array.Fill(_strange, double.NaN);
    }

    /// <summary>The shape.</summary>
    public Shape Shape { get; }

    /// <summary>The ways.</summary>
    public ReadOnlySpan<PlacedFingers> Ways => _ways;

    /// <summary>The effort of each way but for what the neck adds; rises along the ways, infinite for those whose thumb is out
    /// of place.</summary>
    public ReadOnlySpan<double> Floors => _floors;

    /// <summary>Finds the ways.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="thumb">True when the thumb may stop the two lowest strings.</param>
    /// <param name="model">Gives the floors; of what it knows only the weights count.</param>
    /// <param name="habits">What people use.</param>
    public static ShapePlacements Of(Shape shape, bool thumb, LoadModel model, FingerHabits habits)
    {
        // String by string: each way so far is followed by every finger that may stop the next.
        var pool = ArrayPool<PlacedFingers>.Shared;
        var (ways, longer, count) = (pool.Rent(UsualWays), pool.Rent(UsualWays), 1);
        ways[0] = default;
        for (var s = 0; s < shape.StringCount; s++)
        {
            if (shape[s] <= 0) continue;
            var (fingers, next) = (thumb && s <= 1 ? 5 : 4, 0);
            if (longer.Length < count * fingers)
            {
                pool.Return(longer);
                longer = pool.Rent(count * fingers);
            }
            for (var way = 0; way < count; way++)
                for (var finger = 1; finger <= fingers; finger++)
                {
                    longer[next] = ways[way];
                    if (longer[next].Place(finger, s, shape[s], shape)) next++;
                }
            (ways, longer, count) = (longer, ways, next);
        }
        var placements = new ShapePlacements(shape, ways.AsSpan(0, count), model, habits);
        pool.Return(ways);
        pool.Return(longer);
        return placements;
    }

    /// <summary>How unusual a way is among those of the shape, its effort aside; see <see cref="FingerHabits"/>.</summary>
    public double StrangenessOf(int way)
    {
        ref var known = ref _strange[way];
        // Two threads that ask at once find the same number.
        if (double.IsNaN(known)) known = _habits.Of(Shape, _ways[way]);
        return known;
    }
}
