namespace Tembri.Core.Arranging;

/// <summary>Solves a <see cref="PairwiseProblem"/> exactly and deterministically.</summary>
/// <remarks>
/// Costs are first moved between nodes and edges without changing any sum, back and forth along a fixed order (sequential tree-reweighted message
/// passing, Kolmogorov 2006), which makes the sum of the least node costs a tight bound. Greedy choices improved node by node give an upper bound.
/// Depth-first branch and bound with forward checking does the rest, the smallest domain first. Among equal optima the one found first in this fixed order wins.
/// </remarks>
public sealed class ExactOptimiser
{
    private const double Tolerance = 1e-9;
    private const int MostPasses = 100;
    private const double FewBits = 16;   // so little is searched faster than it is tightened
    private readonly int _count;
    private readonly double[][] _node;
    private readonly List<(int Other, double[,] Costs, bool First)>[] _edges;
    private readonly int[] _choice;
    private readonly bool[] _assigned;
    private int[] _best;
    private double _bestCost = double.PositiveInfinity;

    private ExactOptimiser(PairwiseProblem problem)
    {
        _count = problem.NodeCosts.Count;
        _node = [.. problem.NodeCosts.Select(c => (double[])c.Clone())];
        _edges = [.. Enumerable.Range(0, _count).Select(_ => new List<(int, double[,], bool)>())];
        var merged = new Dictionary<(int, int), double[,]>();
        foreach (var (a, b, costs) in problem.Edges)
        {
            var (low, high) = a < b ? (a, b) : (b, a);
            if (!merged.TryGetValue((low, high), out var table))
                merged[(low, high)] = table = new double[_node[low].Length, _node[high].Length];
            for (var i = 0; i < table.GetLength(0); i++)
                for (var j = 0; j < table.GetLength(1); j++)
                    table[i, j] += a < b ? costs[i, j] : costs[j, i];
        }
        foreach (var ((a, b), costs) in merged)
        {
            _edges[a].Add((b, costs, true));
            _edges[b].Add((a, costs, false));
        }
        _choice = new int[_count];
        _assigned = new bool[_count];
        _best = new int[_count];
    }

    /// <summary>The choice of least cost.</summary>
    /// <returns>For each node the index of its value.</returns>
    public static int[] Solve(PairwiseProblem problem)
    {
        if (problem.NodeCosts.Count == 0) return [];
        var optimiser = new ExactOptimiser(problem);
        optimiser.Tighten();
        optimiser.Branch(0, 0);
        return optimiser._best;
    }

    private static double At(double[,] costs, bool first, int mine, int other) => first ? costs[mine, other] : costs[other, mine];

    /// <summary>Moves costs so that the sum of the least node costs comes as near the optimum as it can; every total stays the same.</summary>
    private void Tighten()
    {
        Collect();
        ImproveFrom([.. _node.Select(Least)]);
        var bound = double.NegativeInfinity;
        for (var pass = 0; pass < MostPasses && OpenBits() > FewBits; pass++)
        {
            Sweep(forward: true);
            Sweep(forward: false);
            if (pass % 2 == 0) continue;
            Collect();
            ImproveFrom([.. _node.Select(Least)]);
            var now = _node.Sum(c => c.Min());
            if (now - bound < 1e-4 * Math.Max(1e-6, _bestCost - now)) break;
            bound = now;
        }
        Collect();
    }

    /// <summary>How many bits it takes to name a choice among the values that can still win: the size of what is left to search.</summary>
    private double OpenBits()
    {
        var gap = _bestCost - _node.Sum(c => c.Min());
        var bits = 0.0;
        foreach (var costs in _node)
        {
            var least = costs.Min();
            bits += Math.Log2(Math.Max(1, costs.Count(c => c - least < gap)));
        }
        return bits;
    }

    private static int Least(double[] costs) => Array.IndexOf(costs, costs.Min());

    /// <summary>Node by node in order: takes in what the edges are sure to cost, then lends what lies above the least to the edges ahead.</summary>
    private void Sweep(bool forward)
    {
        for (var step = 0; step < _count; step++)
        {
            var node = forward ? step : _count - 1 - step;
            int ahead = 0, behind = 0;
            foreach (var (other, costs, first) in _edges[node])
            {
                TakeIn(node, other, costs, first);
                if (other > node == forward) ahead++;
                else behind++;
            }
            if (ahead == 0) continue;
            var share = 1.0 / Math.Max(ahead, behind);
            var least = _node[node].Min();
            for (var value = 0; value < _node[node].Length; value++)
            {
                var lent = (_node[node][value] - least) * share;
                if (lent <= 0) continue;
                foreach (var (other, costs, first) in _edges[node])
                {
                    if (other > node != forward) continue;
                    for (var o = 0; o < _node[other].Length; o++)
                        if (first) costs[value, o] += lent;
                        else costs[o, value] += lent;
                }
                _node[node][value] -= lent * ahead;
            }
        }
    }

