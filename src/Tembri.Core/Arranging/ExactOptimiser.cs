namespace Tembri.Core.Arranging;

/// <summary>A choice for a <see cref="PairwiseProblem"/>.</summary>
/// <param name="Choice">For each node the index of its value.</param>
/// <param name="IsProved">True when no choice costs less; false when the search was left off and this is the best that was
/// found.</param>
public sealed record Solution(int[] Choice, bool IsProved);

/// <summary>Solves a <see cref="PairwiseProblem"/> exactly and deterministically.</summary>
/// <remarks>
/// Costs are first moved between nodes and edges without changing any sum, back and forth along a fixed order (sequential
/// tree-reweighted message
/// passing, Kolmogorov 2006), which makes the sum of the least node costs a tight bound. Greedy choices improved node by node
/// give an upper bound.
/// Values that cannot win any more are dropped on the way. Depth-first branch and bound with forward checking does the rest, the
/// smallest domain first.
/// Among equal optima the one found first in this fixed order wins.
/// </remarks>
public sealed partial class ExactOptimiser
{
    private const double Tolerance = 1e-9;
    private const int MostPasses = 100;
    private const double FewBits = 16;   // so little is searched faster than it is tightened
    private const double WorthCopying = 0.75;
    private readonly int _count;
    private readonly int[]?[] _values;   // for each node the values still open, as the problem counts them; null for all
    private readonly double[][] _raw;    // their costs as given
    private readonly double[][] _node;   // their costs with what was moved
    private readonly List<Link>[] _links;
    private readonly int[] _best;
    private readonly CancellationToken _cancel;
    private int _nodesLeft;
    private double _bestCost = double.PositiveInfinity;

    /// <summary>An edge seen from one of its nodes.</summary>
    private readonly record struct Link(int Other, EdgeCosts Edge, bool IsRows);

    private ExactOptimiser(PairwiseProblem problem, CancellationToken cancel)
    {
        _cancel = cancel;
        _count = problem.NodeCosts.Count;
        _values = new int[_count][];
        _raw = [.. problem.NodeCosts];
        _node = [.. problem.NodeCosts.Select(c => (double[])c.Clone())];
        _links = new List<Link>[_count];
        for (var i = 0; i < _count; i++) _links[i] = [];
        foreach (var (a, b, costs) in problem.Edges) AddEdge(a, b, costs);
        _best = new int[_count];
    }

    /// <summary>Nodes of the search tree after which the search is left off. Songs need a few hundred; only a contrived problem
    /// comes here.</summary>
    public const int MostNodes = 2_000_000;

    /// <summary>The choice of least cost.</summary>
    /// <param name="problem">The problem.</param>
    /// <param name="cancel">Ends the search.</param>
    /// <param name="mostNodes">Nodes of the search tree that are looked at, at most.</param>
    /// <exception cref="OperationCanceledException">It was cancelled.</exception>
    public static Solution Solve(PairwiseProblem problem, CancellationToken cancel = default, int mostNodes = MostNodes)
    {
        if (problem.NodeCosts.Count == 0) return new Solution([], true);
        var optimiser = new ExactOptimiser(problem, cancel) { _nodesLeft = mostNodes };
        try
        {
            optimiser.Tighten();
            if (optimiser.Prune()) new Branching(optimiser).Run();
            return new Solution(optimiser._best, optimiser._nodesLeft > 0);
        }
        finally
        {
            foreach (var links in optimiser._links)
                foreach (var link in links) if (link.IsRows) link.Edge.GiveBack();
        }
    }

    private void AddEdge(int a, int b, double[] costs)
    {
        var (rows, columns) = (_node[a].Length, _node[b].Length);
        if (_links[a].FindIndex(l => l.Other == b) is var known and >= 0)
        {
            _links[a][known].Edge.Add(costs, isTurned: !_links[a][known].IsRows);
            return;
        }
        var edge = new EdgeCosts(costs, rows, columns);
        _links[a].Add(new Link(b, edge, true));
        _links[b].Add(new Link(a, edge, false));
    }

    /// <summary>Moves costs so that the sum of the least node costs comes as near the optimum as it can; every total stays the
    /// same.</summary>
    private void Tighten()
    {
        Collect();
        ImproveFromLeast();
        if (!Prune()) return;
        var bound = double.NegativeInfinity;
        for (var pass = 0; pass < MostPasses && OpenBits() > FewBits; pass++)
        {
            _cancel.ThrowIfCancellationRequested();
            Sweep(forward: true);
            Sweep(forward: false);
            Collect();
            ImproveFromLeast();
            var now = Bound();
            if (now - bound < 1e-4 * Math.Max(1e-6, _bestCost - now) || !Prune()) break;
            bound = now;
        }
        Collect();
    }

    private double Bound()
    {
        var sum = 0.0;
        foreach (var costs in _node) sum += Least(costs).Cost;
        return sum;
    }

    private static (int Value, double Cost) Least(ReadOnlySpan<double> costs)
    {
        var (value, cost) = (0, costs[0]);
        for (var v = 1; v < costs.Length; v++) if (costs[v] < cost) (value, cost) = (v, costs[v]);
        return (value, cost);
    }

