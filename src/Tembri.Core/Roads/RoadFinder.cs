using System.Collections;
using Tembri.Core.Students;

namespace Tembri.Core.Roads;

/// <summary>Finds the road of a student: which versions to play one after another.</summary>
/// <remarks>
/// The price of a step is the square of the new things it brings, so a road that brings them a few at a time is cheaper than one that brings them at once; what fades and is met again, and what is wished for, takes a
/// little off. To a goal the road with the least sum is found by best-first search (A*): with k steps to go and things of weight r left of the goal, no road costs less than r²/k less what k steps may take off.
/// Without a goal each step is the one with the least price that brings at least <see cref="RoadWeights.LeastStep"/> things after the steps before.
/// </remarks>
public static class RoadFinder
{
    private static readonly RoadWeights W = RoadWeights.Default;
    private const double Hair = 1e-9;

    /// <summary>Finds the road.</summary>
    /// <param name="map">The library as the student sees it.</param>
    /// <param name="cancel">Ends the work.</param>
    /// <exception cref="ArgumentException">The steps are out of range, or the goal names no version of the library.</exception>
    public static Road Find(RoadMap map, CancellationToken cancel = default)
    {
        var request = map.Request;
        if (request.Steps is < 1 or > RoadRequest.MostSteps) throw new ArgumentException($"A road has 1 to {RoadRequest.MostSteps} steps.", nameof(map));
        switch (request.Goal)
        {
            case null:
                return Onward(map, cancel);
            case TechniqueGoal goal when request.Player.Skills[goal.Technique] >= goal.Level:
                return new Road([], 0, 0, RoadEnd.ThereAlready);
            case TechniqueGoal goal:
                return To(map, [.. Enumerable.Range(0, request.Versions.Count).Where(v => request.Versions[v].Asks(goal.Technique) >= goal.Level)], cancel);
            case VersionGoal goal:
                var at = Enumerable.Range(0, request.Versions.Count).Where(v => request.Versions[v].Song == goal.Song && request.Versions[v].Rung == goal.Rung).ToList();
                return at.Count > 0 ? To(map, at, cancel) : throw new ArgumentException($"The library has no rung {goal.Rung} of the song '{goal.Song}' that can be played.", nameof(map));
            default:
                throw new ArgumentException("The goal is of no known kind.", nameof(map));
        }
    }

    private static Road Onward(RoadMap map, CancellationToken cancel)
    {
        var learnt = new BitArray(map.Things);
        var steps = new List<RoadStep>();
        while (steps.Count < map.Request.Steps)
        {
            cancel.ThrowIfCancellationRequested();
            (int Version, double Price, double Added)? best = null;
            for (var v = 0; v < map.Request.Versions.Count; v++)
            {
                var added = map.AddedBy(v, learnt);
                if (added < W.LeastStep) continue;
                var price = map.PriceOf(v, added);
                if (best is null || price < best.Value.Price - Hair || price < best.Value.Price + Hair && added < best.Value.Added - Hair) best = (v, price, added);
            }
            if (best is not { } next) return new Road(steps, steps.Sum(s => s.Price), 0, RoadEnd.NothingNewLeft);
            steps.Add(map.Step(next.Version, learnt, 0));
            Learn(map, next.Version, learnt);
        }
        return new Road(steps, steps.Sum(s => s.Price), 0, RoadEnd.AsLongAsAsked);
    }

    private static Road To(RoadMap map, IReadOnlyList<int> ends, CancellationToken cancel) => ends.Count == 0 ? new Road([], 0, 0, RoadEnd.NothingLeadsThere) : new Search(map, ends, cancel).Run();

    /// <summary>A beginning of a road.</summary>
    private sealed record Node(Node? Before, int Version, BitArray Learnt, double Cost, int Depth);

    /// <summary>The search for the cheapest road to one of some versions: a beam finds a good one, best-first search then a better one or the proof that there is none.</summary>
    private sealed class Search(RoadMap map, IReadOnlyList<int> ends, CancellationToken cancel)
    {
        private readonly int _steps = map.Request.Steps;
        private readonly int[] _onTheWay = [.. Enumerable.Range(0, map.Request.Versions.Count).Except(ends).Where(v => map.NewOf(v).Count > 0)];
        private readonly SharedThings _things = new(map, ends);
        private Node? _best;
        private int _looks;

        public Road Run()
        {
            var start = new Node(null, -1, new BitArray(_things.Count), 0, 0);
            for (IReadOnlyList<Node> beam = [start]; beam.Count > 0;)
                beam = [.. beam.SelectMany(Onward).OrderBy(n => n.Bound).ThenBy(n => n.Node.Version).Take(W.Beam).Select(n => n.Node)];
            // What the cheapest road not looked at yet costs at least: with nothing left to look at, the one found is the best.
            var least = Prove(start);
            var found = new Stack<Node>();
            for (var n = _best; n!.Before is not null; n = n.Before) found.Push(n);
            var (road, learnt) = (new List<RoadStep>(), new BitArray(map.Things));
            foreach (var node in found)
            {
                var before = new BitArray(learnt);
                Learn(map, node.Version, learnt);
                road.Add(map.Step(node.Version, before, map.NewOf(_best!.Version).Count(t => !learnt[t])));
            }
            return new Road(road, _best!.Cost, _best.Cost > 0 ? Math.Max(0, (_best.Cost - least) / _best.Cost) : 0, road is [{ Adds.Count: 0 }] ? RoadEnd.ThereAlready : RoadEnd.Reached);
        }

