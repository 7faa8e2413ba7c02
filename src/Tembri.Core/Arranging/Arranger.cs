using System.Runtime.InteropServices;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Swaps;

namespace Tembri.Core.Arranging;

/// <summary>Weights of the arranger's sum, in load points.</summary>
public static class ArrangerWeights
{
    /// <summary>Per second a change takes, so that parked and guide fingers are preferred.</summary>
    public const double ChangeSecond = 12;

    /// <summary>Per second a change is late.</summary>
    public const double LateSecond = 60;

    /// <summary>For a chord whose shape differs from the rung below.</summary>
    public const double Newness = 3.0;

    /// <summary>For leaving off a bass that moves by step.</summary>
    public const double BrokenBassLine = 5;

    /// <summary>Share of a chord's weight that every chord has alike, however short it is.</summary>
    public const double EvenShare = 0.4;
}

/// <summary>One rung at one position: a candidate for every chord.</summary>
/// <param name="Choices">For each chord of the flow.</param>
/// <param name="Objective">The sum that was minimised, in load points.</param>
/// <param name="Load">Time-weighted mean load, 0 to 100.</param>
/// <param name="Closeness">Time-weighted mean closeness, 0 to 1.</param>
public sealed record Arrangement(IReadOnlyList<Candidate> Choices, double Objective, double Load, double Closeness)
{
    /// <summary>True when every chord is played alike.</summary>
    public bool SameAs(Arrangement other) => Choices.Zip(other.Choices).All(p => p.First.SameAs(p.Second));
}

/// <summary>Why a rung cannot be arranged at a position.</summary>
/// <param name="ChordIndex">The chord that blocks it.</param>
/// <param name="Words">What would be needed.</param>
public sealed record Blocked(int ChordIndex, string Words);

/// <summary>Chooses a shape and a fingering for every chord of a song at one position, exactly.</summary>
public sealed class Arranger
{
    private readonly Func<RungLimits, RungSong> _songOf;
    private readonly IReadOnlyList<Chord> _chords;
    private readonly IReadOnlyList<Guard> _guards;
    private readonly Player _player;
    private readonly FingeringBook _book;
    private readonly double _tempo;
    private readonly Meter _meter;
    private readonly CandidateList[] _candidates;
    private readonly List<Candidate>[] _locked;   // numbered after the candidates of the chord
    private readonly Dictionary<(int Chord, int Rung), int[]> _open = [];
    private readonly Dictionary<ChordFlow, List<Edge>> _edges = [];

    private readonly record struct Edge(int A, int B, ChordStep? Forward, ChordStep? Backward);

    /// <summary>Prepares a position.</summary>
    /// <param name="songOf">What each rung plays of the song; all number the chords alike.</param>
    /// <param name="shapeChords">The song's chords at the pitch of the shapes, one for one.</param>
    /// <param name="guards">The flow's guards, one for one.</param>
    /// <param name="player">The student.</param>
    /// <param name="capo">The capo's fret.</param>
    /// <param name="company">Who plays along.</param>
    /// <param name="tempo">Beats a minute.</param>
    /// <param name="meter">The song's meter.</param>
    public Arranger(Func<RungLimits, RungSong> songOf, IReadOnlyList<Chord> shapeChords, IReadOnlyList<Guard> guards, Player player, int capo, Company company, double tempo, Meter meter)
    {
        (_songOf, _chords, _guards, _player, _tempo, _meter) = (songOf, shapeChords, guards, player, tempo, meter);
        _book = FingeringBook.For(player.Guitar, player.Hand, player.Thumb, capo);
        Changes = new ChangeModel(_book.Neck);
        _candidates = [.. shapeChords.Select(chord => CandidateFinder.ListFor(chord, _book, company, Tuning.Standard))];
        _locked = [.. shapeChords.Select(_ => new List<Candidate>())];
    }

    /// <summary>The change model at this position.</summary>
    public ChangeModel Changes { get; }

