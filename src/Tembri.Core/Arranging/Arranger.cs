using System.Numerics;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>Chooses a shape and a fingering for every chord of a song at one position, exactly. For one thread at a time.</summary>
public sealed class Arranger
{
    private static readonly ArrangerWeights W = ArrangerWeights.Default;
    private readonly Func<RungLimits, RungSong> _songOf;
    private readonly IReadOnlyList<Chord> _chords;
    private readonly IReadOnlyList<Guard> _guards;
    private readonly PlayerKind _kind;
    private readonly TimedChanges _timed;
    private readonly ResultCache _cache;
    private readonly CancellationToken _cancel;
    private readonly double _tempo;
    private readonly Meter _meter;
    private readonly CandidateList[] _candidates;
    private readonly List<Candidate>[] _locked;   // numbered after the candidates of the chord
    private readonly Dictionary<(int Chord, int Rung), int[]> _open = [];
    private readonly Dictionary<ChordFlow, List<Edge>> _edges = [];
    private readonly Dictionary<int, StrumPattern> _strums = [];
    private readonly List<double[]> _tables = [];
    private (double[] Costs, int[] Values) _scratch = ([], []);

    private readonly record struct Edge(int A, int B, ChordStep? Forward, ChordStep? Backward);

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
    /// <param name="meter">The song's meter.</param>
    /// <param name="melody">For each chord the tune over it, as <see cref="Closeness.Of"/> takes it; null when it is not known.</param>
    /// <param name="cancel">Ends whatever it is doing.</param>
    public Arranger(
        ResultCache cache, Func<RungLimits, RungSong> songOf, IReadOnlyList<Chord> shapeChords, IReadOnlyList<Guard> guards, PlayerKind kind, TimedChanges timed, int capo, Accompaniment accompaniment, double tempo, Meter meter,
        IReadOnlyList<int>? melody = null, CancellationToken cancel = default)
    {
        (_cache, _cancel) = (cache, cancel);
        (_songOf, _chords, _guards, _kind, _timed, _tempo, _meter) = (songOf, shapeChords, guards, kind, timed, tempo, meter);
        var (book, finder) = (new FingeringBook(cache, kind.Guitar, kind.Hand, kind.Thumb, capo), new CandidateFinder(cache));
        Changes = new ChangeModel(book.Neck);
        _candidates = new CandidateList[shapeChords.Count];
        for (var i = 0; i < shapeChords.Count; i++)
        {
            cancel.ThrowIfCancellationRequested();
            _candidates[i] = finder.ListFor(shapeChords[i], book, accompaniment, Tuning.Standard, melody?[i] ?? 0);
        }
        _locked = [.. shapeChords.Select(_ => new List<Candidate>())];
    }

    /// <summary>The change model at this position.</summary>
    public ChangeModel Changes { get; }

    /// <summary>Every candidate of a chord that its guards allow.</summary>
    public IEnumerable<Candidate> CandidatesOf(int chordIndex) => _candidates[chordIndex].Where(c => Allowed(c, _guards[chordIndex])).Concat(_locked[chordIndex]);

    /// <summary>Every candidate of a chord that its guards and at least one of the rungs allow.</summary>
    public IEnumerable<Candidate> CandidatesOf(int chordIndex, IEnumerable<RungLimits> rungs) =>
        rungs.SelectMany(r => _candidates[chordIndex].Open(r)).Distinct().Select(v => _candidates[chordIndex][v]).Where(c => Allowed(c, _guards[chordIndex])).Concat(_locked[chordIndex]);

    private Candidate CandidateAt(int chord, int value) => value < _candidates[chord].Count ? _candidates[chord][value] : _locked[chord][value - _candidates[chord].Count];

    private static bool Allowed(Candidate c, Guard guard)
    {
        if (guard.NoSuspension && c.Played.IsSuspended) return false;
        if (guard.KeepsThird && (c.Played.Has(11) || c.Closeness.Missing.Any(d => d.Role == DegreeRole.ThirdOrSuspension))) return false;
        return true;
    }

