using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <summary>By which names a chart calls its notes.</summary>
public enum ChartNames
{
    /// <summary>C D E F G A B, as everywhere in Tembri.</summary>
    English,
    /// <summary>C D E F G A H, with B for B♭ and syllables such as Fis and Es.</summary>
    German,
    /// <summary>Do Re Mi Fa Sol La Si.</summary>
    Syllables,
    /// <summary>Numbers in the key, each major unless it says otherwise: 1 5 6m 4.</summary>
    Numbers,
    /// <summary>Numbers in the key, with the triads of its scale: 1 5 6 4.</summary>
    ScaleNumbers,
    /// <summary>Numerals in the key: I V vi IV.</summary>
    Numerals,
}

/// <summary>By which names a chart calls its chords, and the key that numbers and numerals count in.</summary>
/// <param name="Names">The names.</param>
/// <param name="Key">The key; without meaning where notes have names.</param>
/// <param name="SmallIsMinor">True where a small letter is a minor chord: a for Am.</param>
public readonly record struct ChartNaming(ChartNames Names, Key Key = default, bool SmallIsMinor = false)
{
    /// <summary>True where chords are named by their place in the key.</summary>
    public bool IsByDegree => Names is ChartNames.Numbers or ChartNames.ScaleNumbers or ChartNames.Numerals;

    /// <summary>A symbol under the names used here; as it is where the other names do not know it.</summary>
    public string InEnglish(string symbol)
    {
        symbol = SpokenChords.InSigns(symbol);
        if (SmallIsMinor) symbol = ForeignNames.WithLargeLetter(symbol);
        return IsByDegree ? DegreeNames.InEnglish(symbol, this) : ForeignNames.InEnglish(symbol, Names);
    }

    /// <summary>A symbol under the names used here, for a text that has others.</summary>
    public string FromEnglish(string symbol)
    {
        if (IsByDegree) return DegreeNames.FromEnglish(symbol, this);
        var written = ForeignNames.FromEnglish(symbol, Names);
        return SmallIsMinor ? ForeignNames.WithSmallLetter(written) : written;
    }
}
