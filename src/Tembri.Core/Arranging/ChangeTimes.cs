using Tembri.Core.Changes;

namespace Tembri.Core.Arranging;

/// <summary>Times of the changes from every candidate of one chord to every candidate of another, for the reference player; found as asked for and kept between songs.</summary>
/// <remarks>Safe for several threads: two that ask for the same change compute the same number.</remarks>
internal sealed class ChangeTimes
{
    private static readonly KeptResults<(CandidateList From, CandidateList To), ChangeTimes> Kept = new(72, times => RowsUsed * 4L * times._to.Count + 8L * times._rows.Length, shared: true);
    private const int RowsUsed = 48;   // candidates of a chord that a song usually tries
    private readonly CandidateList _from;
    private readonly CandidateList _to;
    private readonly float[]?[] _rows;

    private ChangeTimes(CandidateList from, CandidateList to) => (_from, _to, _rows) = (from, to, new float[from.Count][]);

    /// <summary>The times between two lists, told apart by identity; a list belongs to one neck.</summary>
    public static ChangeTimes Between(CandidateList from, CandidateList to) => Kept.GetOrAdd((from, to), key => new ChangeTimes(key.From, key.To));

    /// <summary>Seconds from one candidate to each of some others.</summary>
    public void From(int from, ReadOnlySpan<int> to, ChangeModel model, Span<double> seconds)
    {
        var row = _rows[from] ??= NewRow(_to.Count);
        for (var i = 0; i < to.Length; i++)
        {
            var known = row[to[i]];
            if (float.IsNaN(known)) row[to[i]] = known = (float)model.Seconds(_from[from].Fingering, _to[to[i]].Fingering);
            seconds[i] = known;
        }
    }

    private static float[] NewRow(int count)
    {
        var row = new float[count];
        Array.Fill(row, float.NaN);
        return row;
    }
}
