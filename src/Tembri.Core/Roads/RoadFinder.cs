using System.Collections;
using Tembri.Core.Students;

namespace Tembri.Core.Roads;

/// <summary>Finds the road of a student: which versions to play one after another.</summary>
/// <remarks>
/// The price of a step is the square of the new things it brings, so a road that brings them a few at a time is cheaper than one
/// that brings them at once; what fades and is met again, and what is wished for, takes a
/// little off. To a goal the road with the least sum is found by best-first search (A*): with k steps to go and things of weight
/// r left of the goal, no road costs less than the squares of r divided among them,
/// where a step on the way takes no more of r than the version that has most of it, less what k steps may take off.
/// Without a goal each step is the one with the least price that brings at least <see cref="RoadWeights.LeastStep"/> things
/// after the steps before.
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
        if (request.Steps is < 1 or > RoadRequest.MostSteps)
            throw new ArgumentException($"A road has 1 to {RoadRequest.MostSteps} steps.", nameof(map));
        switch (request.Goal)
        {
            case null:
                return Onward(map, cancel);
            case TechniqueGoal goal when request.Player.Skills[goal.Technique] >= goal.Level:
                return new Road([], 0, 0, RoadEnd.ThereAlready);
            case TechniqueGoal goal:
                return To(map,
                    [.. Enumerable.Range(0, request.Versions.Count)
                        .Where(v => request.Versions[v].Asks(goal.Technique) >= goal.Level)], cancel);
            case VersionGoal goal:
                var at = Enumerable.Range(0, request.Versions.Count)
                    .Where(v => request.Versions[v].Song == goal.Song && request.Versions[v].Rung == goal.Rung).ToList();
                return at.Count > 0
                    ? To(map, at, cancel)
                    : throw new ArgumentException(
                        $"The library has no rung {goal.Rung} of the song '{goal.Song}' that can be played.", nameof(map));
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
                if (best is null || price < best.Value.Price - Hair
                    || price < best.Value.Price + Hair && added < best.Value.Added - Hair)
                    best = (v, price, added);
            }
            if (best is not { } next) return new Road(steps, steps.Sum(s => s.Price), 0, RoadEnd.NothingNewLeft);
            steps.Add(map.Step(next.Version, learnt, 0));
            Learn(map, next.Version, learnt);
        }
        return new Road(steps, steps.Sum(s => s.Price), 0, RoadEnd.AsLongAsAsked);
    }

    private static Road To(RoadMap map, IReadOnlyList<int> ends, CancellationToken cancel) =>
        ends.Count == 0 ? new Road([], 0, 0, RoadEnd.NothingLeadsThere) : new Search(map, ends, cancel).Run();

    /// <summary>A beginning of a road; what is learnt on it is worked out once it is followed.</summary>
    private sealed class Node(Node? before, int version, double cost, int depth, ulong[]? learnt = null)
    {
        public Node? Before => before;
        public int Version => version;
        public double Cost => cost;
        public int Depth => depth;
        private ulong[]? _learnt = learnt;

        public ulong[] Learnt(SharedThings things) => _learnt ??= things.With(Before!.Learnt(things), Version);
    }

    /// <summary>The search for the cheapest road to one of some versions: a beam finds a good one, best-first search then a
    /// better one or the proof that there is none.</summary>
    private sealed class Search
    {
        private readonly RoadMap _map;
        private readonly int _steps;
        private readonly int[] _onTheWay;
        private readonly (double All, double Wanted)[] _added;
        private readonly CancellationToken _cancel;
        private readonly IReadOnlyList<int> _ends;
        private readonly SharedThings _things;
        private Node? _best;
        private int _looks;

        public Search(RoadMap map, IReadOnlyList<int> ends, CancellationToken cancel)
        {
            (_map, _ends, _cancel, _steps) = (map, ends, cancel, map.Request.Steps);
            _onTheWay = [.. Enumerable.Range(0, map.Request.Versions.Count).Except(ends).Where(v => map.NewOf(v).Count > 0)];
            (_things, _added) = (new SharedThings(map, ends), new (double, double)[_onTheWay.Length]);
        }

        public Road Run()
        {
            for (IReadOnlyList<Node> beam = [Start()]; beam.Count > 0;)
                beam = [.. beam.SelectMany(Onward).OrderBy(n => n.Bound).ThenBy(n => n.Node.Version).Take(W.Beam)
                    .Select(n => n.Node)];
            // What the cheapest road not looked at yet costs at least: with nothing left to look at, the one found is the best.
            var least = Prove(Start());
            var found = new Stack<Node>();
            for (var n = _best; n!.Before is not null; n = n.Before) found.Push(n);
            var (road, learnt) = (new List<RoadStep>(), new BitArray(_map.Things));
            foreach (var node in found)
            {
                var before = new BitArray(learnt);
                Learn(_map, node.Version, learnt);
                road.Add(_map.Step(node.Version, before, _map.NewOf(_best!.Version).Count(t => !learnt[t])));
            }
            return new Road(road, _best!.Cost, _best.Cost > 0 ? Math.Max(0, (_best.Cost - least) / _best.Cost) : 0,
                road is [{ Adds.Count: 0 }] ? RoadEnd.ThereAlready : RoadEnd.Reached);
        }

        private Node Start() => new(null, -1, 0, 0, _things.None);

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
                var learnt = new Learnt(node.Learnt(_things));
                if (!seen.TryGetValue(learnt, out var known)) seen[learnt] = known = [];
                else if (known.Any(k => k.Depth <= node.Depth && k.Cost <= node.Cost + Hair)) continue;
                known.Add((node.Depth, node.Cost));
                foreach (var (next, bound) in Onward(node)) open.Enqueue(next, (Math.Max(bound, order.Bound), turn++));
            }
            return _best!.Cost;
        }

        /// <summary>Ends a road here where that is the cheapest so far, and goes on to every version that may yet lead to a
        /// cheaper one.</summary>
        private List<(Node Node, double Bound)> Onward(Node node)
        {
            _cancel.ThrowIfCancellationRequested();
            var (left, learnt) = (double.PositiveInfinity, node.Learnt(_things));
            foreach (var end in _ends)
            {
                var added = _things.AddedBy(end, learnt).All;
                left = Math.Min(left, added);
                if (node.Cost + _map.PriceOf(end, added) is var cost && (_best is null || cost < _best.Cost - Hair))
                    _best = new Node(node, end, cost, node.Depth + 1);
            }
            _looks += _ends.Count;
            var toGo = _steps - node.Depth - 1;
            if (toGo == 0) return [];
            _looks += _onTheWay.Length;
            for (var i = 0; i < _onTheWay.Length; i++) _added[i] = _things.AddedBy(_onTheWay[i], learnt);
            var least = node.Cost + Least(left, toGo + 1);
            if (least >= _best!.Cost - Hair) return [];
            var caps = MostWanted(toGo - 1);
            var next = new List<(Node, double)>();
            for (var i = 0; i < _onTheWay.Length; i++)
            {
                var (added, wanted) = _added[i];
                // A step on the way that brings nothing is none.
                if (added <= Hair) continue;
                var cost = node.Cost + _map.PriceOf(_onTheWay[i], added);
                if (Math.Max(least, cost + Bound(Math.Max(0, left - wanted), toGo, caps)) is var bound
                    && bound < _best.Cost - Hair)
                    next.Add((new Node(node, _onTheWay[i], cost, node.Depth + 1), bound));
            }
            return next;
        }

        /// <summary>The most that steps can take of what is wanted, the least first: whatever is learnt meanwhile, no version
        /// gives more of it later than now.</summary>
        private List<double> MostWanted(int steps)
        {
            var most = new PriorityQueue<double, double>();
            foreach (var (_, wanted) in _added)
            {
                if (wanted <= 0 || steps == 0) continue;
                if (most.Count < steps) most.Enqueue(wanted, wanted);
                else most.EnqueueDequeue(wanted, wanted);
            }
            var caps = new List<double>();
            while (most.TryDequeue(out var cap, out _)) caps.Add(cap);
            return caps;
        }

        /// <summary>What things of a weight cost at least in some steps: the last takes what is left over, each of the others no
        /// more than its cap; the least sum of squares is the most even one.</summary>
        /// <param name="left">The weight.</param>
        /// <param name="toGo">The steps.</param>
        /// <param name="caps">The most that steps before the last can take, the least first.</param>
        private double Bound(double left, int toGo, List<double> caps)
        {
            var (sum, rest, sharing) = (0.0, left, caps.Count + 1);
            foreach (var cap in caps)
            {
                if (cap * sharing >= rest) break;
                (sum, rest, sharing) = (sum + cap * cap, rest - cap, sharing - 1);
            }
            return Math.Max(0, sum + rest * rest / sharing - toGo * _map.MostOff);
        }

        /// <summary>The same with a view to what versions on the way bring that is not wanted: the steps before the last pay for
        /// all of the one among them that brings most.</summary>
        private double Least(double left, int toGo)
        {
            if (toGo == 1) return Math.Max(0, left * left - _map.MostOff);
            var useful =
                _added.Where(a => a.Wanted > 0).Select(a => (Unwanted: a.All - a.Wanted, a.Wanted)).OrderBy(a => a.Unwanted);
            var (least, sum, most) = (left * left, 0.0, new PriorityQueue<double, double>());
            foreach (var (unwanted, wanted) in useful)
            {
                if (unwanted * unwanted / (toGo - 1) >= least) break;
                // The sum of the most that so many steps can take.
                sum += wanted;
                most.Enqueue(wanted, wanted);
                if (most.Count == toGo) sum -= most.Dequeue();
                var taken = Math.Clamp(((toGo - 1) * left - unwanted) / toGo, 0, Math.Min(sum, left));
                least = Math.Min(least, (taken + unwanted) * (taken + unwanted) / (toGo - 1) + (left - taken) * (left - taken));
            }
            return Math.Max(0, least - toGo * _map.MostOff);
        }
    }

    private static void Learn(RoadMap map, int version, BitArray learnt)
    {
        foreach (var thing in map.NewOf(version)) learnt[thing] = true;
    }
}