    /// <summary>How many bits it takes to name a choice among the values that can still win: the size of what is left to
    /// search.</summary>
    private double OpenBits()
    {
        var gap = _bestCost - Bound();
        var bits = 0.0;
        foreach (var costs in _node)
        {
            var least = Least(costs).Cost;
            var open = 0;
            foreach (var c in costs) if (c - least < gap) open++;
            bits += Math.Log2(Math.Max(1, open));
        }
        return bits;
    }

    /// <summary>Drops the values that cannot be part of anything better than the best choice so far.</summary>
    /// <returns>False when nothing better is left.</returns>
    private bool Prune()
    {
        var room = _bestCost - Tolerance - Bound();
        if (room <= 0) return false;
        var kept = new int[_count][];
        Span<int> winning = stackalloc int[_node.Max(c => c.Length)];
        for (var node = 0; node < _count; node++)
        {
            var costs = _node[node];
            var (least, open) = (Least(costs).Cost, 0);
            for (var v = 0; v < costs.Length; v++) if (costs[v] - least < room) winning[open++] = v;
            // Copying the tables pays only when much goes; until then the others do no harm.
            kept[node] = open > WorthCopying * costs.Length ? [] : winning[..open].ToArray();
        }
        for (var node = 0; node < _count; node++)
        {
            if (kept[node].Length == 0) continue;   // all of them stay
            foreach (var (_, edge, isRows) in _links[node])
            {
                if (isRows) edge.KeepRows(kept[node]);
                else edge.KeepColumns(kept[node]);
            }
            _values[node] = _values[node] is { } open ? Pick(open, kept[node]) : kept[node];
            _raw[node] = Pick(_raw[node], kept[node]);
            _node[node] = Pick(_node[node], kept[node]);
        }
        return true;
    }

    private static T[] Pick<T>(T[] from, int[] kept) => Array.ConvertAll(kept, i => from[i]);

    /// <summary>Node by node in order: takes in what the edges are sure to cost, then lends what lies above the least to the
    /// edges ahead.</summary>
    private void Sweep(bool forward)
    {
        for (var step = 0; step < _count; step++)
        {
            var node = forward ? step : _count - 1 - step;
            int ahead = 0, behind = 0;
            foreach (var link in _links[node])
            {
                TakeIn(node, link);
                if (link.Other > node == forward) ahead++;
                else behind++;
            }
            if (ahead == 0) continue;
            var share = 1.0 / Math.Max(ahead, behind);
            var costs = _node[node];
            var least = Least(costs).Cost;
            for (var value = 0; value < costs.Length; value++)
            {
                var lent = (costs[value] - least) * share;
                if (lent <= 0) continue;
                foreach (var link in _links[node])
                    if (link.Other > node == forward) (link.IsRows ? link.Edge.ToRows : link.Edge.ToColumns)[value] -= lent;
                costs[value] -= lent * ahead;
            }
        }
    }

    /// <summary>Moves all that edges are sure to cost into their nodes.</summary>
    private void Collect()
    {
        for (var node = 0; node < _count; node++)
            foreach (var link in _links[node]) TakeIn(node, link);
    }

    private void TakeIn(int node, Link link)
    {
        if (link.IsRows) link.Edge.TakeInRows(_node[node]);
        else link.Edge.TakeInColumns(_node[node]);
    }

    /// <summary>Starts with the least value of every node, improves it node by node, and keeps it when it is the best so
    /// far.</summary>
    private void ImproveFromLeast()
    {
        var choice = new int[_count];
        for (var node = 0; node < _count; node++) choice[node] = Least(_node[node]).Value;
        Span<double> costs = stackalloc double[_raw.Max(c => c.Length)];
        for (var (round, changed) = (0, true); changed && round < 20; round++)
        {
            changed = false;
            for (var node = 0; node < _count; node++)
            {
                var local = costs[.._raw[node].Length];
                _raw[node].CopyTo(local);
                foreach (var (other, edge, isRows) in _links[node])
                {
                    var (start, stride) = isRows ? (choice[other], _raw[other].Length) : (choice[other] * local.Length, 1);
                    for (var v = 0; v < local.Length; v++) local[v] += edge.Costs[start + v * stride];
                }
                var (value, cost) = Least(local);
                if (cost >= local[choice[node]] - Tolerance) continue;
                choice[node] = value;
                changed = true;
            }
        }
        var sum = 0.0;
        for (var node = 0; node < _count; node++)
        {
            sum += _raw[node][choice[node]];
            foreach (var link in _links[node])
                if (link.IsRows) sum += link.Edge.Costs[choice[node] * _raw[link.Other].Length + choice[link.Other]];
        }
        if (sum < _bestCost - Tolerance) Keep(choice, sum);
    }

    private void Keep(int[] choice, double cost)
    {
        _bestCost = cost;
        for (var node = 0; node < _count; node++) _best[node] = _values[node]?[choice[node]] ?? choice[node];
    }
}
