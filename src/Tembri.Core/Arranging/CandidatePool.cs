using Tembri.Core.Chords;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>What can be played for each chord of a song at one place: the candidates, numbered, and after them those a teacher
/// locked. For one thread at a time.</summary>
/// <param name="candidates">The candidates of each chord.</param>
/// <param name="chords">The chords, at the pitch of the shapes.</param>
/// <param name="guards">What the chart forbids for each chord.</param>
/// <param name="wishes">What the teacher wants of each chord; null when she wants nothing.</param>
internal sealed class CandidatePool(CandidateList[] candidates, IReadOnlyList<Chord> chords, IReadOnlyList<Guard> guards,
    IReadOnlyList<ChordWish>? wishes = null)
{
    private readonly List<Candidate>[] _locked = [.. candidates.Select(_ => new List<Candidate>())];
    private readonly Dictionary<(int Chord, int Rung), int[]> _open = [];
    private int[] _between = [];

    /// <summary>Chords of the song.</summary>
    public int Count => candidates.Length;

    /// <summary>The numbered candidates of a chord, without the locked ones.</summary>
    public CandidateList ListOf(int chord) => candidates[chord];

    /// <summary>Every candidate of a chord that its guards allow, and what the teacher wishes for.</summary>
    public IEnumerable<Candidate> Of(int chord) =>
        candidates[chord].Where(c => Manners.Allowed(c, guards[chord])).Concat(wishes?[chord].All ?? []).Concat(_locked[chord]);

    /// <summary>What the teacher wants of a chord; null for nothing.</summary>
    public ChordWish? WishOf(int chord) => wishes?[chord];

    /// <summary>True when the teacher does not want a candidate on a rung: it is forbidden there, or she wants another
    /// chord.</summary>
    public bool Refuses(int chord, RungLimits limits, Candidate c) =>
        !c.Locked && wishes?[chord] is { } wish && (wish.Forbids(c, limits) || wish.Instead(limits) is not null != c.Wanted);

    /// <summary>Every candidate of a chord that its guards and at least one of the rungs allow.</summary>
    public IEnumerable<Candidate> Of(int chord, IEnumerable<RungLimits> rungs)
    {
        var list = candidates[chord];
        var open = new bool[list.Count];
        foreach (var rung in rungs)
            foreach (var v in list.Open(rung)) open[v] = true;
        for (var v = 0; v < open.Length; v++)
            if (open[v] && Manners.Allowed(list[v], guards[chord])) yield return list[v];
        foreach (var locked in _locked[chord]) yield return locked;
    }

    /// <summary>The candidate a number stands for.</summary>
    public Candidate At(int chord, int value) =>
        value < candidates[chord].Count ? candidates[chord][value] : _locked[chord][value - candidates[chord].Count];

    /// <summary>The numbers of the candidates a rung allows, in the list's order.</summary>
    public int[] Open(int chord, RungLimits limits)
    {
        if (_open.TryGetValue((chord, limits.Number), out var known)) return known;
        var (list, guard) = (candidates[chord], guards[chord]);
        var open = list.Open(limits, guard, () => Manners.Narrow(list, chords[chord], guard, limits));
        return _open[(chord, limits.Number)] = wishes?[chord] is { IsEmpty: false } wish
            ? Wished(chord, limits, open, wish)
            : open;
    }

    /// <summary>What a rung plays for a chord once the teacher's wishes are heard.</summary>
    private int[] Wished(int chord, RungLimits limits, int[] open, ChordWish wish)
    {
        if (wish.Instead(limits) is { } instead)
        {
            // The rung's limits hold for the chord she wants as well, as long as some shape keeps them.
            var wanted = instead.Where(c => !wish.Forbids(c, limits)).ToList();
            var fitting = wanted.Where(limits.Allows).ToList();
            if (fitting.Count == 0) fitting = [.. wanted.OrderBy(CandidateFinder.Strangeness).Take(1)];
            return [.. fitting.Select(c => NumberOfLocked(chord, c))];
        }
        var numbers = open.Where(v => !wish.Forbids(At(chord, v), limits)).ToList();
        // Without what was forbidden the rules of manners leave nothing: then whatever the limits allow.
        if (numbers.Count == 0 && open.Length > 0)
            numbers = [.. candidates[chord].Open(limits)
                .Where(v => Manners.Allowed(At(chord, v), guards[chord]) && !wish.Forbids(At(chord, v), limits))];
        numbers.AddRange(wish.StandIns.Where(c => limits.Allows(c) && !wish.Forbids(c, limits)).Select(c => NumberOf(chord, c)));
        if (wish.Grip(limits) is { } grip && limits.Allows(grip) && Manners.Allowed(grip, guards[chord])
            && !wish.Forbids(grip, limits))
            numbers.Add(NumberOf(chord, grip));
        return [.. numbers.Distinct()];
    }

    /// <summary>The same, between what the rungs below and above have: a chord is never less close on a higher rung. Where all
    /// that a rung has of its own is less close, it plays what the rung below has, if only for its few strings it would
    /// not.</summary>
    /// <returns>Numbers that hold until the next question.</returns>
    public ReadOnlySpan<int> Open(int chord, RungLimits limits, Candidate? below, Candidate? above)
    {
        ReadOnlySpan<int> open = Open(chord, limits);
        if (below is not null)
        {
            var kept = Between(open, chord, double.NegativeInfinity, Lost(below) + Hair);
            if (kept.Length == 0 && open.Length > 0 && IsThinThere(chord, limits, below)) return new([NumberOf(chord, below)]);
            if (kept.Length > 0) open = kept;
        }
        if (above is not null && Between(open, chord, Lost(above) - Hair, double.PositiveInfinity) is { Length: > 0 } closer)
            open = closer;
        return open;
    }

    /// <summary>True when a rung would play a shape of the rung below but for the number of its strings.</summary>
    private bool IsThinThere(int chord, RungLimits limits, Candidate below) =>
        !below.Locked && !below.Wanted && !limits.IsRecord && !Refuses(chord, limits, below)
            && Manners.Allowed(below, guards[chord])
            && (limits with { FewestStrings = limits.FewestStringsAtNeed }).Allows(below);

    private const double Hair = 1e-7;   // percent

    private static double Lost(Candidate c) => 100 * (1 - c.Closeness.Value);

    /// <summary>Those that lose no less and no more than this; what is given may be what was answered before.</summary>
    private ReadOnlySpan<int> Between(ReadOnlySpan<int> open, int chord, double least, double most)
    {
        Array.Resize(ref _between, Math.Max(_between.Length, open.Length));
        var list = candidates[chord];
        var count = 0;
        foreach (var v in open)
            if ((v < list.Count ? list.Lost[v] : Lost(At(chord, v))) is var lost && lost >= least && lost <= most)
                _between[count++] = v;
        return _between.AsSpan(0, count);
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
        if (wishes?[chord] is { } wish && Of(chord).Where(limits.Allows).ToList() is { Count: > 0 } allowed
            && allowed.TrueForAll(c => wish.Forbids(c, limits)))
            return new Blocked(chord, (allowed.MinBy(CandidateFinder.Strangeness)!, RungLimit.Forbidden));
        var nearest = Of(chord).OrderByDescending(c => c.Closeness.Value - c.Load / 200).FirstOrDefault();
        return new Blocked(chord, nearest is not null && limits.Objection(nearest) is { } broken ? (nearest, broken) : null);
    }
}
