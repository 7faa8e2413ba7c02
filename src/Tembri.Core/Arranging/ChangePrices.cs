using System.Buffers;
using System.Numerics;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Chords;

namespace Tembri.Core.Arranging;

/// <summary>What the changes between shapes cost in the sum an arrangement minimises: seconds, seconds late at the rung's strum,
/// and changes nobody hears. For one thread at a time.</summary>
internal sealed class ChangePrices(ResultCache cache, CandidatePool pool, ChangeModel changes, IReadOnlyList<Chord> chords,
    PlayerKind kind, TimedChanges timed, double tempo, Func<RungLimits, RightHand> hands)
{
    private static readonly ArrangerWeights W = ArrangerWeights.Default;
    private readonly List<double[]> _lent = [];

    /// <summary>Two chords that follow each other, one way or both.</summary>
    public readonly record struct Edge(int A, int B, ChordStep? Forward, ChordStep? Backward);

    /// <summary>The pairs of chords a flow changes between.</summary>
    public static List<Edge> EdgesOf(ChordFlow flow)
    {
        var edges = new SortedDictionary<(int, int), Edge>();
        foreach (var step in flow.Steps)
        {
            var (low, high) = step.From < step.To ? (step.From, step.To) : (step.To, step.From);
            var edge = edges.GetValueOrDefault((low, high), new Edge(low, high, null, null));
            edges[(low, high)] = step.From == low ? edge with { Forward = step } : edge with { Backward = step };
        }
        return [.. edges.Values];
    }

    /// <summary>What may be played for a chord.</summary>
    /// <param name="Chord">The chord.</param>
    /// <param name="Values">Numbers of its candidates.</param>
    /// <param name="Tried">Their places in the tables of times; null when some are locked or changes were timed.</param>
    public readonly record struct Domain(int Chord, int[] Values, ChangeTimes.Tried? Tried);

    /// <summary>The domain of a chord.</summary>
    public Domain DomainOf(int chord, int[] values)
    {
        var list = pool.ListOf(chord);
        return new Domain(chord, values,
            timed.IsEmpty && Array.TrueForAll(values, v => v < list.Count) ? new ChangeTimes.Tried(list, values) : null);
    }

    /// <summary>Fills the table of an edge; it is lent until <see cref="TakeBack"/>, and may be longer than the edge
    /// needs.</summary>
    public double[] Fill(Edge edge, Domain a, Domain b, double changeCount, RungLimits limits, double closenessWeight)
    {
        var size = a.Values.Length * b.Values.Length;
        var whole = ArrayPool<double>.Shared.Rent(size);
        _lent.Add(whole);
        var table = whole.AsSpan(0, size);
        if (edge.Forward is null) table.Clear();
        if (edge.Forward is { } forward)
            AddStep(forward, a, b, changeCount, limits, closenessWeight, table, (b.Values.Length, 1), isFirst: true);
        if (edge.Backward is { } backward)
            AddStep(backward, b, a, changeCount, limits, closenessWeight, table, (1, b.Values.Length), isFirst: false);
        return whole;
    }

    /// <summary>Takes the tables back that were lent; a problem made of them is not to be asked any more.</summary>
    public void TakeBack()
    {
        foreach (var table in _lent) ArrayPool<double>.Shared.Return(table);
        _lent.Clear();
    }

    private void AddStep(
        ChordStep step, Domain from, Domain to, double changeCount, RungLimits limits, double closenessWeight,
        Span<double> table, (int From, int To) stride, bool isFirst)
    {
        var available = 60 / tempo * hands(limits).FreeBeats(step);
        var share = step.Count / changeCount;
        var slowness = kind.Pace.Slowness;
        var (perSecond, perLateSecond) =
            (share * limits.ChangeWeight * W.ChangeSecond, share * limits.ChangeWeight * W.LateSecond);
        var unheard = IsHeard(chords[from.Chord], chords[to.Chord])
            ? share * Math.Max(closenessWeight, W.UnheardWeight) * 100 * W.UnheardChange
            : 0;
        if (from.Tried is not { } left || to.Tried is not { } reached)
        {
            for (var i = 0; i < from.Values.Length; i++)
                for (var j = 0; j < to.Values.Length; j++)
                {
                    var (a, b) = (pool.At(from.Chord, from.Values[i]), pool.At(to.Chord, to.Values[j]));
                    var needed = Needed(a, b, slowness);
                    var points = perSecond * needed + perLateSecond * Math.Max(0, needed - available)
                        + (a.Sound == b.Sound ? unheard : 0);
                    var at = i * stride.From + j * stride.To;
                    table[at] = isFirst ? points : table[at] + points;
                }
            return;
        }
        var times = ChangeTimes.Between(cache, left.List, reached.List);
        var values = to.Values;
        Span<double> row = stackalloc double[values.Length];
        for (var i = 0; i < from.Values.Length; i++)
        {
            times.Fill(left, i, reached, changes, row);
            Price(row, perSecond * slowness, perLateSecond * slowness, available / slowness);
            if (unheard > 0)
            {
                var sound = left.List.Sound[from.Values[i]];
                for (var j = 0; j < values.Length; j++) if (reached.List.Sound[values[j]] == sound) row[j] += unheard;
            }
            // The forward step writes its rows, the backward one adds its columns.
            if (isFirst) row.CopyTo(table[(i * stride.From)..]);
            else for (int j = 0, at = i * stride.From; j < row.Length; j++, at += stride.To) table[at] += row[j];
        }
    }

    /// <summary>Turns seconds into points: so many each, and so many for each that is late.</summary>
    private static void Price(Span<double> seconds, double each, double late, double available)
    {
        var j = 0;
        for (; j <= seconds.Length - Vector<double>.Count; j += Vector<double>.Count)
        {
            var s = new Vector<double>(seconds[j..]);
            (s * each + Vector.Max(Vector<double>.Zero, s - new Vector<double>(available)) * late).CopyTo(seconds[j..]);
        }
        for (; j < seconds.Length; j++) seconds[j] = seconds[j] * each + Math.Max(0, seconds[j] - available) * late;
    }

    /// <summary>Seconds this student needs for a change: as timed, or by the model.</summary>
    private double Needed(Candidate from, Candidate to, double slowness) =>
        timed.Seconds(from.Fingering, to.Fingering) ?? changes.Seconds(from.Fingering, to.Fingering) * slowness;

    /// <summary>True when the record's two chords do not have the same tones.</summary>
    public static bool IsHeard(Chord from, Chord to) => from.PitchClassMask != to.PitchClassMask;
}
