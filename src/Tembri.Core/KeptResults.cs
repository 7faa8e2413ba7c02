using System.Collections.Concurrent;

namespace Tembri.Core;

/// <summary>Keeps results of pure functions; forgets all of them when there are too many. Safe for several threads.</summary>
internal sealed class KeptResults<TKey, TValue> where TKey : notnull
{
    private readonly ConcurrentDictionary<TKey, TValue> _kept = new();
    private readonly int _most;

    /// <param name="most">How many results are kept at most.</param>
    /// <param name="shared">True for results kept for the whole program, which <see cref="SharedResults"/> can forget.</param>
    public KeptResults(int most, bool shared = false)
    {
        _most = most;
        if (shared) SharedResults.Add(_kept.Clear);
    }

    public TValue GetOrAdd(TKey key, Func<TKey, TValue> compute)
    {
        if (_kept.TryGetValue(key, out var known)) return known;
        if (_kept.Count >= _most) _kept.Clear();
        return _kept.GetOrAdd(key, compute);
    }
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
