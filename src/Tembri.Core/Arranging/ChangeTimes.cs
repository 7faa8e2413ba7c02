using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;
using Tembri.Core.Changes;

namespace Tembri.Core.Arranging;

/// <summary>Times of the changes from the candidates of one chord to those of another, for the reference player; found as asked
/// for and kept between songs.</summary>
/// <remarks>
/// Rows and columns are the slots of <see cref="CandidateList.SlotsOf"/>, so that a table holds the few candidates that are ever
/// tried.
/// Safe for several threads: two that ask for the same change compute the same number.
/// </remarks>
internal sealed class ChangeTimes
{
    private const int UsualSlots = 64;

    // By the lists themselves and not by what they are for: a list that was let go and made anew numbers its slots anew, and a
    // table of the old one would give the times of other changes.
    private static readonly ResultKind<(CandidateList From, CandidateList To), ChangeTimes> Tables =
        new("change times", 0.22, _ => UsualSlots * (UsualSlots * sizeof(float) + 32), UsualSlots * UsualSlots * sizeof(float));

    private readonly Lock _growing = new();
    private float[]?[] _rows = new float[UsualSlots][];

    private ChangeTimes()
    {
    }

    /// <summary>The times between two lists; a list belongs to one neck.</summary>
    public static ChangeTimes Between(ResultCache cache, CandidateList from, CandidateList to) =>
        cache.GetOrAdd(Tables, (from, to), static _ => new ChangeTimes());

    /// <summary>Some candidates of a list with their slots.</summary>
    public sealed class Tried
    {
        public Tried(CandidateList list, int[] values)
        {
            (List, Values, Slots) = (list, values, list.SlotsOf(values));
            foreach (var slot in Slots) Columns = Math.Max(Columns, slot + 1);
        }

        public CandidateList List { get; }

        public int[] Values { get; }

        public int[] Slots { get; }

        /// <summary>How long a row must be to hold all the slots.</summary>
        public int Columns { get; }
    }

    /// <summary>Seconds from one candidate to each of some others.</summary>
    /// <param name="from">The candidates left.</param>
    /// <param name="index">Which of them.</param>
    /// <param name="to">The candidates reached.</param>
    /// <param name="model">What computes them.</param>
    /// <param name="seconds">Filled with the times, s; may be shorter than there are others.</param>
    public void Fill(Tried from, int index, Tried to, ChangeModel model, Span<double> seconds)
    {
        var row = RowOf(from.Slots[index], to.Columns);
        if (Gather(row, to.Slots, seconds)) return;
        for (var i = 0; i < seconds.Length; i++) seconds[i] = Known(row, from, index, to, i, model);
    }

    /// <summary>Seconds from each of some candidates to one other.</summary>
    /// <param name="from">The candidates left.</param>
    /// <param name="to">The candidates reached.</param>
    /// <param name="index">Which of them.</param>
    /// <param name="model">What computes them.</param>
    /// <param name="seconds">Filled with the times, s; may be shorter than there are candidates.</param>
    public void FillTo(Tried from, Tried to, int index, ChangeModel model, Span<double> seconds)
    {
        for (var i = 0; i < seconds.Length; i++)
            seconds[i] = Known(RowOf(from.Slots[i], to.Columns), from, i, to, index, model);
    }

    private static float Known(float[] row, Tried from, int index, Tried to, int reached, ChangeModel model)
    {
        ref var known = ref row[to.Slots[reached]];
        if (float.IsNaN(known))
            known = (float)model.Seconds(from.List[from.Values[index]].Fingering, to.List[to.Values[reached]].Fingering);
        return known;
    }

    /// <summary>Reads the row when all of it is known.</summary>
    private static unsafe bool Gather(float[] row, int[] slots, Span<double> seconds)
    {
        if (!Avx2.IsSupported) return false;
        var i = 0;
        fixed (float* start = row)
        fixed (int* slot = slots)
        fixed (double* into = seconds)
            for (; i <= seconds.Length - Vector128<int>.Count; i += Vector128<int>.Count)
            {
                var four = Avx2.GatherVector128(start, Sse2.LoadVector128(slot + i), sizeof(float));
                // Only what is not known yet differs from itself.
                if (!Vector128.EqualsAll(four, four)) return false;
                Avx.Store(into + i, Avx.ConvertToVector256Double(four));
            }
        for (; i < seconds.Length; i++)
        {
            var known = row[slots[i]];
            if (float.IsNaN(known)) return false;
            seconds[i] = known;
        }
        return true;
    }

    private float[] RowOf(int slot, int needed)
    {
        var rows = _rows;
        if (slot < rows.Length && rows[slot] is { } known && known.Length >= needed) return known;
        // Another thread that grows the same table at this moment loses nothing but work.
        lock (_growing)
        {
            if (slot >= _rows.Length) Array.Resize(ref _rows, Math.Max(slot + 1, 2 * _rows.Length));
            var row = _rows[slot];
            if (row is not null && row.Length >= needed) return row;
            var longer = new float[Math.Max(UsualSlots, (needed + 15) / 16 * 16)];
            row?.CopyTo(longer, 0);
            Array.Fill(longer, float.NaN, row?.Length ?? 0, longer.Length - (row?.Length ?? 0));
            return _rows[slot] = longer;
        }
    }
}
