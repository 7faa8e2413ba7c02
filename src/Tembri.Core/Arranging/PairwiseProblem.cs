namespace Tembri.Core.Arranging;

/// <summary>Choose one value for each node so that the sum of node costs and edge costs is least.</summary>
/// <remarks>Costs are finite and 0 or more on edges. Nodes and values are counted from 0.</remarks>
public sealed class PairwiseProblem
{
    private readonly List<(int A, int B, double[] Costs)> _edges = [];

    /// <summary>Makes a problem.</summary>
    /// <param name="nodeCosts">For each node the cost of each of its values; every node has at least one.</param>
    /// <exception cref="ArgumentException">A node has no value.</exception>
    public PairwiseProblem(IReadOnlyList<double[]> nodeCosts)
    {
        if (nodeCosts.Any(c => c.Length == 0))
            throw new ArgumentException("Every node needs at least one value.", nameof(nodeCosts));
        NodeCosts = nodeCosts;
    }

    /// <summary>Cost of each value of each node.</summary>
    public IReadOnlyList<double[]> NodeCosts { get; }

    /// <summary>The edges with their cost tables, a row for each value of node A.</summary>
    public IReadOnlyList<(int A, int B, double[] Costs)> Edges => _edges;

    /// <summary>Adds an edge. Two edges between the same nodes add up.</summary>
    /// <param name="a">One node.</param>
    /// <param name="b">Another node.</param>
    /// <param name="costs">A row for each value of node <paramref name="a"/>, one after the other; may be longer than the table.
    /// It is not changed.</param>
    /// <exception cref="ArgumentException">The nodes are one, or the table is too short.</exception>
    public void AddEdge(int a, int b, double[] costs)
    {
        if (a == b) throw new ArgumentException("An edge joins two different nodes.", nameof(b));
        if (costs.Length < NodeCosts[a].Length * NodeCosts[b].Length)
            throw new ArgumentException("The cost table does not match the nodes.", nameof(costs));
        _edges.Add((a, b, costs));
    }

    /// <summary>The cost of a choice.</summary>
    public double CostOf(IReadOnlyList<int> choice)
    {
        var sum = 0.0;
        for (var i = 0; i < choice.Count; i++) sum += NodeCosts[i][choice[i]];
        foreach (var (a, b, costs) in _edges) sum += costs[choice[a] * NodeCosts[b].Length + choice[b]];
        return sum;
    }
}
