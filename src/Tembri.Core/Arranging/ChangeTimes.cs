using Tembri.Core.Changes;

namespace Tembri.Core.Arranging;

/// <summary>Times of the changes from every candidate of one chord to every candidate of another, for the reference player; found as asked for and kept between songs.</summary>
/// <remarks>Safe for several threads: two that ask for the same change compute the same number.</remarks>
internal sealed class ChangeTimes
{
    private const int RowsUsed = 48;   // candidates of a chord that a song usually tries

    private static readonly ResultKind<(CandidateKey From, CandidateKey To), ChangeTimes> Tables =
        new("change times", 0.25, times => RowsUsed * 4L * times._columns + 8L * times._rows.Length, 20_000);

    private readonly float[]?[] _rows;
    private readonly int _columns;

    private ChangeTimes(int rows, int columns) => (_rows, _columns) = (new float[rows][], columns);

    /// <summary>The times between two lists; a list belongs to one neck.</summary>
    public static ChangeTimes Between(ResultCache cache, CandidateList from, CandidateList to) =>
        cache.GetOrAdd(Tables, (from.Key, to.Key), _ => new ChangeTimes(from.Count, to.Count));

    /// <summary>Seconds from one candidate to each of some others.</summary>
    /// <param name="from">The list left, and which of it.</param>
    /// <param name="to">The list reached, and which of it.</param>
    /// <param name="model">What computes them.</param>
    /// <param name="seconds">Filled with the times, s.</param>
    public void Fill((CandidateList List, int Value) from, (CandidateList List, int[] Values) to, ChangeModel model, Span<double> seconds)
    {
        var row = _rows[from.Value] ??= NewRow();
        for (var i = 0; i < to.Values.Length; i++)
        {
            var value = to.Values[i];
            var known = row[value];
            if (float.IsNaN(known)) row[value] = known = (float)model.Seconds(from.List[from.Value].Fingering, to.List[value].Fingering);
            seconds[i] = known;
        }
    }

    private float[] NewRow()
    {
        var row = new float[_columns];
        Array.Fill(row, float.NaN);
        return row;
    }
}
