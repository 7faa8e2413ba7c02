using System.Collections.Concurrent;

namespace Tembri.Core;

/// <summary>Keeps results of pure functions within a number of bytes; what was not asked for lately goes first. Safe for several threads.</summary>
/// <remarks>
/// Two generations: results live in the young one; when that holds half of the bytes, it becomes the old one and what was old is forgotten. A result found
/// in the old generation is young again. That keeps at least the last half of what was used, without a lock on reading.
/// </remarks>
internal sealed class KeptResults<TKey, TValue> where TKey : notnull
{
    private readonly long _most;
    private readonly Func<TValue, long> _size;
    private Generation _young = new();
    private Generation _old = new();

    private sealed class Generation
    {
        public readonly ConcurrentDictionary<TKey, TValue> Results = new();
        public long Bytes;
    }

    /// <param name="megabytes">How much is kept at most.</param>
    /// <param name="size">About how many bytes a result takes; its key and place in the dictionary are reckoned by this class.</param>
    /// <param name="shared">True for results kept for the whole program, which <see cref="SharedResults"/> can forget.</param>
    public KeptResults(double megabytes, Func<TValue, long> size, bool shared = false)
    {
        (_most, _size) = ((long)(megabytes * 1_000_000), size);
        if (shared) SharedResults.Add(Clear);
    }

    public TValue GetOrAdd(TKey key, Func<TKey, TValue> compute)
    {
        if (Volatile.Read(ref _young).Results.TryGetValue(key, out var known)) return known;
        return Keep(key, Volatile.Read(ref _old).Results.TryGetValue(key, out var old) ? old : compute(key));
    }

    private TValue Keep(TKey key, TValue value)
    {
        const int place = 160;
        var young = Volatile.Read(ref _young);
        var kept = young.Results.GetOrAdd(key, value);
        if (!ReferenceEquals(kept, value)) return kept;
        if (Interlocked.Add(ref young.Bytes, _size(value) + place) <= _most / 2) return kept;
        if (Interlocked.CompareExchange(ref _young, new Generation(), young) == young) Volatile.Write(ref _old, young);
        return kept;
    }

    private void Clear() => (_young, _old) = (new Generation(), new Generation());
}

/// <summary>All results kept for the whole program. Forgetting them changes nothing but the time the next answer takes, which is what measurements want to know.</summary>
internal static class SharedResults
{
    private static readonly ConcurrentBag<Action> Clears = [];

    public static void Add(Action clear) => Clears.Add(clear);

    public static void Forget()
    {
        foreach (var clear in Clears) clear();
    }
}
