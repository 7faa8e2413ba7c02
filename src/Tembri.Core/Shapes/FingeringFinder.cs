using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>Finds every way one hand can finger a shape on one guitar, the one people use first.</summary>
/// <remarks>What the rules allow is found once for a shape (<see cref="ShapePlacements"/>); here it is weighed for one hand on
/// one neck, spreads out of reach left out. Safe to use from several threads.</remarks>
public sealed class FingeringFinder
{
    /// <summary>Fingerings of a shape that are looked at, at most; shapes have fewer.</summary>
    public const int MostFeasible = 64;

    /// <summary>Fingerings that are ranked by what people use: the lightest ones.</summary>
    public const int MostRanked = 12;

    private readonly LoadModel _model;
    private readonly FingerHabits _habits;
    private readonly bool _thumb;

    /// <summary>Prepares the search for one player.</summary>
    /// <param name="neck">Guitar and capo.</param>
    /// <param name="hand">The fretting hand.</param>
    /// <param name="thumb">True when the thumb may stop the lowest strings.</param>
    /// <param name="weights">Weights of the load; the shipped ones when null.</param>
    /// <param name="habits">What people use; the shipped ones when null.</param>
    public FingeringFinder(NeckGeometry neck, Hand hand, bool thumb, LoadWeights? weights = null, FingerHabits? habits = null)
    {
        _habits = habits ?? FingerHabits.Default;
        _model = new LoadModel(neck, hand, weights ?? LoadWeights.Default);
        _thumb = thumb;
    }

    /// <summary>The load model behind this finder.</summary>
    public LoadModel Model => _model;

    /// <summary>Feasible fingerings, those first that people use: of the <see cref="MostRanked"/> lightest, by
    /// <see cref="FingerHabits"/>. Empty where no hand can do it.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="top">How many to return at most, 1 or more.</param>
    public IReadOnlyList<Fingering> Find(Shape shape, int top = 5) => Find(PlacementsOf(shape), top);

    /// <summary>What the rules allow for a shape, for <see cref="Find(ShapePlacements, int)"/>.</summary>
    internal ShapePlacements PlacementsOf(Shape shape) => ShapePlacements.Of(shape, _thumb, _model, _habits);

    /// <summary>The same for a shape whose placements are known.</summary>
    internal IReadOnlyList<Fingering> Find(ShapePlacements placements, int top)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(top, 1);
        var shape = placements.Shape;
        if (shape.HighestStopped > _model.Neck.HighestFret) return [];
        Span<Candidate> best = stackalloc Candidate[Math.Clamp(top, MostRanked, MostFeasible)];
        best = best[..Lightest(placements, best)];
        Span<double> strange = stackalloc double[best.Length];
        strange.Clear();
        if (best.Length > 1)
        {
            for (var i = 0; i < best.Length; i++)
                strange[i] = placements.StrangenessOf(best[i].Way) + _habits.OfEffort(best[i].Effort);
            strange.Sort(best);
        }
        var fingerings = new Fingering[Math.Min(top, best.Length)];
        for (var i = 0; i < fingerings.Length; i++)
            fingerings[i] = new Fingering(shape, placements.Ways[best[i].Way].Packed, best[i].Effort, _model,
                strange[i] - strange[0]);
        return fingerings;
    }

    /// <summary>Every feasible fingering, lightest first, at most <see cref="MostFeasible"/>.</summary>
    public IReadOnlyList<Fingering> ByLoad(Shape shape) => [.. Find(shape, MostFeasible).OrderBy(f => f.Effort)];

    /// <summary>The fingering people use first, or null where no hand can do it.</summary>
    public Fingering? Best(Shape shape) => Find(shape, 1) is [var best] ? best : null;

    /// <summary>Weighs one given fingering.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="fingers">The finger on each string.</param>
    /// <returns>The fingering with its load, or null when this hand cannot do it or the fingers do not fit the shape.</returns>
    public Fingering? Weigh(Shape shape, IReadOnlyList<Finger> fingers)
    {
        if (fingers.Count != shape.StringCount || shape.HighestStopped > _model.Neck.HighestFret) return null;
        var placed = new PlacedFingers();
        for (var s = 0; s < fingers.Count; s++)
        {
            if (shape[s] > 0 == (fingers[s] == Finger.None)) return null;
            if (shape[s] > 0 && ((int)fingers[s] is < 1 or > 5 || !placed.Place((int)fingers[s], s, shape[s], shape)))
                return null;
        }
        if (!_model.WithinReach(placed)) return null;
        var effort = _model.EffortOfShape(shape) + _model.EffortOfFingers(shape, placed) + _model.EffortOnNeck(shape, placed);
        return double.IsInfinity(effort) ? null : new Fingering(shape, placed.Packed, effort, _model);
    }

    private struct Candidate
    {
        public double Effort;
        public int Way;
    }

    /// <summary>Fills in the lightest ways this hand can do, lightest first.</summary>
    /// <returns>How many there are.</returns>
    private int Lightest(ShapePlacements placements, Span<Candidate> best)
    {
        var ways = placements.Ways;
        var floors = placements.Floors;
        var found = 0;
        for (var way = 0; way < ways.Length; way++)
        {
            var limit = found == best.Length ? best[^1].Effort : double.PositiveInfinity;
            if (floors[way] > limit || double.IsInfinity(floors[way])) break;   // nor can any that follow be lighter
            if (!_model.WithinReach(ways[way])) continue;
            var effort = floors[way] + _model.EffortOnNeck(placements.Shape, ways[way]);
            var at = found;
            while (at > 0
                && (best[at - 1].Effort > effort
                    || best[at - 1].Effort == effort && ways[best[at - 1].Way].Packed > ways[way].Packed))
                at--;
            if (at >= best.Length) continue;
            for (var i = Math.Min(found, best.Length - 1); i > at; i--) best[i] = best[i - 1];
            best[at] = new Candidate { Effort = effort, Way = way };
            if (found < best.Length) found++;
        }
        return found;
    }
}
