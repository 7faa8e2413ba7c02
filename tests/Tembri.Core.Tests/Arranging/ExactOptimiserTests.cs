using CsCheck;
using Tembri.Core.Arranging;

namespace Tembri.Core.Tests.Arranging;

public sealed class ExactOptimiserTests
{
    private static Gen<PairwiseProblem> Problems(int mostNodes, int mostValues) =>
        from nodes in Gen.Int[1, mostNodes]
        from sizes in Gen.Int[1, mostValues].Array[nodes]
        from seed in Gen.Int
        from density in Gen.Double[0, 1]
        select Make(sizes, new Random(seed), density);

    private static PairwiseProblem Make(int[] sizes, Random random, double density)
    {
        // Some costs are whole numbers, so that ties happen.
        double Cost(double most) => random.Next(3) == 0 ? random.Next((int)most + 1) : random.NextDouble() * most;
        var problem = new PairwiseProblem([.. sizes.Select(n => Enumerable.Range(0, n).Select(_ => Cost(40)).ToArray())]);
        for (var a = 0; a < sizes.Length; a++)
            for (var b = 0; b < sizes.Length; b++)
            {
                if (a == b || random.NextDouble() > density) continue;
                problem.AddEdge(a, b, [.. Enumerable.Range(0, sizes[a] * sizes[b]).Select(_ => Cost(30))]);
            }
        return problem;
    }

    private static double BruteForce(PairwiseProblem problem)
    {
        var choice = new int[problem.NodeCosts.Count];
        var best = double.PositiveInfinity;
        while (true)
        {
            best = Math.Min(best, problem.CostOf(choice));
            var node = 0;
            while (node < choice.Length && ++choice[node] == problem.NodeCosts[node].Length) choice[node++] = 0;
            if (node == choice.Length) return best;
        }
    }

    [Fact]
    public void The_optimum_is_that_of_brute_force() =>
        Problems(6, 5)
            .Sample(problem => Math.Abs(problem.CostOf(ExactOptimiser.Solve(problem).Choice) - BruteForce(problem)) < 1e-6,
                iter: 800);

    [Fact]
    public void No_random_choice_is_better_on_large_problems() =>
        Problems(14, 12).Sample(problem =>
        {
            var best = problem.CostOf(ExactOptimiser.Solve(problem).Choice);
            var random = new Random(7);
            return Enumerable.Range(0, 200)
                .All(_ => problem.CostOf([.. problem.NodeCosts.Select(c => random.Next(c.Length))]) >= best - 1e-9);
        }, iter: 40);

    [Fact]
    public void A_general_solver_finds_the_same_optimum_on_five_hundred_random_songs()
    {
        // Small ones in number here; the large ones, with times, are in the bench.
        Parallel.For(0, 500, new ParallelOptions { MaxDegreeOfParallelism = 2 }, seed =>
        {
            var random = new Random(seed);
            var problem = CpSat.Rounded(CpSat.Song(random, random.Next(2, 8), random.Next(2, 7)));
            var mine = (long)Math.Round(problem.CostOf(ExactOptimiser.Solve(problem).Choice));
            Assert.Equal(CpSat.Solve(Scaled(problem)), mine);
        });
    }

    /// <summary>The comparison takes costs in thousandths; a problem that is whole already is handed over as it is.</summary>
    private static PairwiseProblem Scaled(PairwiseProblem whole)
    {
        var scaled = new PairwiseProblem([.. whole.NodeCosts.Select(c => c.Select(x => x / CpSat.Scale).ToArray())]);
        foreach (var (a, b, costs) in whole.Edges)
        {
            scaled.AddEdge(a, b, [.. costs.Select(c => c / CpSat.Scale)]);
        }
        return scaled;
    }

    [Fact]
    public void Solving_twice_gives_the_same_choice() =>
        Problems(8, 6)
            .Sample(problem => ExactOptimiser.Solve(problem).Choice.SequenceEqual(ExactOptimiser.Solve(problem).Choice),
                iter: 200);

    [Fact]
    public void A_problem_without_nodes_or_with_an_empty_node_is_handled()
    {
        Assert.Empty(ExactOptimiser.Solve(new PairwiseProblem([])).Choice);
        Assert.Throws<ArgumentException>(() => new PairwiseProblem([[]]));
    }

    [Fact]
    public void A_search_that_is_left_off_says_so_and_still_gives_a_choice()
    {
        // Costs without any order, so that nothing but looking finds the best.
        var problem = Make([.. Enumerable.Repeat(12, 14)], new Random(5), 1);
        var (choice, isProved) = ExactOptimiser.Solve(problem, mostNodes: 20);
        Assert.False(isProved);
        Assert.Equal(14, choice.Length);
        Assert.All(choice, v => Assert.InRange(v, 0, 11));
        Problems(6, 5).Sample(small => ExactOptimiser.Solve(small).IsProved, iter: 100);
    }
}
