using System.Collections;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>All candidates of one chord for one hand at one capo, with the numbers the arranger sums laid out for quick reading.
/// Kept between songs.</summary>
internal sealed class CandidateList : IReadOnlyList<Candidate>
{
    private const int MostKept = 24;   // rungs and guards a chord is met with
    private readonly Candidate[] _candidates;
    private readonly int[] _slots;   // one more than the number, 0 for none
    private int _slotCount;
    private (RungLimits Limits, Guard? Guard, int[] Values)[] _kept = [];

    public CandidateList(IEnumerable<Candidate> candidates)
    {
        _candidates = [.. candidates];
        _slots = new int[_candidates.Length];
        Load = Array.ConvertAll(_candidates, c => c.Load);
        Lost = Array.ConvertAll(_candidates, c => 100 * (1 - c.Closeness.Value));
        Habit = Array.ConvertAll(_candidates, c => c.Habit);
        Idiom = Array.ConvertAll(_candidates, c => c.Idiom);
        Sound = Array.ConvertAll(_candidates, c => c.Sound);
        IsBarred = Array.ConvertAll(_candidates, c => c.Fingering.LongestBarre > Barre.LongestShort);
    }

    /// <summary>Loads, 0 to 100.</summary>
    public double[] Load { get; }

    /// <summary>Percent of closeness lost.</summary>
    public double[] Lost { get; }

    /// <summary>Points for being unusual.</summary>
    public double[] Idiom { get; }

    /// <summary>Points for unusual fingers.</summary>
    public double[] Habit { get; }

    /// <summary>The pitch classes each sounds.</summary>
    public int[] Sound { get; }

    /// <summary>True where a finger lies over more strings than a short barre.</summary>
    public bool[] IsBarred { get; }

    public int Count => _candidates.Length;

    public Candidate this[int index] => _candidates[index];

    /// <summary>Indices of what a rung allows.</summary>
    public int[] Open(RungLimits limits) =>
        Kept(limits, null, () => [.. Enumerable.Range(0, Count).Where(v => limits.Allows(_candidates[v]))]);

    /// <summary>Indices of what a rung plays under the guards of the chart.</summary>
    public int[] Open(RungLimits limits, Guard guard, Func<int[]> find) => Kept(limits, guard, find);

    private int[] Kept(RungLimits limits, Guard? guard, Func<int[]> find)
    {
        // Almost always the rungs are the shipped ones, which are asked for again with every song.
        foreach (var known in _kept) if (ReferenceEquals(known.Limits, limits) && known.Guard == guard) return known.Values;
        var values = find();
        // Rungs of a teacher's own are made anew for each ladder, so they are not worth a place.
        if (!limits.IsShipped) return values;
        if (_kept.Length < MostKept) _kept = [.. _kept, (limits, guard, values)];
        return values;
    }

    /// <summary>Numbers of candidates among those that were ever tried, which are few: tables of changes are laid out by
    /// them.</summary>
    public int[] SlotsOf(ReadOnlySpan<int> values)
    {
        var slots = new int[values.Length];
        for (var i = 0; i < values.Length; i++) slots[i] = SlotOf(values[i]);
        return slots;
    }

    private int SlotOf(int value)
    {
        if (Volatile.Read(ref _slots[value]) is var known and > 0) return known - 1;
        lock (_slots)
        {
            if (_slots[value] == 0) Volatile.Write(ref _slots[value], ++_slotCount);
            return _slots[value] - 1;
        }
    }

    public IEnumerator<Candidate> GetEnumerator() => ((IEnumerable<Candidate>)_candidates).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
