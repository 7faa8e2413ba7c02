using Tembri.Core.Chords;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>What can be played for each chord of a song at one place: the candidates, numbered, and after them those a teacher locked. For one thread at a time.</summary>
/// <param name="candidates">The candidates of each chord.</param>
/// <param name="guards">What the chart forbids for each chord.</param>
internal sealed class CandidatePool(CandidateList[] candidates, IReadOnlyList<Guard> guards)
{
    private static readonly ArrangerWeights W = ArrangerWeights.Default;
    private readonly List<Candidate>[] _locked = [.. candidates.Select(_ => new List<Candidate>())];
    private readonly Dictionary<(int Chord, int Rung), int[]> _open = [];

    /// <summary>Chords of the song.</summary>
    public int Count => candidates.Length;

    /// <summary>The numbered candidates of a chord, without the locked ones.</summary>
    public CandidateList ListOf(int chord) => candidates[chord];

    /// <summary>What the chart forbids for a chord.</summary>
    public Guard GuardOf(int chord) => guards[chord];

    /// <summary>Every candidate of a chord that its guards allow.</summary>
    public IEnumerable<Candidate> Of(int chord) => candidates[chord].Where(c => Allowed(c, guards[chord])).Concat(_locked[chord]);

    /// <summary>Every candidate of a chord that its guards and at least one of the rungs allow.</summary>
    public IEnumerable<Candidate> Of(int chord, IEnumerable<RungLimits> rungs) =>
        rungs.SelectMany(r => candidates[chord].Open(r)).Distinct().Select(v => candidates[chord][v]).Where(c => Allowed(c, guards[chord])).Concat(_locked[chord]);

    /// <summary>The candidate a number stands for.</summary>
    public Candidate At(int chord, int value) => value < candidates[chord].Count ? candidates[chord][value] : _locked[chord][value - candidates[chord].Count];

    private static bool Allowed(Candidate c, Guard guard)
    {
        if (guard.NoSuspension && c.Played.IsSuspended) return false;
        if (guard.KeepsThird && (c.Played.Has(11) || c.Closeness.Missing.Any(d => d.Role == DegreeRole.ThirdOrSuspension))) return false;
        return true;
    }

    /// <summary>The numbers of the candidates a rung allows, in the list's order.</summary>
    public int[] Open(int chord, RungLimits limits)
    {
        if (_open.TryGetValue((chord, limits.Number), out var known)) return known;
        var (list, guard) = (candidates[chord], guards[chord]);
        var open = list.Open(limits);
        if (guard.NoSuspension || guard.KeepsThird) open = Array.FindAll(open, v => Allowed(list[v], guard));
        // The record rung plays a chord that this hand cannot do in full as nearly as it can.
        if (open.Length == 0 && limits.IsRecord)
        {
            int[] possible = [.. Enumerable.Range(0, list.Count).Where(v => Allowed(list[v], guard))];
            var nearest = possible.Select(v => list[v].Closeness.Value).DefaultIfEmpty().Max();
            open = Array.FindAll(possible, v => list[v].Closeness.Value >= nearest - W.NearEnough);
        }
        return _open[(chord, limits.Number)] = open;
    }

    /// <summary>The number of a locked candidate, which joins the chord's list when it is not there yet.</summary>
    public int NumberOfLocked(int chord, Candidate locked)
    {
        var list = _locked[chord];
        var known = list.FindIndex(c => c.SameAs(locked));
        if (known < 0)
        {
            list.Add(locked);
            known = list.Count - 1;
        }
        return candidates[chord].Count + known;
    }

    /// <summary>The number of any candidate.</summary>
    public int NumberOf(int chord, Candidate candidate)
    {
        for (var v = 0; v < candidates[chord].Count; v++) if (candidates[chord][v].SameAs(candidate)) return v;
        return NumberOfLocked(chord, candidate);
    }

    /// <summary>Why a rung allows nothing for a chord.</summary>
    public Blocked Explain(int chord, RungLimits limits)
    {
        var nearest = Of(chord).OrderByDescending(c => c.Closeness.Value - c.Load / 200).FirstOrDefault();
        return new Blocked(chord, nearest is not null && limits.Objection(nearest) is { } broken ? (nearest, broken) : null);
    }
}
