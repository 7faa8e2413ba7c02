using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>Finds every way one hand can finger a shape on one guitar, the one people use first.</summary>
/// <remarks>
/// The search gives each stopped string a finger in turn and cuts a branch as soon as a rule is broken: one fret per finger, fingers in
/// order along the neck, a finger lies only across strings that sound at its fret or higher or that it silences, spreads within reach.
/// Safe to use from several threads.
/// </remarks>
public sealed class FingeringFinder
{
    /// <summary>Fingerings of a shape that are looked at, at most; shapes have fewer.</summary>
    public const int MostFeasible = 64;

    /// <summary>Fingerings that are ranked by what people use: the lightest ones.</summary>
    public const int MostRanked = 12;

    private const double Rounding = 1e-9;
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

    /// <summary>Feasible fingerings, those first that people use: of the <see cref="MostRanked"/> lightest, by <see cref="FingerHabits"/>. Empty where no hand can do it.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="top">How many to return at most, 1 or more.</param>
    public IReadOnlyList<Fingering> Find(Shape shape, int top = 5)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(top, 1);
        if (shape.HighestStopped > _model.Neck.HighestFret) return [];
        Span<Candidate> best = stackalloc Candidate[Math.Clamp(top, MostRanked, MostFeasible)];
        var search = new Search(_model, shape, _thumb, best);
        search.Run();
        var found = best[..search.Found];
        if (found.Length > 1)
        {
            Span<double> strange = stackalloc double[found.Length];
            for (var i = 0; i < found.Length; i++) strange[i] = _habits.Of(shape, PlacedFingers.Of(shape, found[i].Fingers), found[i].Effort);
            strange.Sort(found);
        }
        var fingerings = new Fingering[Math.Min(top, found.Length)];
        for (var i = 0; i < fingerings.Length; i++) fingerings[i] = _model.Describe(shape, found[i].Fingers);
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
        ulong packed = 0;
        for (var i = 0; i < fingers.Count; i++)
        {
            if (shape[i] > 0 == (fingers[i] == Finger.None)) return null;
            packed |= (ulong)fingers[i] << (4 * i);
        }
        Span<Candidate> best = stackalloc Candidate[1];
        var search = new Search(_model, shape, thumb: true, best) { Only = packed };
        search.Run();
        return search.Found == 0 ? null : _model.Describe(shape, packed);
    }

    private struct Candidate
    {
        public double Effort;
        public ulong Fingers;
    }

    private ref struct Search(LoadModel model, Shape shape, bool thumb, Span<Candidate> best)
    {
        private readonly Span<Candidate> _best = best;
        private readonly double[] _ofShape = model.EffortsOfShape(shape);
        private double _sumOfShape;
        private PlacedFingers _placement = new();

        public int Found { get; private set; }

        public ulong? Only { get; init; }

        public void Run()
        {
            _sumOfShape = LoadModel.Sum(_ofShape);
            Assign(0);
        }

        private void Assign(int stringIndex)
        {
            // The fingers placed so far are a floor under the effort; what cannot come among the best is not followed.
            if (Found == _best.Length && model.Floor(_placement) + _sumOfShape > _best[^1].Effort + Rounding) return;
            while (stringIndex < shape.StringCount && shape[stringIndex] <= 0) stringIndex++;
            if (stringIndex == shape.StringCount) { Weigh(); return; }
            var fret = shape[stringIndex];
            if (Only is { } only)
            {
                TryFinger((int)(only >> (4 * stringIndex) & 15), stringIndex, fret);
                return;
            }
            for (var finger = 1; finger <= 4; finger++) TryFinger(finger, stringIndex, fret);
            if (thumb && stringIndex <= 1) TryFinger(5, stringIndex, fret);
        }

        private void TryFinger(int finger, int stringIndex, int fret)
        {
            if (finger is < 1 or > 5) return;
            var before = _placement;
            if (_placement.Place(finger, stringIndex, fret, shape) && (finger == 5 || model.WithinReach(_placement, finger))) Assign(stringIndex + 1);
            _placement = before;
        }

        private void Weigh()
        {
            var effort = model.Effort(shape, _placement, _ofShape, Found == _best.Length ? _best[^1].Effort : double.PositiveInfinity);
            if (double.IsInfinity(effort)) return;
            var at = Found;
            while (at > 0 && (_best[at - 1].Effort > effort || _best[at - 1].Effort == effort && _best[at - 1].Fingers > _placement.Packed)) at--;
            if (at >= _best.Length) return;
            var last = Math.Min(Found, _best.Length - 1);
            for (var i = last; i > at; i--) _best[i] = _best[i - 1];
            _best[at] = new Candidate { Effort = effort, Fingers = _placement.Packed };
            if (Found < _best.Length) Found++;
        }
    }
}