    /// <summary>Finds the best arrangement of a rung.</summary>
    /// <param name="limits">What the rung allows.</param>
    /// <param name="closenessWeight">Load points a percent of closeness is worth.</param>
    /// <param name="locks">Candidates the teacher chose, by chord index.</param>
    /// <param name="below">The rung below, when there is one.</param>
    /// <returns>The arrangement, or what blocks it.</returns>
    public (Arrangement? Found, Blocked? Blocked) Arrange(
        RungLimits limits, double closenessWeight, IReadOnlyDictionary<int, Candidate>? locks = null, Arrangement? below = null)
    {
        _cancel.ThrowIfCancellationRequested();
        var count = _chords.Count;
        var song = _songOf(limits);
        var domains = new int[count][];
        var costs = new double[count][];
        for (var i = 0; i < count; i++)
        {
            var open = locks is not null && locks.TryGetValue(i, out var locked) ? [IndexOf(i, locked)] : Open(i, limits);
            // What the rung leaves out needs no shape of its own; it keeps one so that the chords stay numbered alike.
            if (song.LeavesOut(i) && _candidates[i].Count > 0) open = [0];
            if (open.Length == 0) return (null, Explain(i, limits));
            if (_scratch.Costs.Length < open.Length) _scratch = (new double[open.Length], new int[open.Length]);
            var nodeCosts = _scratch.Costs.AsSpan(0, open.Length);
            var values = _scratch.Values.AsSpan(0, open.Length);
            open.CopyTo(values);
            nodeCosts.Clear();
            if (!song.LeavesOut(i)) FillNodeCosts(nodeCosts, values, i, Weight(song, i), limits, closenessWeight, below);
            // The sort is not stable, so equal costs are told apart by a trace of their index.
            for (var v = 0; v < values.Length; v++) nodeCosts[v] += 1e-12 * values[v];
            var kept = Math.Min(MostCandidates, values.Length);
            Least(nodeCosts, values, kept);
            (domains[i], costs[i]) = (values[..kept].ToArray(), nodeCosts[..kept].ToArray());
        }
        var problem = new PairwiseProblem(costs);
        if (!_edges.TryGetValue(song.Flow, out var edges)) _edges[song.Flow] = edges = FindEdges(song.Flow);
        foreach (var edge in edges) problem.AddEdge(edge.A, edge.B, EdgeCosts(problem.Edges.Count, edge, (edge.A, domains[edge.A]), (edge.B, domains[edge.B]), song.ChangeCount, limits, closenessWeight));
        var (choice, isProved) = ExactOptimiser.Solve(problem, _cancel);
        var choices = choice.Select((v, i) => CandidateAt(i, domains[i][v])).ToList();
        return (Weigh(limits, choices, problem.CostOf(choice)) with { IsProved = isProved }, null);
    }

    /// <summary>Brings the least costs to the front, in order, with their values.</summary>
    private static void Least(Span<double> costs, Span<int> values, int count)
    {
        // Quickselect (Hoare 1961) before the sort: most of the list need not be ordered.
        var (low, high) = (0, costs.Length - 1);
        while (low < high && count < costs.Length)
        {
            var pivot = costs[(low + high) / 2];
            var (i, j) = (low, high);
            while (i <= j)
            {
                while (costs[i] < pivot) i++;
                while (costs[j] > pivot) j--;
                if (i > j) break;
                (costs[i], costs[j]) = (costs[j], costs[i]);
                (values[i], values[j]) = (values[j], values[i]);
                i++;
                j--;
            }
            if (count - 1 <= j) high = j;
            else if (count - 1 >= i) low = i;
            else break;
        }
        costs[..count].Sort(values[..count]);
    }

    private int[] Open(int chord, RungLimits limits)
    {
        if (_open.TryGetValue((chord, limits.Number), out var known)) return known;
        var (candidates, guard) = (_candidates[chord], _guards[chord]);
        var open = candidates.Open(limits);
        if (guard.NoSuspension || guard.KeepsThird) open = Array.FindAll(open, v => Allowed(candidates[v], guard));
        // The record rung plays a chord that this hand cannot do in full as nearly as it can.
        if (open.Length == 0 && limits.IsRecord)
        {
            int[] possible = [.. Enumerable.Range(0, candidates.Count).Where(v => Allowed(candidates[v], guard))];
            var nearest = possible.Select(v => candidates[v].Closeness.Value).DefaultIfEmpty().Max();
            open = Array.FindAll(possible, v => candidates[v].Closeness.Value >= nearest - W.NearEnough);
        }
        return _open[(chord, limits.Number)] = open;
    }

    /// <summary>The index of a locked candidate, which joins the chord's list when it is not there yet.</summary>
    private int IndexOf(int chord, Candidate locked)
    {
        var list = _locked[chord];
        var known = list.FindIndex(c => c.SameAs(locked));
        if (known < 0)
        {
            list.Add(locked);
            known = list.Count - 1;
        }
        return _candidates[chord].Count + known;
    }

