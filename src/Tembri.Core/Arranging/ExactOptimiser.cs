namespace Tembri.Core.Arranging;

/// <summary>Solves a <see cref="PairwiseProblem"/> exactly and deterministically.</summary>
/// <remarks>
/// Edge costs are first moved into node costs without changing any sum (soft arc consistency, after Cooper and Schiex, 2004), which makes the sum of
/// the least node costs a tight bound. A greedy choice improved node by node gives an upper bound; values that cannot beat it are dropped.
/// Depth-first branch and bound with forward checking does the rest, the smallest domain first. Among equal optima the one found first in this fixed order wins.
/// </remarks>
public sealed class ExactOptimiser
{
    private const double Tolerance = 1e-9;
    private const int Sweeps = 4;
    private readonly int _count;
    private readonly double[][] _node;
    private readonly List<(int Other, double[,] Costs, bool First)>[] _edges;
    private readonly int[] _choice;
    private readonly bool[] _assigned;
    private int[] _best;
    private double _bestCost;

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
        optimiser.StartGreedy();
        optimiser.Branch(0, 0);
        return optimiser._best;
    }

    private static double At(double[,] costs, bool first, int mine, int other) => first ? costs[mine, other] : costs[other, mine];

    /// <summary>Moves edge costs into node costs; every total stays the same.</summary>
    private void Tighten()
    {
        for (var sweep = 0; sweep < Sweeps; sweep++)
            for (var node = 0; node < _count; node++)
                foreach (var (other, costs, first) in _edges[node])
                    for (var value = 0; value < _node[node].Length; value++)
                    {
                        var least = double.PositiveInfinity;
                        for (var o = 0; o < _node[other].Length; o++) least = Math.Min(least, At(costs, first, value, o));
                        if (least <= 0) continue;
                        _node[node][value] += least;
                        for (var o = 0; o < _node[other].Length; o++)
                            if (first) costs[value, o] -= least;
                            else costs[o, value] -= least;
                    }
    }

    private void StartGreedy()
    {
        for (var node = 0; node < _count; node++) _best[node] = Array.IndexOf(_node[node], _node[node].Min());
        for (var round = 0; round < 20; round++)
        {
            var changed = false;
            for (var node = 0; node < _count; node++)
            {
                var (value, cost) = (_best[node], LocalCost(node, _best[node]));
                for (var v = 0; v < _node[node].Length; v++)
                {
                    var c = LocalCost(node, v);
                    if (c < cost - Tolerance) (value, cost) = (v, c);
                }
                changed |= value != _best[node];
                _best[node] = value;
            }
            if (!changed) break;
        }
        _bestCost = 0;
        for (var node = 0; node < _count; node++)
        {
            _bestCost += _node[node][_best[node]];
            foreach (var (other, costs, first) in _edges[node])
                if (first) _bestCost += costs[_best[node], _best[other]];
        }
    }

    private double LocalCost(int node, int value)
    {
        var cost = _node[node][value];
        foreach (var (other, costs, first) in _edges[node]) cost += At(costs, first, value, _best[other]);
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