        /// <summary>Best-first search until nothing cheaper can be left, or it was looked at enough.</summary>
        /// <returns>What the best road costs at least.</returns>
        private double Prove(Node start)
        {
            var open = new PriorityQueue<Node, (double Bound, int Turn)>();
            var seen = new Dictionary<Learnt, List<(int Depth, double Cost)>>();
            var turn = 0;
            _looks = 0;
            open.Enqueue(start, (0, turn++));
            while (open.TryDequeue(out var node, out var order) && order.Bound < _best!.Cost - Hair)
            {
                if (_looks >= W.MostLooks) return order.Bound;
                foreach (var (next, bound) in Onward(node))
                {
                    if (!seen.TryGetValue(new Learnt(next.Learnt), out var known)) seen[new Learnt(next.Learnt)] = known = [];
                    else if (known.Any(k => k.Depth <= next.Depth && k.Cost <= next.Cost + Hair)) continue;
                    known.Add((next.Depth, next.Cost));
                    open.Enqueue(next, (bound, turn++));
                }
            }
            return _best!.Cost;
        }

        /// <summary>Ends a road here where that is the cheapest so far, and goes on to every version that may yet lead to a cheaper one.</summary>
        private List<(Node Node, double Bound)> Onward(Node node)
        {
            cancel.ThrowIfCancellationRequested();
            var left = double.PositiveInfinity;
            foreach (var end in ends)
            {
                var added = _things.AddedBy(end, node.Learnt).All;
                left = Math.Min(left, added);
                if (node.Cost + map.PriceOf(end, added) is var cost && (_best is null || cost < _best.Cost - Hair)) _best = After(node, end, cost);
            }
            _looks += ends.Count;
            var next = new List<(Node, double)>();
            var toGo = _steps - node.Depth - 1;
            if (toGo == 0) return next;
            _looks += _onTheWay.Length;
            foreach (var version in _onTheWay)
            {
                var (added, wanted) = _things.AddedBy(version, node.Learnt);
                // A step on the way that brings nothing is none.
                if (added <= Hair) continue;
                var cost = node.Cost + map.PriceOf(version, added);
                if (cost + Bound(Math.Max(0, left - wanted), toGo) is var bound && bound < _best!.Cost - Hair) next.Add((After(node, version, cost), bound));
            }
            return next;
        }

        private Node After(Node node, int version, double cost)
        {
            var learnt = new BitArray(node.Learnt);
            _things.Learn(version, learnt);
            return new Node(node, version, learnt, cost, node.Depth + 1);
        }

        /// <summary>What things of a weight cost at least in some steps.</summary>
        private double Bound(double left, int toGo) => Math.Max(0, left * left / toGo - toGo * map.MostOff);
    }

    private static void Learn(RoadMap map, int version, BitArray learnt)
    {
        foreach (var thing in map.NewOf(version)) learnt[thing] = true;
    }

    /// <summary>The things that more than one version has; what only one has is a weight of its own. So the sets that are searched stay small.</summary>
    private sealed class SharedThings
    {
        private readonly int[][] _shared;
        private readonly double[] _own;
        private readonly double[] _weight;
        private readonly BitArray _wanted;

        public SharedThings(RoadMap map, IReadOnlyList<int> ends)
        {
            var versions = map.Request.Versions.Count;
            var owners = new int[map.Things];
            for (var v = 0; v < versions; v++) foreach (var thing in map.NewOf(v)) owners[thing]++;
            var number = new int[map.Things];
            foreach (ref var n in number.AsSpan()) n = -1;
            for (var thing = 0; thing < owners.Length; thing++) if (owners[thing] > 1) number[thing] = Count++;
            _weight = new double[Count];
            for (var thing = 0; thing < owners.Length; thing++) if (number[thing] >= 0) _weight[number[thing]] = map.WeightOf(thing);
            _shared = [.. Enumerable.Range(0, versions).Select(v => map.NewOf(v).Where(t => number[t] >= 0).Select(t => number[t]).ToArray())];
            _own = [.. Enumerable.Range(0, versions).Select(v => map.NewOf(v).Where(t => number[t] < 0).Sum(map.WeightOf))];
            _wanted = new BitArray(Count);
            foreach (var end in ends) Learn(end, _wanted);
        }

        public int Count { get; }

        /// <summary>What a version adds to what is learnt, and how much of it some end wants.</summary>
        public (double All, double Wanted) AddedBy(int version, BitArray learnt)
        {
            var (all, wanted) = (_own[version], 0.0);
            foreach (var thing in _shared[version])
            {
                if (learnt[thing]) continue;
                all += _weight[thing];
                if (_wanted[thing]) wanted += _weight[thing];
            }
            return (all, wanted);
        }

        public void Learn(int version, BitArray learnt)
        {
            foreach (var thing in _shared[version]) learnt[thing] = true;
        }
    }

    /// <summary>A set of things, equal to another with the same things.</summary>
    private readonly struct Learnt : IEquatable<Learnt>
    {
        private readonly int[] _words;
        private readonly int _hash;

        public Learnt(BitArray bits)
        {
            _words = new int[(bits.Length + 31) / 32];
            if (bits.Length > 0) bits.CopyTo(_words, 0);
            var hash = new HashCode();
            foreach (var word in _words) hash.Add(word);
            _hash = hash.ToHashCode();
        }

        public bool Equals(Learnt other) => _words.AsSpan().SequenceEqual(other._words);

        public override bool Equals(object? obj) => obj is Learnt other && Equals(other);

        public override int GetHashCode() => _hash;
    }
}
