using System.Collections;

namespace Tembri.Core.Arranging;

/// <summary>All candidates of one chord for one hand at one capo, with the numbers the arranger sums laid out for quick reading. Kept between songs.</summary>
internal sealed class CandidateList : IReadOnlyList<Candidate>
{
    private readonly Candidate[] _candidates;

    public CandidateList(CandidateKey key, IEnumerable<Candidate> candidates)
    {
        Key = key;
        _candidates = [.. candidates];
        Load = Array.ConvertAll(_candidates, c => c.Load);
        Lost = Array.ConvertAll(_candidates, c => 100 * (1 - c.Closeness.Value));
        Idiom = Array.ConvertAll(_candidates, c => c.Idiom);
        ShapeCode = Array.ConvertAll(_candidates, c => c.Fingering.Shape.Code);
    }

    /// <summary>What the list is for; lists of one key are alike.</summary>
    public CandidateKey Key { get; }

    /// <summary>Loads, 0 to 100.</summary>
    public double[] Load { get; }

    /// <summary>Percent of closeness lost.</summary>
    public double[] Lost { get; }

    /// <summary>Points for being unusual.</summary>
    public double[] Idiom { get; }

    /// <summary>Shapes as numbers.</summary>
    public ulong[] ShapeCode { get; }

    public int Count => _candidates.Length;

    public Candidate this[int index] => _candidates[index];

    /// <summary>Indices of what a rung allows.</summary>
    public int[] Open(RungLimits limits)
    {
        var open = new List<int>();
        for (var v = 0; v < _candidates.Length; v++) if (limits.Allows(_candidates[v])) open.Add(v);
        return [.. open];
    }

    public IEnumerator<Candidate> GetEnumerator() => ((IEnumerable<Candidate>)_candidates).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
