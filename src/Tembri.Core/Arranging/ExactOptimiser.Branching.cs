namespace Tembri.Core.Arranging;

// Depth-first branch and bound with forward checking.
public sealed partial class ExactOptimiser
{
    /// <summary>The search through what tightening left open.</summary>
    private sealed class Branching(ExactOptimiser of)
    {
        private readonly int _count = of._count;
        private readonly double[][] _node = of._node;
        private readonly int[] _choice = new int[of._count];
        private readonly bool[] _assigned = new bool[of._count];

        // For each node and link the edge's costs less what was moved, a row for each value of the node.
        private readonly (int Other, double[] Costs)[][] _links =
        [
            .. of._links.Select((links, node) => links.Select(l => (l.Other, RestOf(of, node, l))).ToArray()),
        ];

        public void Run() => Choose(0, 0);

        private static double[] RestOf(ExactOptimiser of, int node, Link link)
        {
            var (mine, theirs) = (of._node[node].Length, of._node[link.Other].Length);
            var (edge, rest) = (link.Edge, new double[mine * theirs]);
            for (var i = 0; i < mine; i++)
                for (var o = 0; o < theirs; o++)
                    rest[i * theirs + o] = link.IsRows
                        ? edge.Costs[i * theirs + o] - edge.ToRows[i] - edge.ToColumns[o]
                        : edge.Costs[o * mine + i] - edge.ToRows[o] - edge.ToColumns[i];
            return rest;
        }

        private void Choose(int depth, double cost)
        {
            if (of._nodesLeft <= 0) return;
            if ((--of._nodesLeft & 255) == 0) of._cancel.ThrowIfCancellationRequested();
            if (depth == _count)
            {
                if (cost < of._bestCost - Tolerance) of.Keep(_choice, cost);
                return;
            }
            // Least cost of every open node, and the open node with the fewest values that can still win.
            Span<double> least = stackalloc double[_count];
            var bound = cost;
            for (var node = 0; node < _count; node++)
            {
                if (_assigned[node]) continue;
                least[node] = Least(_node[node]).Cost;
                bound += least[node];
            }
            if (bound >= of._bestCost - Tolerance) return;
            var pick = -1;
            var fewest = int.MaxValue;
            for (var node = 0; node < _count; node++)
            {
                if (_assigned[node]) continue;
                var open = 0;
                foreach (var c in _node[node]) if (bound - least[node] + c < of._bestCost - Tolerance) open++;
                if (open < fewest || open == fewest && _links[node].Length > _links[pick].Length) (pick, fewest) = (node, open);
            }
            var rest = bound - least[pick];
            _assigned[pick] = true;
            foreach (var value in Enumerable.Range(0, _node[pick].Length).OrderBy(v => _node[pick][v]).ThenBy(v => v))
            {
                if (rest + _node[pick][value] >= of._bestCost - Tolerance) break;
                _choice[pick] = value;
                Push(pick, value, 1);
                Choose(depth + 1, cost + _node[pick][value]);
                Push(pick, value, -1);
            }
            _assigned[pick] = false;
        }

        /// <summary>Adds (or takes back) what a choice costs on the values of its open neighbours.</summary>
        private void Push(int node, int value, int sign)
        {
            foreach (var (other, costs) in _links[node])
            {
                if (_assigned[other]) continue;
                var target = _node[other];
                for (var o = 0; o < target.Length; o++) target[o] += sign * costs[value * target.Length + o];
            }
        }
    }
}
