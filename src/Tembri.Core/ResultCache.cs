using System.Collections.Concurrent;

namespace Tembri.Core;

/// <summary>A kind of result that is worth keeping: what a cache must know of it.</summary>
/// <param name="Name">In words, for measurements.</param>
/// <param name="Share">Share of the cache's bytes, 0 to 1.</param>
/// <param name="Size">About how many bytes a result takes; key and place in the cache are reckoned by the cache.</param>
/// <param name="UsualSize">Bytes of a usual result: it bounds how many are kept.</param>
internal sealed record ResultKind<TKey,
    TValue>(string Name, double Share, Func<TValue, long> Size, int UsualSize) where TKey : notnull where TValue : class;

/// <summary>Keeps results of pure functions within a number of bytes; what was not asked for lately goes first. Losing any of it
/// changes nothing but the time the next answer takes. Safe for several threads.</summary>
/// <remarks>One is made when the program starts and is passed to whoever computes; a test or a measurement makes its
/// own.</remarks>
public sealed class ResultCache
{
    /// <summary>Bytes a cache keeps unless it is told otherwise.</summary>
    public const long UsualBytes = 40_000_000;

    private readonly long _bytes;
    private readonly ConcurrentDictionary<object, IShelf> _shelves = new(ReferenceEqualityComparer.Instance);

    /// <summary>Makes an empty cache.</summary>
    /// <param name="bytes">About how much it keeps at most, all kinds of results together.</param>
    public ResultCache(long bytes = UsualBytes)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(bytes);
        _bytes = bytes;
    }

    /// <summary>About how many bytes are kept now.</summary>
    public long Bytes => _shelves.Values.Sum(s => s.Bytes);

    /// <summary>Forgets everything.</summary>
    public void Forget()
    {
        foreach (var shelf in _shelves.Values) shelf.Forget();
    }

    /// <summary>A result known from before, or computed now.</summary>
    internal TValue GetOrAdd<TKey,
        TValue>(ResultKind<TKey, TValue> kind, TKey key, Func<TKey, TValue> compute) where TKey : notnull where TValue : class =>
        ShelfOf(kind).Results.GetOrAdd(key, compute);

    /// <summary>The same for a computation that needs more than the key, without an object made for each question: shapes are
    /// asked for by the ten thousand.</summary>
    internal TValue GetOrAdd<TKey, TValue, TWith>(ResultKind<TKey, TValue> kind, TKey key, TWith with,
        Func<TKey, TWith, TValue> compute) where TKey : notnull where TValue : class
    {
        var results = ShelfOf(kind).Results;
        return results.Find(key) ?? results.Keep(key, compute(key, with));
    }

    private Shelf<TKey, TValue> ShelfOf<TKey, TValue>(ResultKind<TKey, TValue> kind) where TKey : notnull where TValue : class =>
        (Shelf<TKey, TValue>)(_shelves.TryGetValue(kind, out var known)
            ? known
            : _shelves.GetOrAdd(kind, static (k, bytes) => new Shelf<TKey, TValue>((ResultKind<TKey, TValue>)k, bytes), _bytes));

    private interface IShelf
    {
        long Bytes { get; }

        void Forget();
    }

    /// <summary>The results of one kind.</summary>
    private sealed class Shelf<TKey,
        TValue>(ResultKind<TKey, TValue> kind, long bytes) : IShelf where TKey : notnull where TValue : class
    {
        public BoundedResults<TKey, TValue> Results { get; } = new((long)(kind.Share * bytes), kind.UsualSize, kind.Size);

        public long Bytes => Results.Bytes;

        public void Forget() => Results.Forget();
    }
}
