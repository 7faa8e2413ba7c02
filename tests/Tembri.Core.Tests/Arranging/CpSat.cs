using Google.OrTools.Sat;
using Tembri.Core.Arranging;

namespace Tembri.Core.Tests.Arranging;

/// <summary>Solves a pairwise problem with a general solver, for comparison. Costs are taken as whole thousandths.</summary>
public static class CpSat
{
    /// <summary>Thousandths a unit of cost.</summary>
    public const int Scale = 1_000;

    /// <summary>The least cost, in thousandths, of the problem with its costs rounded to thousandths.</summary>
    public static long Solve(PairwiseProblem problem)
    {
        var model = new CpModel();
        var objective = new List<(BoolVar Var, long Cost)>();
        var choose = problem.NodeCosts.Select((costs, node) =>
        {
            var values = costs.Select(
                    (c, v) => { var b = model.NewBoolVar($"n{node}_{v}"); objective.Add((b, Whole(c))); return b; }).ToArray();
            model.AddExactlyOne(values);
            return values;
        }).ToArray();
        foreach (var (a, b, costs) in problem.Edges)
        {
            // One Boolean a pair; each side's choice is the sum of its pairs (the local polytope, which is tight for the
            // solver).
            var pairs = new BoolVar[choose[a].Length, choose[b].Length];
            for (var i = 0; i < choose[a].Length; i++)
                for (var j = 0; j < choose[b].Length; j++)
                {
                    pairs[i, j] = model.NewBoolVar("");
                    objective.Add((pairs[i, j], Whole(costs[i * choose[b].Length + j])));
                }
            for (var i = 0; i < choose[a].Length; i++)
                model.Add(LinearExpr.Sum(Enumerable.Range(0, choose[b].Length).Select(j => pairs[i, j])) == choose[a][i]);
            for (var j = 0; j < choose[b].Length; j++)
                model.Add(LinearExpr.Sum(Enumerable.Range(0, choose[a].Length).Select(i => pairs[i, j])) == choose[b][j]);
        }
        model.Minimize(LinearExpr.WeightedSum(objective.Select(o => o.Var), objective.Select(o => o.Cost)));
        var solver = new CpSolver { StringParameters = "num_workers:1" };
        var status = solver.Solve(model);
        return status == CpSolverStatus.Optimal
            ? (long)Math.Round(solver.ObjectiveValue)
            : throw new InvalidOperationException($"CP-SAT ended with {status}.");
    }

    /// <summary>The same problem with costs rounded to thousandths, so that both solvers see the same numbers.</summary>
    public static PairwiseProblem Rounded(PairwiseProblem problem)
    {
        var rounded = new PairwiseProblem([.. problem.NodeCosts.Select(costs => costs.Select(c => (double)Whole(c)).ToArray())]);
        foreach (var (a, b, costs) in problem.Edges)
        {
            rounded.AddEdge(a, b, [.. costs.Select(c => (double)Whole(c))]);
        }
        return rounded;
    }

    private static long Whole(double cost) => (long)Math.Round(cost * Scale);

    /// <summary>A random instance shaped like a song: chords in a chain with returns, costs of shapes and of changes in load
    /// points.</summary>
    public static PairwiseProblem Song(Random random, int nodes, int values)
    {
        var problem = new PairwiseProblem([.. Enumerable.Range(0, nodes)
            .Select(_ => Enumerable.Range(0, values).Select(_ => (20 + 60 * random.NextDouble()) / nodes).ToArray())]);
        var edges = new HashSet<(int, int)>();
        for (var i = 0; i < nodes; i++) edges.Add((i, (i + 1) % nodes));
        for (var i = 0; i < nodes / 2; i++) edges.Add((random.Next(nodes), random.Next(nodes)));
        foreach (var (a, b) in edges)
        {
            if (a == b) continue;
            var table = new double[values * values];
            for (var i = 0; i < table.Length; i++)
                table[i] = (4 + 14 * random.NextDouble() + (random.Next(4) == 0 ? 20 * random.NextDouble() : 0)) / edges.Count;
            problem.AddEdge(a, b, table);
        }
        return problem;
    }
}