    /// <summary>Moves all that edges are sure to cost into their nodes.</summary>
    private void Collect()
    {
        for (var node = 0; node < _count; node++)
            foreach (var (other, costs, first) in _edges[node]) TakeIn(node, other, costs, first);
    }

    private void TakeIn(int node, int other, double[,] costs, bool first)
    {
        var others = _node[other].Length;
        for (var value = 0; value < _node[node].Length; value++)
        {
            var least = double.PositiveInfinity;
            if (first) for (var o = 0; o < others; o++) least = Math.Min(least, costs[value, o]);
            else for (var o = 0; o < others; o++) least = Math.Min(least, costs[o, value]);
            if (least == 0) continue;
            _node[node][value] += least;
            if (first) for (var o = 0; o < others; o++) costs[value, o] -= least;
            else for (var o = 0; o < others; o++) costs[o, value] -= least;
        }
    }

    /// <summary>Improves a choice node by node and keeps it when it is the best so far.</summary>
    private void ImproveFrom(int[] choice)
    {
        for (var round = 0; round < 20; round++)
        {
            var changed = false;
            for (var node = 0; node < _count; node++)
            {
                var (value, cost) = (choice[node], LocalCost(choice, node, choice[node]));
                for (var v = 0; v < _node[node].Length; v++)
                {
                    var c = LocalCost(choice, node, v);
                    if (c < cost - Tolerance) (value, cost) = (v, c);
                }
                changed |= value != choice[node];
                choice[node] = value;
            }
            if (!changed) break;
        }
        var sum = 0.0;
        for (var node = 0; node < _count; node++)
        {
            sum += _node[node][choice[node]];
            foreach (var (other, costs, first) in _edges[node])
                if (first) sum += costs[choice[node], choice[other]];
        }
        if (sum < _bestCost - Tolerance) (_bestCost, _best) = (sum, choice);
    }

    private double LocalCost(int[] choice, int node, int value)
    {
        var cost = _node[node][value];
        foreach (var (other, costs, first) in _edges[node]) cost += At(costs, first, value, choice[other]);
        return cost;
    }

    private void Branch(int depth, double cost)
    {
        if (depth == _count)
        {
            if (cost < _bestCost - Tolerance) { _bestCost = cost; _best = (int[])_choice.Clone(); }
            return;
        }
        // Least cost of every open node, and the open node with the fewest values that can still win.
        Span<double> least = stackalloc double[_count];
        var bound = cost;
        for (var node = 0; node < _count; node++)
        {
            if (_assigned[node]) continue;
            least[node] = _node[node].Min();
            bound += least[node];
        }
        if (bound >= _bestCost - Tolerance) return;
        var pick = -1;
        var fewest = int.MaxValue;
        for (var node = 0; node < _count; node++)
        {
            if (_assigned[node]) continue;
            var open = 0;
            foreach (var c in _node[node]) if (bound - least[node] + c < _bestCost - Tolerance) open++;
            if (open < fewest || open == fewest && _edges[node].Count > _edges[pick].Count) (pick, fewest) = (node, open);
        }
        var rest = bound - least[pick];
        _assigned[pick] = true;
        foreach (var value in Enumerable.Range(0, _node[pick].Length).OrderBy(v => _node[pick][v]).ThenBy(v => v))
        {
            if (rest + _node[pick][value] >= _bestCost - Tolerance) break;
            _choice[pick] = value;
            Push(pick, value, 1);
            Branch(depth + 1, cost + _node[pick][value]);
            Push(pick, value, -1);
        }
        _assigned[pick] = false;
    }

    /// <summary>Adds (or takes back) what a choice costs on the values of its open neighbours.</summary>
    private void Push(int node, int value, int sign)
    {
        foreach (var (other, costs, first) in _edges[node])
        {
            if (_assigned[other]) continue;
            var target = _node[other];
            for (var o = 0; o < target.Length; o++) target[o] += sign * At(costs, first, value, o);
        }
    }
}
