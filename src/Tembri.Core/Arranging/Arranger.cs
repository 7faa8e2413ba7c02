using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>Chooses a shape and a fingering for every chord of a song at one position, exactly. For one thread at a
/// time.</summary>
public sealed class Arranger
{
    /// <summary>Candidates a chord brings to the optimisation at most: those that weigh least on their own.</summary>
    public const int MostCandidates = 40;

    private const int MostSecond = 16;   // ways to play a chord that are tried where a second one may pay
    private static readonly ArrangerWeights W = ArrangerWeights.Default;
    private readonly Func<RungLimits, RungSong> _songOf;
    private readonly int _count;   // chords of the song
    private readonly CandidatePool _pool;
    private readonly ShapePrices _shapePrices;
    private readonly ChangePrices _changePrices;
    private readonly CancellationToken _cancel;
    private readonly Dictionary<ChordFlow, List<ChangePrices.Edge>> _edges = [];
    private (double[] Costs, int[] Values) _scratch = ([], []);

    /// <summary>Prepares a position.</summary>
    /// <param name="cache">Where candidates and times are kept.</param>
    /// <param name="songOf">What each rung plays of the song; all number the chords alike.</param>
    /// <param name="shapeChords">The song's chords at the pitch of the shapes, one for one.</param>
    /// <param name="guards">The flow's guards, one for one.</param>
    /// <param name="kind">The kind of player.</param>
    /// <param name="timed">Changes that were timed.</param>
    /// <param name="capo">The capo's fret.</param>
    /// <param name="accompaniment">Who plays along.</param>
    /// <param name="tempo">Beats a minute.</param>
    /// <param name="hands">What the right hand plays on each rung.</param>
    /// <param name="melody">For each chord the tune over it, as <see cref="Closeness.Of"/> takes it; null when it is not
    /// known.</param>
    /// <param name="wishes">For each chord what the teacher wants; null when she wants nothing.</param>
    /// <param name="cancel">Ends whatever it is doing.</param>
    public Arranger(
        ResultCache cache, Func<RungLimits, RungSong> songOf, IReadOnlyList<Chord> shapeChords, IReadOnlyList<Guard> guards,
        PlayerKind kind, TimedChanges timed, int capo, Accompaniment accompaniment, double tempo,
        Func<RungLimits, RightHand> hands,
        IReadOnlyList<int>? melody = null, IReadOnlyList<ChordWish>? wishes = null, CancellationToken cancel = default)
    {
        (_songOf, _count, _cancel) = (songOf, shapeChords.Count, cancel);
        var (book, finder) = (new FingeringBook(cache, kind.Guitar, kind.Hand, kind.Thumb, capo), new CandidateFinder(cache));
        Changes = new ChangeModel(book.Neck);
        var candidates = new CandidateList[_count];
        for (var i = 0; i < _count; i++)
        {
            cancel.ThrowIfCancellationRequested();
            candidates[i] = finder.ListFor(shapeChords[i], book, accompaniment, kind.Guitar.Strings, melody?[i] ?? 0);
        }
        _pool = new CandidatePool(candidates, shapeChords, guards, wishes);
        _shapePrices = new ShapePrices(_pool, kind);
        _changePrices = new ChangePrices(cache, _pool, Changes, shapeChords, kind, timed, tempo, hands);
    }

    /// <summary>The change model at this position.</summary>
    public ChangeModel Changes { get; }

    /// <summary>True when a rung may play a candidate for a chord.</summary>
    public bool MayPlay(int chordIndex, RungLimits limits, Candidate candidate) =>
        _pool.Open(chordIndex, limits).Any(v => _pool.At(chordIndex, v).SameAs(candidate));

    /// <summary>True when the teacher does not want a candidate on a rung.</summary>
    public bool Refuses(int chordIndex, RungLimits limits, Candidate candidate) => _pool.Refuses(chordIndex, limits, candidate);

    /// <summary>What the teacher wants of a chord; null for nothing.</summary>
    public ChordWish? WishOf(int chordIndex) => _pool.WishOf(chordIndex);

    /// <summary>Every candidate of a chord that its guards allow, and what the teacher wishes for.</summary>
    public IEnumerable<Candidate> CandidatesOf(int chordIndex) => _pool.Of(chordIndex);

    /// <summary>Every candidate of a chord that its guards and at least one of the rungs allow.</summary>
    public IEnumerable<Candidate> CandidatesOf(int chordIndex, IEnumerable<RungLimits> rungs) => _pool.Of(chordIndex, rungs);