    /// <summary>Where another shape or fingering of a chord pays for itself, the shapes of the arrangement given: the best such set among the likeliest few of each chord, exactly.</summary>
    /// <param name="limits">What the rung allows.</param>
    /// <param name="main">The arrangement; its shapes stay the usual ones.</param>
    /// <param name="locks">Chords the teacher decided on, which keep their one shape.</param>
    public IReadOnlyList<SecondShape> SecondShapes(RungLimits limits, Arrangement main, IReadOnlyDictionary<int, Candidate> locks)
    {
        var song = _songOf(limits);
        var places = song.Flow.Sequence.Select((s, i) => (s.Chord, Next: song.Flow.Next(i))).Distinct().GroupBy(p => p.Chord)
            .Where(g => g.Count() > 1 && !locks.ContainsKey(g.Key)).SelectMany(g => g).Order().ToList();
        if (places.Count == 0) return [];
        var split = song.Flow.Split(places);
        int ChordOf(int part) => part < _chords.Count ? part : places[part - _chords.Count].Chord;
        var domains = new int[split.Chords.Count][];
        var costs = new double[split.Chords.Count][];
        for (var part = 0; part < domains.Length; part++)
        {
            var chord = ChordOf(part);
            var usual = main.Choices[chord];
            if (part < _chords.Count)
            {
                (domains[part], costs[part]) = ([ValueOf(chord, usual)], [0]);
                continue;
            }
            int[] values = [ValueOf(chord, usual), .. Open(chord, limits).Where(v => !CandidateAt(chord, v).SameAs(usual))];
            var prices = new double[values.Length];
            FillNodeCosts(prices, values, chord, (1 - W.EvenShare) * split.Beats[part] / Math.Max(1, split.TotalBeats), limits, limits.ClosenessWeight, null);
            for (var v = 1; v < values.Length; v++)
                prices[v] += CandidateAt(chord, values[v]).Fingering.Shape.Equals(usual.Fingering.Shape) ? W.SecondFingering : W.SecondShape;
            Array.Sort(prices, values, 1, values.Length - 1);
            var kept = Math.Min(MostSecond, values.Length);
            (domains[part], costs[part]) = (values[..kept], prices[..kept]);
        }
        var problem = new PairwiseProblem(costs);
        foreach (var edge in FindEdges(split))
            problem.AddEdge(edge.A, edge.B, EdgeCosts(problem.Edges.Count, edge, (ChordOf(edge.A), domains[edge.A]), (ChordOf(edge.B), domains[edge.B]), song.ChangeCount, limits, limits.ClosenessWeight));
        var (choice, _) = ExactOptimiser.Solve(problem, _cancel);
        return [.. places.Select((p, i) => new SecondShape(p.Chord, p.Next, CandidateAt(p.Chord, domains[_chords.Count + i][choice[_chords.Count + i]])))
            .Where(s => !s.Choice.SameAs(main.Choices[s.ChordIndex]))];
    }

