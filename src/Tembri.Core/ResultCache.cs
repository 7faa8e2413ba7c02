using System.Collections.Concurrent;
using BitFaster.Caching.Lru;

namespace Tembri.Core;

/// <summary>A kind of result that is worth keeping: what a cache must know of it.</summary>
/// <param name="Name">In words, for measurements.</param>
/// <param name="Share">Share of the cache's bytes, 0 to 1.</param>
/// <param name="Size">About how many bytes a result takes; key and place in the cache are reckoned by the cache.</param>
/// <param name="UsualSize">Bytes of a usual result: it bounds how many are kept.</param>
internal sealed record ResultKind<TKey, TValue>(string Name, double Share, Func<TValue, long> Size, int UsualSize) where TKey : notnull;

/// <summary>Keeps results of pure functions within a number of bytes; what was not asked for lately goes first. Losing any of it changes nothing but the time the next answer takes. Safe for several threads.</summary>
/// <remarks>One is made when the program starts and is passed to whoever computes; a test or a measurement makes its own.</remarks>
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
    internal TValue GetOrAdd<TKey, TValue>(ResultKind<TKey, TValue> kind, TKey key, Func<TKey, TValue> compute) where TKey : notnull =>
        ShelfOf(kind).GetOrAdd(key, compute);

    private Shelf<TKey, TValue> ShelfOf<TKey, TValue>(ResultKind<TKey, TValue> kind) where TKey : notnull =>
        (Shelf<TKey, TValue>)(_shelves.TryGetValue(kind, out var known) ? known : _shelves.GetOrAdd(kind, _ => new Shelf<TKey, TValue>(kind, (long)(kind.Share * _bytes))));

    private interface IShelf
    {
        long Bytes { get; }

        void Forget();
    }

    /// <summary>The results of one kind. The least recently used go when the bytes are over.</summary>
    private sealed class Shelf<TKey, TValue> : IShelf where TKey : notnull
    {
        private const int PlaceBytes = 160;   // key, dictionary entry and place in the order of use
        private const int FewestKept = 16;
        private readonly ConcurrentLru<TKey, TValue> _results;
        private readonly ResultKind<TKey, TValue> _kind;
        private readonly long _most;
        private long _bytes;

        public Shelf(ResultKind<TKey, TValue> kind, long most)
        {
            (_kind, _most) = (kind, most);
            var capacity = (int)Math.Clamp(2 * most / (kind.UsualSize + PlaceBytes), FewestKept, 1_000_000);
            _results = new ConcurrentLru<TKey, TValue>(Environment.ProcessorCount, capacity, EqualityComparer<TKey>.Default);
            _results.Events.Value!.ItemRemoved += (_, removed) => Interlocked.Add(ref _bytes, -SizeOf(removed.Value));
        }

        public long Bytes => Interlocked.Read(ref _bytes);

        public TValue GetOrAdd(TKey key, Func<TKey, TValue> compute)
        {
            if (_results.TryGet(key, out var known)) return known;
            var value = compute(key);
            // Two threads that miss together compute the same; only the one whose result is kept counts it.
            var kept = _results.GetOrAdd(key, _ => value);
            if (!ReferenceEquals(kept, value)) return kept;
            if (Interlocked.Add(ref _bytes, SizeOf(value)) > _most) Trim();
            return kept;
        }

        public void Forget() => _results.Clear();

        private void Trim()
        {
            while (Bytes > _most && _results.Count > FewestKept) _results.Policy.Eviction.Value!.Trim(Math.Max(1, _results.Count / 32));
        }

        private long SizeOf(TValue? value) => PlaceBytes + (value is null ? 0 : _kind.Size(value));
    }
}