    /// <summary>Finds the best arrangement of a rung.</summary>
    /// <param name="limits">What the rung allows.</param>
    /// <param name="closenessWeight">Load points a percent of closeness is worth.</param>
    /// <param name="locks">Candidates the teacher chose, by chord index.</param>
    /// <param name="below">The rung below, when there is one: no chord is less close than there.</param>
    /// <param name="above">The rung above, where it is arranged already: no chord is closer than there.</param>
    /// <returns>The arrangement, or what blocks it.</returns>
    public (Arrangement? Found, Blocked? Blocked) Arrange(
        RungLimits limits, double closenessWeight, IReadOnlyDictionary<int, Candidate>? locks = null, Arrangement? below = null,
        Arrangement? above = null)
    {
        _cancel.ThrowIfCancellationRequested();
        var song = _songOf(limits);
        var domains = new ChangePrices.Domain[_count];
        var costs = new double[_count][];
        for (var i = 0; i < _count; i++)
        {
            int? locked = locks?.GetValueOrDefault(i) is { } hers ? _pool.NumberOfLocked(i, hers) : null;
            // What the rung leaves out needs no shape of its own; it keeps one so that the chords stay numbered alike.
            var open = song.LeavesOut(i) && _pool.ListOf(i).Count > 0 ? new([0])
                : locked is { } one ? new([one])
                : _pool.Open(i, limits, below?.Heard(i), above?.Heard(i));
            if (open.Length == 0) return (null, _pool.Explain(i, limits));
            if (_scratch.Costs.Length < open.Length) _scratch = (new double[open.Length], new int[open.Length]);
            var nodeCosts = _scratch.Costs.AsSpan(0, open.Length);
            var values = _scratch.Values.AsSpan(0, open.Length);
            open.CopyTo(values);
            nodeCosts.Clear();
            if (!song.LeavesOut(i)) _shapePrices.Fill(nodeCosts, values, i, Weight(song, i), limits, closenessWeight, below);
            // The sort is not stable, so equal costs are told apart by a trace of their index.
            for (var v = 0; v < values.Length; v++) nodeCosts[v] += 1e-12 * values[v];
            var kept = Math.Min(MostCandidates, values.Length);
            ShapePrices.Least(nodeCosts, values, kept);
            (domains[i], costs[i]) = (_changePrices.DomainOf(i, values[..kept].ToArray()), nodeCosts[..kept].ToArray());
        }
        var (choice, isProved, cost) = Solve(costs, EdgesOf(song.Flow), domains, song, limits, closenessWeight);
        var choices = choice.Select((v, i) => _pool.At(i, domains[i].Values[v])).ToList();
        return (Weigh(limits, choices, cost)
                with { IsProved = isProved, LeftOut = [.. Enumerable.Range(0, _count).Where(song.LeavesOut)] }, null);
    }

    /// <summary>Adds what the changes cost, and finds the choice of least cost.</summary>
    private (int[] Choice, bool IsProved, double Cost) Solve(double[][] costs, List<ChangePrices.Edge> edges,
        ChangePrices.Domain[] domains, RungSong song, RungLimits limits, double closenessWeight)
    {
        _changePrices.Trim(edges, domains, costs, song, limits, closenessWeight);
        var problem = new PairwiseProblem(costs);
        try
        {
            foreach (var edge in edges)
                problem.AddEdge(edge.A, edge.B,
                    _changePrices.Fill(edge, domains[edge.A], domains[edge.B], song, limits, closenessWeight));
            var (choice, isProved) = ExactOptimiser.Solve(problem, _cancel);
            return (choice, isProved, problem.CostOf(choice));
        }
        finally { _changePrices.TakeBack(); }
    }

