using System.Collections;
using System.Runtime.CompilerServices;

namespace Tembri.Core.Students;

/// <summary>What a shape asks, technique by technique. Equal ones stand for each other, so that all versions that play a shape
/// can share one.</summary>
[CollectionBuilder(typeof(Demands), nameof(Of))]
public sealed class Demands : IReadOnlyList<Demand>, IEquatable<Demands>
{
    private readonly Demand[] _all;
    private (Technique Technique, double Odds)[]? _odds;

    private Demands(Demand[] all) => _all = all;

    /// <summary>Takes demands together, in their order.</summary>
    public static Demands Of(ReadOnlySpan<Demand> demands) => new(demands.ToArray());

    /// <inheritdoc/>
    public int Count => _all.Length;

    /// <inheritdoc/>
    public Demand this[int index] => _all[index];

    /// <summary>What each brings to the odds that it fails; reckoned once.</summary>
    internal (Technique Technique, double Odds)[] Odds =>
        _odds ??= Array.ConvertAll(_all, d => (d.Technique, FitModel.OddsOf(d)));

    /// <inheritdoc/>
    public bool Equals(Demands? other) => other is not null && _all.AsSpan().SequenceEqual(other._all);

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as Demands);

    /// <inheritdoc/>
    public override int GetHashCode()
    {
        var hash = new HashCode();
        foreach (var demand in _all) hash.Add(demand);
        return hash.ToHashCode();
    }

    /// <inheritdoc/>
    public IEnumerator<Demand> GetEnumerator() => _all.AsEnumerable().GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
