using CsCheck;
using Tembri.Core.Arranging;

namespace Tembri.Core.Tests.Arranging;

/// <summary>Costs that are moved between an edge and its nodes, and values that go, against the table as it was given.</summary>
public sealed class EdgeCostsTests
{
    private static readonly Gen<(double[] Table, int Rows, int Columns, int[] Steps)> Any =
        from rows in Gen.Int[1, 9]
        from columns in Gen.Int[1, 9]
        from spare in Gen.Int[0, 5]
        from table in Gen.Double[0, 50].Array[rows * columns + spare]
        from steps in Gen.Int[0, 4].Array[1, 12]
        select (table, rows, columns, steps);

    /// <summary>A node of the edge: what its values cost, and which of the first ones they are.</summary>
    private sealed class Node(int count)
    {
        public double[] Costs { get; private set; } = [.. Enumerable.Range(0, count).Select(i => 3.0 * i)];

        public int[] First { get; private set; } = [.. Enumerable.Range(0, count)];

        public int[] Drop(int which)
        {
            int[] kept = [.. Enumerable.Range(0, Costs.Length).Where(i => i % 3 != which % 3 || Costs.Length == 1)];
            if (kept.Length == 0) kept = [0];
            (Costs, First) = (Array.ConvertAll(kept, i => Costs[i]), Array.ConvertAll(kept, i => First[i]));
            return kept;
        }
    }

    [Fact]
    public void Whatever_is_moved_or_goes_each_choice_that_is_left_costs_what_it_cost_and_the_table_stays()
    {
        Any.Sample(given =>
        {
            var table = (double[])given.Table.Clone();
            var edge = new EdgeCosts(table, given.Rows, given.Columns);
            var (rows, columns) = (new Node(given.Rows), new Node(given.Columns));
            double Rest(int i, int j) =>
                edge.Costs[i * columns.Costs.Length + j] - edge.ToRows[i] - edge.ToColumns[j];
            foreach (var (step, at) in given.Steps.Select((s, i) => (s, i)))
            {
                switch (step)
                {
                    case 0: edge.TakeInRows(rows.Costs); break;
                    case 1: edge.TakeInColumns(columns.Costs); break;
                    case 2: edge.KeepRows(rows.Drop(at)); break;
                    case 3: edge.KeepColumns(columns.Drop(at)); break;
                    default: Lend(edge, rows, columns); break;
                }
                for (var i = 0; i < rows.Costs.Length; i++)
                    for (var j = 0; j < columns.Costs.Length; j++)
                    {
                        var (r, c) = (rows.First[i], columns.First[j]);
                        Assert.Equal(given.Table[r * given.Columns + c], edge.Costs[i * columns.Costs.Length + j]);
                        Assert.Equal(3.0 * r + 3.0 * c + given.Table[r * given.Columns + c],
                            rows.Costs[i] + columns.Costs[j] + Rest(i, j), 1e-9);
                    }
                // What is sure is all taken: in each row, or column, one choice is left that costs nothing more.
                if (step == 0)
                    for (var i = 0; i < rows.Costs.Length; i++)
                        Assert.Equal(0, Enumerable.Range(0, columns.Costs.Length).Min(j => Rest(i, j)), 1e-9);
                if (step == 1)
                    for (var j = 0; j < columns.Costs.Length; j++)
                        Assert.Equal(0, Enumerable.Range(0, rows.Costs.Length).Min(i => Rest(i, j)), 1e-9);
            }
            Assert.Equal(given.Table, table);
            edge.GiveBack();
            Assert.Equal(given.Table, table);
        }, iter: 2000);

        // A node lends to its edge what lies above its least.
        static void Lend(EdgeCosts edge, Node rows, Node columns)
        {
            foreach (var (node, to) in new[] { (rows, edge.ToRows), (columns, edge.ToColumns) })
            {
                var least = node.Costs.Min();
                for (var v = 0; v < node.Costs.Length; v++)
                {
                    to[v] -= node.Costs[v] - least;
                    node.Costs[v] = least;
                }
            }
        }
    }

    [Fact]
    public void A_second_edge_between_the_same_nodes_adds_up_whichever_way_it_is_written()
    {
        Gen.Select(Any, Gen.Bool).Sample((given, isTurned) =>
        {
            var (table, rows, columns, _) = given;
            var edge = new EdgeCosts(table, rows, columns);
            double[] more = [.. Enumerable.Range(0, rows * columns).Select(i => i * 0.5)];
            edge.Add(more, isTurned);
            edge.Add(more, isTurned);
            for (var i = 0; i < rows; i++)
                for (var j = 0; j < columns; j++)
                    Assert.Equal(table[i * columns + j] + 2 * more[isTurned ? j * rows + i : i * columns + j],
                        edge.Costs[i * columns + j], 1e-9);
            edge.GiveBack();
        }, iter: 300);
    }
}
