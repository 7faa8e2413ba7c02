using System.Buffers;
using System.Numerics;

namespace Tembri.Core.Arranging;

/// <summary>The costs of an edge of a <see cref="PairwiseProblem"/>, a row for each value of its first node. The table stays as
/// given, and is copied before anything of it goes; what was moved out of it is kept by the side.</summary>
internal sealed class EdgeCosts(double[] costs, int rows, int columns)
{
    private bool _isOwn;

    /// <summary>As given, a row for each value of the first node; may be longer than they need.</summary>
    public double[] Costs { get; private set; } = costs;

    /// <summary>What was moved into the values of the first node.</summary>
    public double[] ToRows { get; private set; } = new double[rows];

    /// <summary>What was moved into the values of the second node.</summary>
    public double[] ToColumns { get; private set; } = new double[columns];

    /// <summary>Adds another edge between the same nodes.</summary>
    public void Add(double[] more, bool isTurned)
    {
        var sum = Own(rows * columns);
        for (var i = 0; i < rows; i++)
            for (var j = 0; j < columns; j++)
                sum[i * columns + j] = Costs[i * columns + j] + (isTurned ? more[j * rows + i] : more[i * columns + j]);
        (Costs, _isOwn) = (sum, true);
    }

    /// <summary>Keeps some values of the first node.</summary>
    /// <param name="kept">Their indices, rising.</param>
    public void KeepRows(int[] kept)
    {
        var across = ToColumns.Length;
        var fewer = Own(kept.Length * across);
        for (var i = 0; i < kept.Length; i++) Array.Copy(Costs, kept[i] * across, fewer, i * across, across);
        (Costs, _isOwn, ToRows) = (fewer, true, Array.ConvertAll(kept, i => ToRows[i]));
    }

    /// <summary>Keeps some values of the second node.</summary>
    /// <param name="kept">Their indices, rising.</param>
    public void KeepColumns(int[] kept)
    {
        var (down, across) = (ToRows.Length, ToColumns.Length);
        var fewer = Own(down * kept.Length);
        for (var i = 0; i < down; i++)
            for (var j = 0; j < kept.Length; j++) fewer[i * kept.Length + j] = Costs[i * across + kept[j]];
        (Costs, _isOwn, ToColumns) = (fewer, true, Array.ConvertAll(kept, i => ToColumns[i]));
    }

    /// <summary>Where what is kept is written: into a copy of its own, or in place, since nothing moves behind where it
    /// was.</summary>
    private double[] Own(int size) => _isOwn ? Costs : ArrayPool<double>.Shared.Rent(size);

    /// <summary>Gives the copy back; nothing is asked any more.</summary>
    public void GiveBack()
    {
        if (_isOwn) ArrayPool<double>.Shared.Return(Costs);
        (Costs, _isOwn) = ([], false);
    }

    /// <summary>Moves all that the edge is sure to cost into the values of its first node.</summary>
    public void TakeInRows(double[] node)
    {
        double[] costs = Costs, moved = ToColumns, toRows = ToRows;
        var columns = moved.Length;
        for (int row = 0, start = 0; row < node.Length; row++, start += columns)
        {
            var sure = double.PositiveInfinity;
            var c = 0;
            if (columns >= Vector<double>.Count)
            {
                var least = new Vector<double>(double.PositiveInfinity);
                for (; c <= columns - Vector<double>.Count; c += Vector<double>.Count)
                    least = Vector.Min(least, new Vector<double>(costs, start + c) - new Vector<double>(moved, c));
                for (var i = 0; i < Vector<double>.Count; i++) sure = Math.Min(sure, least[i]);
            }
            for (; c < columns; c++) sure = Math.Min(sure, costs[start + c] - moved[c]);
            node[row] += sure - toRows[row];
            toRows[row] = sure;
        }
    }

    /// <summary>Moves all that the edge is sure to cost into the values of its second node.</summary>
    public void TakeInColumns(double[] node)
    {
        double[] costs = Costs, moved = ToRows, toColumns = ToColumns;
        var columns = node.Length;
        var c = 0;
        for (; c <= columns - Vector<double>.Count; c += Vector<double>.Count)
        {
            var sure = new Vector<double>(double.PositiveInfinity);
            for (int row = 0, at = c; row < moved.Length; row++, at += columns)
                sure = Vector.Min(sure, new Vector<double>(costs, at) - new Vector<double>(moved[row]));
            (new Vector<double>(node, c) + sure - new Vector<double>(toColumns, c)).CopyTo(node, c);
            sure.CopyTo(toColumns, c);
        }
        for (; c < columns; c++)
        {
            var sure = double.PositiveInfinity;
            for (var row = 0; row < moved.Length; row++) sure = Math.Min(sure, costs[row * columns + c] - moved[row]);
            node[c] += sure - toColumns[c];
            toColumns[c] = sure;
        }
    }
}