    /// <summary>Where another shape or fingering of a chord pays for itself, the shapes of the arrangement given: the best such
    /// set among the likeliest few of each chord, exactly.</summary>
    /// <param name="limits">What the rung allows.</param>
    /// <param name="main">The arrangement; its shapes stay the usual ones.</param>
    /// <param name="locks">Chords the teacher decided on, which keep their one shape.</param>
    public IReadOnlyList<SecondShape> SecondShapes(RungLimits limits, Arrangement main,
        IReadOnlyDictionary<int, Candidate> locks)
    {
        var song = _songOf(limits);
        var places = song.Flow.Sequence.Select((s, i) => (s.Chord, Next: song.Flow.Next(i))).Distinct().GroupBy(p => p.Chord)
            .Where(g => g.Count() > 1 && !locks.ContainsKey(g.Key)).SelectMany(g => g).Order().ToList();
        if (places.Count == 0) return [];
        var split = song.Flow.Split(places);
        int ChordOf(int part) => part < _count ? part : places[part - _count].Chord;
        var domains = new ChangePrices.Domain[split.Chords.Count];
        var costs = new double[split.Chords.Count][];
        for (var part = 0; part < domains.Length; part++)
        {
            var chord = ChordOf(part);
            var usual = main.Choices[chord];
            if (part < _count)
            {
                (domains[part], costs[part]) = (_changePrices.DomainOf(chord, [_pool.NumberOf(chord, usual)]), [0]);
                continue;
            }
            int[] values = [_pool.NumberOf(chord, usual),
                .. _pool.Open(chord, limits)
                    .Where(v => !_pool.At(chord, v).SameAs(usual) && (limits.IsRecord || limits.Allows(_pool.At(chord, v))))];
            var prices = new double[values.Length];
            _shapePrices.Fill(prices, values, chord, (1 - W.EvenShare) * split.Beats[part] / Math.Max(1, split.TotalBeats),
                limits, limits.ClosenessWeight, null);
            for (var v = 1; v < values.Length; v++)
                prices[v] += _pool.At(chord, values[v]).Fingering.Shape.Equals(usual.Fingering.Shape)
                    ? W.SecondFingering
                    : W.SecondShape;
            var kept = Math.Min(MostSecond, values.Length);
            ShapePrices.Least(prices.AsSpan(1), values.AsSpan(1), kept - 1);
            (domains[part], costs[part]) = (_changePrices.DomainOf(chord, values[..kept]), prices[..kept]);
        }
        var (choice, _, _) = Solve(costs, ChangePrices.EdgesOf(split), domains, song, limits, limits.ClosenessWeight);
        return [.. places.Select(
            (p, i) => new SecondShape(p.Chord, p.Next, _pool.At(p.Chord, domains[_count + i].Values[choice[_count + i]])))
            .Where(s => !s.Choice.SameAs(main.Choices[s.ChordIndex]))];
    }

    /// <summary>What one chord costs on a rung among the others, in the sum that is minimised: its shape, and the changes from
    /// and to it.</summary>
    /// <param name="limits">The rung.</param>
    /// <param name="choices">For each chord of the song.</param>
    /// <param name="chord">The chord.</param>
    /// <param name="below">The rung below, when the hand knows its shapes.</param>
    /// <returns>Load points.</returns>
    public double CostOf(RungLimits limits, IReadOnlyList<Candidate> choices, int chord, Arrangement? below)
    {
        var song = _songOf(limits);
        ChangePrices.Domain Only(int i) => _changePrices.DomainOf(i, [_pool.NumberOf(i, choices[i])]);
        Span<double> cost = [0];
        _shapePrices.Fill(cost, Only(chord).Values, chord, Weight(song, chord), limits, limits.ClosenessWeight, below);
        try
        {
            foreach (var edge in EdgesOf(song.Flow))
                if (edge.A == chord || edge.B == chord)
                    cost[0] += _changePrices.Fill(edge, Only(edge.A), Only(edge.B), song, limits, limits.ClosenessWeight)[0];
        }
        finally { _changePrices.TakeBack(); }
        return cost[0];
    }

    private List<ChangePrices.Edge> EdgesOf(ChordFlow flow) =>
        _edges.TryGetValue(flow, out var edges) ? edges : _edges[flow] = ChangePrices.EdgesOf(flow);

    /// <summary>Load and closeness of given choices.</summary>
    /// <param name="limits">The rung.</param>
    /// <param name="choices">For each chord of the flow.</param>
    /// <param name="objective">The sum that was minimised.</param>
    /// <param name="flow">The rung's flow, when it is split; null for the flow as it is.</param>
    public Arrangement Weigh(RungLimits limits, IReadOnlyList<Candidate> choices, double objective, ChordFlow? flow = null)
    {
        var song = _songOf(limits);
        flow ??= song.Flow;
        double load = 0, closeness = 0, unheard = 0;
        for (var i = 0; i < choices.Count; i++)
        {
            var share = flow.TotalBeats > 0 ? flow.Beats[i] / flow.TotalBeats : 1.0 / choices.Count;
            load += share * choices[i].Load;
            closeness += share * choices[i].Closeness.Value;
        }
        foreach (var step in flow.Steps)
            if (choices[step.From].Sound == choices[step.To].Sound
                && ChangePrices.IsHeard(flow.Chords[step.From], flow.Chords[step.To]))
                unheard += step.Count;
        // Shares may add up to a hair above 1.
        return new Arrangement(choices, objective, load,
            Math.Min(1, closeness * song.Kept * (1 - W.UnheardChange * unheard / song.ChangeCount)));
    }

    private double Weight(RungSong song, int chord) => W.EvenShare / _count + (1 - W.EvenShare) * song.Share(chord);
}
