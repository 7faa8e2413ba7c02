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
    /// <param name="Values">Numbers of its candidates, and behind them those that were taken out.</param>
    /// <param name="Count">How many there are.</param>
    /// <param name="Tried">Their places in the tables of times; null when some are locked or changes were timed.</param>
    public readonly record struct Domain(int Chord, int[] Values, int Count, ChangeTimes.Tried? Tried)
    {
        /// <summary>One of them.</summary>
        public Candidate At(CandidatePool pool, int index) => pool.At(Chord, Values[index]);

        /// <summary>The pitch classes one of them sounds.</summary>
        public int SoundAt(CandidatePool pool, int index) =>
            Tried is { } tried ? tried.List.Sound[Values[index]] : At(pool, index).Sound;
    }

    /// <summary>The domain of a chord.</summary>
    public Domain DomainOf(int chord, int[] values)
    {
        var list = pool.ListOf(chord);
        return new Domain(chord, values, values.Length,
            timed.IsEmpty && Array.TrueForAll(values, v => v < list.Count) ? new ChangeTimes.Tried(list, values) : null);
    }

    /// <summary>Takes out what cannot be the best whatever the other chords play: values that cost more than the first one of
    /// their chord by more than all changes from and to that one could.</summary>
    /// <param name="edges">The pairs of chords.</param>
    /// <param name="domains">What may be played for each; values behind the first one in the order of their costs.</param>
    /// <param name="costs">What each value costs by itself.</param>
    /// <param name="song">What the rung plays of the song.</param>
    /// <param name="limits">The rung.</param>
    /// <param name="closenessWeight">Load points a percent of closeness is worth.</param>
    public void Trim(List<Edge> edges, Domain[] domains, double[][] costs, RungSong song, RungLimits limits,
        double closenessWeight)
    {
        Span<double> most = stackalloc double[domains.Length], points = stackalloc double[domains.Max(d => d.Count)];
        most.Clear();
        foreach (var edge in edges)
            foreach (var step in (ReadOnlySpan<ChordStep?>)[edge.Forward, edge.Backward])
            {
                if (step is not { From: var from, To: var to }) continue;
                var rate = RateOf(step, domains[from], domains[to], song, limits, closenessWeight);
                var row = points[..domains[to].Count];
                Fill(rate, domains[from], 0, domains[to], row);
                most[from] += Most(row);
                var column = points[..domains[from].Count];
                FillTo(rate, domains[from], domains[to], 0, column);
                most[to] += Most(column);
            }
        for (var node = 0; node < domains.Length; node++)
        {
            var (own, kept) = (costs[node], costs[node].Length);
            while (own[kept - 1] - own[0] > most[node] + Hair) kept--;
            if (kept < own.Length) (domains[node], costs[node]) = (domains[node] with { Count = kept }, own[..kept]);
        }
    }

    private const double Hair = 1e-9;   // points

    private static double Most(ReadOnlySpan<double> points)
    {
        var most = 0.0;
        foreach (var each in points) most = Math.Max(most, each);
        return most;
    }

    /// <summary>Fills the table of an edge; it is lent until <see cref="TakeBack"/>, and may be longer than the edge
    /// needs.</summary>
    public double[] Fill(Edge edge, Domain a, Domain b, RungSong song, RungLimits limits, double closenessWeight)
    {
        var (down, across) = (a.Count, b.Count);
        var whole = ArrayPool<double>.Shared.Rent(down * across);
        _lent.Add(whole);
        var table = whole.AsSpan(0, down * across);
        if (edge.Forward is { } forward)
        {
            var rate = RateOf(forward, a, b, song, limits, closenessWeight);
            for (var i = 0; i < down; i++) Fill(rate, a, i, b, table.Slice(i * across, across));
        }
        else
            table.Clear();
        if (edge.Backward is { } backward)
        {
            // The forward step wrote rows, the backward one adds columns.
            var rate = RateOf(backward, b, a, song, limits, closenessWeight);
            Span<double> column = stackalloc double[down];
            for (var j = 0; j < across; j++)
            {
                Fill(rate, b, j, a, column);
                for (int i = 0, at = j; i < down; i++, at += across) table[at] += column[i];
            }
        }
        return whole;
    }

    /// <summary>Takes the tables back that were lent; a problem made of them is not to be asked any more.</summary>
    public void TakeBack()
    {
        foreach (var table in _lent) ArrayPool<double>.Shared.Return(table);
        _lent.Clear();
    }

    /// <summary>What a change between two chords costs on a rung.</summary>
    /// <param name="Times">Where the times are kept; null when some values are locked or changes were timed.</param>
    /// <param name="Each">Points a second of the reference player's.</param>
    /// <param name="Late">Points more for each that is late.</param>
    /// <param name="Available">Seconds of the reference player's until it is late.</param>
    /// <param name="Unheard">Points when both chords sound alike.</param>
    private readonly record struct Rate(ChangeTimes? Times, double Each, double Late, double Available, double Unheard);

    private Rate RateOf(ChordStep step, Domain from, Domain to, RungSong song, RungLimits limits, double closenessWeight)
    {
        var (share, slowness) = (step.Count / song.ChangeCount, kind.Pace.Slowness);
        return new Rate(
            from.Tried is { } left && to.Tried is { } reached ? ChangeTimes.Between(cache, left.List, reached.List) : null,
            share * limits.ChangeWeight * W.ChangeSecond * slowness, share * limits.ChangeWeight * W.LateSecond * slowness,
            60 / tempo * hands(limits).FreeBeats(step) / slowness,
            IsHeard(chords[from.Chord], chords[to.Chord])
                ? share * Math.Max(closenessWeight, W.UnheardWeight) * 100 * W.UnheardChange
                : 0);
    }

    /// <summary>Fills in what the changes from one value to each of another chord's cost.</summary>
    private void Fill(Rate rate, Domain from, int index, Domain to, Span<double> row)
    {
        if (rate.Times is { } times) times.Fill(from.Tried!, index, to.Tried!, changes, row);
        else for (var j = 0; j < row.Length; j++) row[j] = Seconds(from.At(pool, index), to.At(pool, j));
        Price(row, rate, to, from.SoundAt(pool, index));
    }

    /// <summary>Fills in what the changes from each value of a chord to one of another's cost.</summary>
    private void FillTo(Rate rate, Domain from, Domain to, int index, Span<double> column)
    {
        if (rate.Times is { } times) times.FillTo(from.Tried!, to.Tried!, index, changes, column);
        else for (var i = 0; i < column.Length; i++) column[i] = Seconds(from.At(pool, i), to.At(pool, index));
        Price(column, rate, from, to.SoundAt(pool, index));
    }

    /// <summary>Turns seconds into points: so many each, so many for each that is late, and those for what nobody
    /// hears.</summary>
    private void Price(Span<double> seconds, Rate rate, Domain varied, int sound)
    {
        var j = 0;
        for (; j <= seconds.Length - Vector<double>.Count; j += Vector<double>.Count)
        {
            var s = new Vector<double>(seconds[j..]);
            (s * rate.Each + Vector.Max(Vector<double>.Zero, s - new Vector<double>(rate.Available)) * rate.Late)
                .CopyTo(seconds[j..]);
        }
        for (; j < seconds.Length; j++)
            seconds[j] = seconds[j] * rate.Each + Math.Max(0, seconds[j] - rate.Available) * rate.Late;
        if (rate.Unheard <= 0) return;
        for (j = 0; j < seconds.Length; j++) if (varied.SoundAt(pool, j) == sound) seconds[j] += rate.Unheard;
    }

    /// <summary>Seconds the reference player needs for a change: by the model, or as this student was timed.</summary>
    private double Seconds(Candidate from, Candidate to) =>
        timed.Seconds(from.Fingering, to.Fingering) / kind.Pace.Slowness ?? changes.Seconds(from.Fingering, to.Fingering);

    /// <summary>True when the record's two chords do not have the same tones.</summary>
    public static bool IsHeard(Chord from, Chord to) => from.PitchClassMask != to.PitchClassMask;
}
