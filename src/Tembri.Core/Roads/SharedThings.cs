namespace Tembri.Core.Roads;

/// <summary>The things that more than one version has, as sets of bits; what only one has is a weight of its own. So the sets
/// that are searched stay small.</summary>
internal sealed class SharedThings
{
    private const int Word = 64;
    private readonly ulong[][] _shared;
    private readonly double[] _own;
    private readonly double[] _weight;
    private readonly ulong[] _wanted;

    public SharedThings(RoadMap map, IReadOnlyList<int> ends)
    {
        var versions = map.Request.Versions.Count;
        var owners = new int[map.Things];
        for (var v = 0; v < versions; v++) foreach (var thing in map.NewOf(v)) owners[thing]++;
        var (number, count) = (new int[map.Things], 0);
        for (var thing = 0; thing < owners.Length; thing++) number[thing] = owners[thing] > 1 ? count++ : -1;
        _weight = new double[count];
        for (var thing = 0; thing < owners.Length; thing++) if (number[thing] >= 0) _weight[number[thing]] = map.WeightOf(thing);
        None = new ulong[(count + Word - 1) / Word];
        _shared = new ulong[versions][];
        _own = new double[versions];
        for (var v = 0; v < versions; v++)
        {
            _shared[v] = new ulong[None.Length];
            foreach (var thing in map.NewOf(v))
            {
                if (number[thing] < 0) _own[v] += map.WeightOf(thing);
                else _shared[v][number[thing] / Word] |= 1UL << number[thing] % Word;
            }
        }
        _wanted = ends.Aggregate(None, With);
    }

    /// <summary>The empty set.</summary>
    public ulong[] None { get; }

    /// <summary>What a version adds to what is learnt, and how much of it some end wants.</summary>
    public (double All, double Wanted) AddedBy(int version, ulong[] learnt)
    {
        var (all, wanted) = (_own[version], 0.0);
        var shared = _shared[version];
        for (var w = 0; w < shared.Length; w++)
        {
            for (var bits = shared[w] & ~learnt[w]; bits != 0; bits &= bits - 1)
            {
                var thing = System.Numerics.BitOperations.TrailingZeroCount(bits);
                all += _weight[w * Word + thing];
                if ((_wanted[w] >> thing & 1) != 0) wanted += _weight[w * Word + thing];
            }
        }
        return (all, wanted);
    }

    /// <summary>A set with what a version has.</summary>
    public ulong[] With(ulong[] learnt, int version)
    {
        var more = (ulong[])learnt.Clone();
        for (var w = 0; w < more.Length; w++) more[w] |= _shared[version][w];
        return more;
    }
}

/// <summary>A set of things, equal to another with the same things.</summary>
internal readonly struct Learnt(ulong[] words) : IEquatable<Learnt>
{
    private readonly ulong[] _words = words;

    public bool Equals(Learnt other) => _words.AsSpan().SequenceEqual(other._words);

    public override bool Equals(object? obj) => obj is Learnt other && Equals(other);

    public override int GetHashCode()
    {
        var hash = new HashCode();
        foreach (var word in _words) hash.Add(word);
        return hash.ToHashCode();
    }
}
