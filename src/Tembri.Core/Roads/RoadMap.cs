using System.Collections;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Roads;

/// <summary>A library as one student sees it: what is new in each version. Things are numbered, so that sets of them are
/// quick.</summary>
public sealed class RoadMap
{
    private readonly RoadWeights _weights = RoadWeights.Default;
    private readonly List<RoadThing> _things = [];
    private readonly List<double> _weight = [];
    private readonly Dictionary<RoadThing, int> _number = [];
    private readonly int[][] _new;
    private readonly double[] _off;   // what fading shapes and wishes take off the price of a version
    private readonly HashSet<Shape> _fading;

    /// <summary>Looks at a library.</summary>
    /// <param name="request">Student and library.</param>
    /// <param name="cancel">Ends the work.</param>
    public RoadMap(RoadRequest request, CancellationToken cancel = default)
    {
        Request = request;
        _fading = [.. request.Fading];
        var odds = new PlayerOdds(request.Player);
        _new = new int[request.Versions.Count][];
        for (var v = 0; v < _new.Length; v++)
        {
            cancel.ThrowIfCancellationRequested();
            _new[v] = [.. request.Versions[v].NewFor(odds, request.Player.Skills, _weights)
                .Select(t => NumberOf(t.Thing, t.Weight)).Order()];
        }
        _off = [.. request.Versions.Select(v => _weights.Repeat
                * Math.Min(_weights.MostRepeats, v.Shapes.Count(_fading.Contains)) + (v.Wished ? _weights.Wish : 0))];
    }

    /// <summary>What was asked.</summary>
    public RoadRequest Request { get; }

    /// <summary>How many different things are new in the library.</summary>
    public int Things => _things.Count;

    /// <summary>What is new in a version today, in things.</summary>
    /// <param name="version">Its place among <see cref="RoadRequest.Versions"/>.</param>
    public double NewIn(int version) => _new[version].Sum(t => _weight[t]);

    /// <summary>What is new in a version today, the heaviest first.</summary>
    /// <param name="version">Its place among <see cref="RoadRequest.Versions"/>.</param>
    public IReadOnlyList<(RoadThing Thing, double Weight)> ThingsOf(int version) => Described(_new[version]);

    /// <summary>For each new thing of a version the other versions that have it, those first that ask for the fewest other
    /// things.</summary>
    /// <param name="version">Its place among <see cref="RoadRequest.Versions"/>.</param>
    /// <param name="most">Versions named for each.</param>
    public IReadOnlyList<(RoadThing Thing, double Weight, IReadOnlyList<int> Versions)> LeadingTo(int version, int most = 3) =>
        [.. _new[version].Select(thing =>
        (_things[thing], _weight[thing], (IReadOnlyList<int>)[.. Enumerable.Range(0, _new.Length)
            .Where(v => Request.Versions[v].Song != Request.Versions[version].Song && Array.BinarySearch(_new[v], thing) >= 0)
            .GroupBy(v => Request.Versions[v].Song).Select(g => g.MinBy(NewIn)).OrderBy(NewIn).Take(most)]))
            .OrderByDescending(x => x.Item2)];

    internal IReadOnlyList<int> NewOf(int version) => _new[version];

    internal double WeightOf(int thing) => _weight[thing];

    /// <summary>The sum of what a version adds to what is learnt.</summary>
    internal double AddedBy(int version, BitArray learnt)
    {
        var sum = 0.0;
        foreach (var thing in _new[version]) if (!learnt[thing]) sum += _weight[thing];
        return sum;
    }

    /// <summary>The price of a version that adds so much.</summary>
    internal double PriceOf(int version, double added) => Math.Max(0, added * added - _off[version]);

    /// <summary>How much less than the square of what it adds a step may cost.</summary>
    internal double MostOff => _off.DefaultIfEmpty().Max();

    /// <summary>A step in full.</summary>
    internal RoadStep Step(int version, BitArray learnt, int left)
    {
        var adds = Described(_new[version].Where(t => !learnt[t]));
        return new RoadStep(
            Request.Versions[version], adds,
            [.. Request.Versions[version].Shapes.Where(
                s => _fading.Contains(s) || _number.TryGetValue(new ShapeThing(s), out var n) && learnt[n])],
            PriceOf(version, adds.Sum(a => a.Weight)), left);
    }

    private List<(RoadThing Thing, double Weight)> Described(IEnumerable<int> things) =>
        [.. things.OrderByDescending(t => _weight[t]).ThenBy(t => t).Select(t => (_things[t], _weight[t]))];

    // A shape that is easier at one capo than at another weighs as where it is hardest.
    private int NumberOf(RoadThing thing, double weight)
    {
        if (_number.TryGetValue(thing, out var known))
        {
            _weight[known] = Math.Max(_weight[known], weight);
            return known;
        }
        _number[thing] = _things.Count;
        _things.Add(thing);
        _weight.Add(weight);
        return _things.Count - 1;
    }
}
