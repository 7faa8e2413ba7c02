using System.Collections.Concurrent;

namespace Tembri.Core;

/// <summary>Keeps results of pure functions; forgets all of them when there are too many. Safe for several threads.</summary>
internal sealed class KeptResults<TKey, TValue>(int most) where TKey : notnull
{
    private readonly ConcurrentDictionary<TKey, TValue> _kept = new();

    public TValue GetOrAdd(TKey key, Func<TKey, TValue> compute)
    {
        if (_kept.TryGetValue(key, out var known)) return known;
        if (_kept.Count >= most) _kept.Clear();
        return _kept.GetOrAdd(key, compute);
    }
}
