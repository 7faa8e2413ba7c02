using System.Collections.Concurrent;

namespace Tembri.Data.Ladders;

/// <summary>Names, shapes and what they ask, each once: thousands of outlines are made of the same few hundred, and would fill
/// twice the memory with copies.</summary>
public sealed class OutlinePool
{
    private const int Most = 20_000;   // of all kinds; a library has some thousand
    private readonly ConcurrentDictionary<object, object> _known = new();

    /// <summary>The one that is equal to this and was seen first; this one when it is new.</summary>
    public T Once<T>(T value) where T : class
    {
        if (_known.TryGetValue(value, out var known)) return (T)known;
        if (_known.Count >= Most) _known.Clear();
        return (T)_known.GetOrAdd(value, value);
    }

    /// <summary>Lets all go.</summary>
    public void Forget() => _known.Clear();
}
