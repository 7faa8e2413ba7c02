using Tembri.Core.Fretboard;

namespace Tembri.Core.Ladders;

/// <summary>What a song is in another tuning of the guitar, beside the tuning it is played in.</summary>
/// <param name="Tuning">The other tuning, at the pitch it is known by.</param>
/// <param name="Place">Its best place.</param>
/// <param name="Gain">How much better the place is than the best one of the tuning now, after the price of tuning the guitar:
/// the score of places, that is loads and what is lost of the sound over all rungs; above 0 it pays.</param>
public sealed record TuningComparison(Tuning Tuning, Place Place, double Gain)
{
    /// <summary>True when it makes the song lighter by more than tuning the guitar costs.</summary>
    public bool Pays => Gain > 0;

    /// <summary>Compares tunings.</summary>
    /// <param name="here">The ladder as it is, with its places.</param>
    /// <param name="others">Ladders of the same song for the same player in other tunings.</param>
    /// <returns>The others, the best first.</returns>
    public static IReadOnlyList<TuningComparison> Of(Ladder here, IEnumerable<(Tuning Tuning, Ladder Ladder)> others)
    {
        var now = BestOf(here).Score;
        return [.. others.Select(o => (o.Tuning, Best: BestOf(o.Ladder)))
            .Select(o => new TuningComparison(o.Tuning, o.Best, now - o.Best.Score - PlaceWeights.Default.OtherTuning))
            .OrderByDescending(c => c.Gain).ThenBy(c => c.Tuning.Name, StringComparer.Ordinal)];
    }

    private static Place BestOf(Ladder ladder) => ladder.Places.First(p => p.Capo == ladder.RecommendedCapo);
}