    /// <summary>Every candidate of a chord that its guards allow.</summary>
    public IEnumerable<Candidate> CandidatesOf(int chordIndex) => _candidates[chordIndex].Where(c => Allowed(c, _guards[chordIndex])).Concat(_locked[chordIndex]);

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
            var values = (int[])open.Clone();
            var nodeCosts = new double[values.Length];
            if (!song.LeavesOut(i)) FillNodeCosts(nodeCosts, values, song, i, limits, closenessWeight, below);
            // The sort is not stable, so equal costs are told apart by a trace of their index.
            for (var v = 0; v < values.Length; v++) nodeCosts[v] += 1e-12 * values[v];
            Array.Sort(nodeCosts, values);
            var kept = Math.Min(MostCandidates, values.Length);
            (domains[i], costs[i]) = (values[..kept], nodeCosts[..kept]);
        }
        var problem = new PairwiseProblem(costs);
        if (!_edges.TryGetValue(song.Flow, out var edges)) _edges[song.Flow] = edges = FindEdges(song.Flow);
        foreach (var edge in edges) problem.AddEdge(edge.A, edge.B, EdgeCosts(song, edge, domains[edge.A], domains[edge.B], limits));
        var choice = ExactOptimiser.Solve(problem);
        return (Weigh(limits, [.. choice.Select((v, i) => CandidateAt(i, domains[i][v]))], problem.CostOf(choice)), null);
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
            open = Array.FindAll(possible, v => candidates[v].Closeness.Value >= nearest - NearEnough);
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

    /// <summary>Load and closeness of given choices.</summary>
    public Arrangement Weigh(RungLimits limits, IReadOnlyList<Candidate> choices, double objective)
    {
        var song = _songOf(limits);
        double load = 0, closeness = 0;
        for (var i = 0; i < choices.Count; i++)
        {
            load += song.Share(i) * choices[i].Load;
            closeness += song.Share(i) * choices[i].Closeness.Value;
        }
        return new Arrangement(choices, objective, load, Math.Min(1, closeness * song.Kept)); // shares may add up to a hair above 1
    }

    private void FillNodeCosts(Span<double> costs, ReadOnlySpan<int> values, RungSong song, int chord, RungLimits limits, double closenessWeight, Arrangement? below)
    {
        var list = _candidates[chord];
        var weight = ArrangerWeights.EvenShare / _chords.Count + (1 - ArrangerWeights.EvenShare) * song.Share(chord);
        var known = below?.Choices[chord];
        // A barre that a student wants to avoid weighs more; one she seeks, less.
        var barre = limits.IsRecord ? 0 : _player.Barres switch { BarreGoal.Avoid => 10, BarreGoal.Seek => -6, _ => 0 };
        var stepwise = _guards[chord].StepwiseBass;
        for (var i = 0; i < costs.Length; i++)
        {
            var v = values[i];
            var c = CandidateAt(chord, v);
            var points = v < list.Count
                ? list.Load[v] + closenessWeight * list.Lost[v] + list.Idiom[v] * limits.IdiomWeight
                : c.Load + closenessWeight * 100 * (1 - c.Closeness.Value);
            if (stepwise && c.Closeness.WrongBass) points += ArrangerWeights.BrokenBassLine;
            if (known is not null && !c.SameAs(known)) points += ArrangerWeights.Newness;
            if (barre != 0 && c.Fingering.LongestBarre > Barre.LongestShort) points += barre;
            costs[i] = weight * points;
        }
    }

    private double[,] EdgeCosts(RungSong song, Edge edge, int[] domainA, int[] domainB, RungLimits limits)
    {
        var table = new double[domainA.Length, domainB.Length];
        var flat = MemoryMarshal.CreateSpan(ref table[0, 0], table.Length);
        if (edge.Forward is { } forward) AddStep(song, forward, domainA, domainB, limits, flat, (domainB.Length, 1));
        if (edge.Backward is { } backward) AddStep(song, backward, domainB, domainA, limits, flat, (1, domainB.Length));
        return table;
    }

    private void AddStep(RungSong song, ChordStep step, int[] from, int[] to, RungLimits limits, Span<double> table, (int From, int To) stride)
    {
        var available = Available(step, limits.Number);
        var share = step.Count / song.ChangeCount * limits.ChangeWeight;
        var (perSecond, perLateSecond, slowness) = (share * ArrangerWeights.ChangeSecond, share * ArrangerWeights.LateSecond, _player.ChangeSlowness);
        var (fromList, toList) = (_candidates[step.From], _candidates[step.To]);
        var times = ChangeTimes.Between(fromList, toList);
        var plain = _player.CleanChangesAMinute.Count == 0 && from[0] < fromList.Count && to[0] < toList.Count; // a locked one is alone in its domain
        for (var i = 0; i < from.Length; i++)
        {
            var row = plain ? times.From(from[i], to, Changes) : default;
            var at = i * stride.From;
            for (var j = 0; j < to.Length; j++, at += stride.To)
            {
                var needed = plain ? row[to[j]] * slowness : Needed(CandidateAt(step.From, from[i]), CandidateAt(step.To, to[j]), slowness);
                table[at] += perSecond * needed + perLateSecond * Math.Max(0, needed - available);
            }
        }
    }

    /// <summary>Seconds this student needs for a change: as timed, or by the model.</summary>
    private double Needed(Candidate from, Candidate to, double slowness) => _player.Measured(from.Fingering, to.Fingering) ?? Changes.Seconds(from.Fingering, to.Fingering) * slowness;

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
    public double Available(ChordStep step, int rung, double? tempo = null) =>
        StrumPattern.For(_meter.Beats, rung, _meter.IsCompound).AvailableSeconds(tempo ?? _tempo, step.ShortestBeats);

    private const double NearEnough = 0.03;

    /// <summary>Candidates a chord brings to the optimisation at most: those that weigh least on their own.</summary>
    public const int MostCandidates = 40;

    private Blocked Explain(int chord, RungLimits limits)
    {
        var nearest = CandidatesOf(chord).Select(c => (c, Why: limits.Objection(c)!))
            .OrderByDescending(x => x.c.Closeness.Value - x.c.Load / 200).FirstOrDefault();
        var words = nearest.c is null
            ? $"no shape of {_chords[chord].Name} fits this hand here; another capo position may"
            : $"the nearest shape of {_chords[chord].Name}, {nearest.c.Fingering.Shape}, {nearest.Why}";
        return new Blocked(chord, words);
    }
}