    private int ValueOf(int chord, Candidate candidate)
    {
        for (var v = 0; v < _candidates[chord].Count; v++) if (_candidates[chord][v].SameAs(candidate)) return v;
        return IndexOf(chord, candidate);
    }

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
            if (choices[step.From].Fingering.Shape.Equals(choices[step.To].Fingering.Shape) && IsHeard(flow.Chords[step.From], flow.Chords[step.To])) unheard += step.Count;
        // Shares may add up to a hair above 1.
        return new Arrangement(choices, objective, load, Math.Min(1, closeness * song.Kept * (1 - W.UnheardChange * unheard / song.ChangeCount)));
    }

    /// <summary>True when the record's two chords do not have the same tones.</summary>
    private static bool IsHeard(Chord from, Chord to) => from.PitchClassMask != to.PitchClassMask;

    private double Weight(RungSong song, int chord) => W.EvenShare / _chords.Count + (1 - W.EvenShare) * song.Share(chord);

    private void FillNodeCosts(Span<double> costs, ReadOnlySpan<int> values, int chord, double weight, RungLimits limits, double closenessWeight, Arrangement? below)
    {
        var list = _candidates[chord];
        var known = below?.Choices[chord];
        // A barre that a student wants to avoid weighs more; one she seeks, less.
        var barre = limits.IsRecord ? 0 : _kind.Barres switch { BarreGoal.Avoid => W.BarreAvoided, BarreGoal.Seek => W.BarreSought, _ => 0 };
        var stepwise = _guards[chord].StepwiseBass;
        for (var i = 0; i < costs.Length; i++)
        {
            var v = values[i];
            var c = CandidateAt(chord, v);
            var points = v < list.Count
                ? list.Load[v] + closenessWeight * list.Lost[v] + list.Idiom[v] * limits.IdiomWeight
                : c.Load + closenessWeight * 100 * (1 - c.Closeness.Value);
            if (stepwise && c.Closeness.WrongBass) points += W.BrokenBassLine;
            if (known is not null && !c.SameAs(known)) points += W.Newness;
            if (barre != 0 && c.Fingering.LongestBarre > Barre.LongestShort) points += barre;
            costs[i] = weight * points;
        }
    }

    /// <summary>Fills the table of an edge; the table is used again for the next problem.</summary>
    private double[] EdgeCosts(int number, Edge edge, (int Chord, int[] Values) a, (int Chord, int[] Values) b, double changeCount, RungLimits limits, double closenessWeight)
    {
        while (_tables.Count <= number) _tables.Add([]);
        var size = a.Values.Length * b.Values.Length;
        if (_tables[number].Length < size) _tables[number] = new double[size];
        var table = _tables[number].AsSpan(0, size);
        if (edge.Forward is null) table.Clear();
        if (edge.Forward is { } forward) AddStep(forward, a, b, changeCount, limits, closenessWeight, table, (b.Values.Length, 1), isFirst: true);
        if (edge.Backward is { } backward) AddStep(backward, b, a, changeCount, limits, closenessWeight, table, (1, b.Values.Length), isFirst: false);
        return _tables[number];
    }

    private void AddStep(
        ChordStep step, (int Chord, int[] Values) from, (int Chord, int[] Values) to, double changeCount, RungLimits limits, double closenessWeight, Span<double> table, (int From, int To) stride, bool isFirst)
    {
        var available = Available(step, limits.Number);
        var share = step.Count / changeCount;
        var slowness = _kind.Pace.Slowness;
        var (perSecond, perLateSecond) = (share * limits.ChangeWeight * W.ChangeSecond, share * limits.ChangeWeight * W.LateSecond);
        var unheard = IsHeard(_chords[from.Chord], _chords[to.Chord]) ? share * closenessWeight * 100 * W.UnheardChange : 0;
        var (fromList, toList) = (_candidates[from.Chord], _candidates[to.Chord]);
        var plain = _timed.IsEmpty && Array.TrueForAll(from.Values, v => v < fromList.Count) && Array.TrueForAll(to.Values, v => v < toList.Count);
        if (!plain)
        {
            for (var i = 0; i < from.Values.Length; i++)
                for (var j = 0; j < to.Values.Length; j++)
                {
                    var (a, b) = (CandidateAt(from.Chord, from.Values[i]), CandidateAt(to.Chord, to.Values[j]));
                    var needed = Needed(a, b, slowness);
                    var points = perSecond * needed + perLateSecond * Math.Max(0, needed - available) + (a.Fingering.Shape.Equals(b.Fingering.Shape) ? unheard : 0);
                    var at = i * stride.From + j * stride.To;
                    table[at] = isFirst ? points : table[at] + points;
                }
            return;
        }
        var times = ChangeTimes.Between(_cache, fromList, toList);
        var values = to.Values;
        var tried = (From: new ChangeTimes.Tried(fromList, from.Values, fromList.SlotsOf(from.Values)), To: new ChangeTimes.Tried(toList, values, toList.SlotsOf(values)));
        Span<double> row = stackalloc double[values.Length];
        for (var i = 0; i < from.Values.Length; i++)
        {
            times.Fill(tried.From, i, tried.To, Changes, row);
            Price(row, perSecond * slowness, perLateSecond * slowness, available / slowness);
            if (unheard > 0)
            {
                var shape = fromList.ShapeCode[from.Values[i]];
                for (var j = 0; j < values.Length; j++) if (toList.ShapeCode[values[j]] == shape) row[j] += unheard;
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
    private double Needed(Candidate from, Candidate to, double slowness) => _timed.Seconds(from.Fingering, to.Fingering) ?? Changes.Seconds(from.Fingering, to.Fingering) * slowness;

    private static List<Edge> FindEdges(ChordFlow flow)
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

    /// <summary>Seconds there are for a change at a rung's strum.</summary>
    public double Available(ChordStep step, int rung, double? tempo = null)
    {
        if (!_strums.TryGetValue(rung, out var strum)) _strums[rung] = strum = StrumPattern.For(_meter.Beats, rung, _meter.IsCompound);
        return strum.AvailableSeconds(tempo ?? _tempo, step.ShortestBeats);
    }

    private const int MostSecond = 16;   // ways to play a chord that are tried where a second one may pay

    /// <summary>Candidates a chord brings to the optimisation at most: those that weigh least on their own.</summary>
    public const int MostCandidates = 40;

    private Blocked Explain(int chord, RungLimits limits)
    {
        var nearest = CandidatesOf(chord).OrderByDescending(c => c.Closeness.Value - c.Load / 200).FirstOrDefault();
        return new Blocked(chord, nearest is not null && limits.Objection(nearest) is { } broken ? (nearest, broken) : null);
    }
}
