using BitFaster.Caching.Lru;

namespace Tembri.Core;

/// <summary>Keeps results within a number of bytes; what was not asked for lately goes first. Safe for several
/// threads.</summary>
public sealed class BoundedResults<TKey, TValue> where TKey : notnull where TValue : class
{
    private const int PlaceBytes = 160;   // key, dictionary entry and place in the order of use
    private const int FewestKept = 16;
    private const int MostKept = 1_000_000;
    private const int Portion = 16;       // a sixteenth goes at a time
    private readonly ConcurrentLru<TKey, TValue> _results;
    private readonly Func<TValue, long> _size;
    private readonly long _most;
    private long _bytes;
    private int _count;                   // the store below counts by walking through all of its places

    /// <summary>Makes an empty store.</summary>
    /// <param name="mostBytes">About how much is kept at most.</param>
    /// <param name="usualSize">Bytes of a usual result: it bounds how many are kept.</param>
    /// <param name="size">About how many bytes a result takes; key and place in the store are reckoned by the store.</param>
    public BoundedResults(long mostBytes, int usualSize, Func<TValue, long> size)
    {
        (_most, _size) = (mostBytes, size);
        var capacity = (int)Math.Clamp(2 * mostBytes / (usualSize + PlaceBytes), FewestKept, MostKept);
        _results = new ConcurrentLru<TKey, TValue>(Environment.ProcessorCount, capacity, EqualityComparer<TKey>.Default);
        _results.Events.Value!.ItemRemoved += (_, removed) =>
        {
            Interlocked.Add(ref _bytes, -SizeOf(removed.Value));
            Interlocked.Decrement(ref _count);
        };
    }

    /// <summary>About how many bytes are kept now.</summary>
    public long Bytes => Interlocked.Read(ref _bytes);

    /// <summary>A result that is kept, or null.</summary>
    public TValue? Find(in TKey key) => _results.TryGet(key, out var known) ? known : null;

    /// <summary>A result known from before, or computed now. Two threads that miss together compute the same; one of the results
    /// is kept.</summary>
    public TValue GetOrAdd(TKey key, Func<TKey, TValue> compute) => Find(key) ?? Keep(key, compute(key));

    /// <summary>Keeps a result, unless there is one.</summary>
    /// <returns>The one that is kept.</returns>
    public TValue Keep(TKey key, TValue value)
    {
        var kept = _results.GetOrAdd(key, static (_, computed) => computed, value);
        if (!ReferenceEquals(kept, value)) return kept;
        Interlocked.Increment(ref _count);
        if (Interlocked.Add(ref _bytes, SizeOf(value)) > _most) Trim();
        return kept;
    }

    /// <summary>Forgets everything.</summary>
    public void Forget() => _results.Clear();

    private void Trim()
    {
        while (Bytes > _most && Volatile.Read(ref _count) is > FewestKept and var kept)
            _results.Policy.Eviction.Value!.Trim(Math.Max(1, kept / Portion));
    }

    private long SizeOf(TValue? value) => PlaceBytes + (value is null ? 0 : _size(value));
}
