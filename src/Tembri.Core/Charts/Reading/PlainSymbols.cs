using Tembri.Core.Chords;

namespace Tembri.Core.Charts.Reading;

/// <summary>Which symbols of one text are chords under the names used here; each is looked at once. For one thread.</summary>
internal sealed class PlainSymbols
{
    private const int Most = 1_000;   // more than a chart has, fewer than would be worth their memory
    private readonly Dictionary<string, bool> _known = [];

    public bool Has(string symbol)
    {
        if (_known.TryGetValue(symbol, out var isChord)) return isChord;
        isChord = ChordReader.Read(symbol).Ok;
        if (_known.Count < Most) _known[symbol] = isChord;
        return isChord;
    }
}
