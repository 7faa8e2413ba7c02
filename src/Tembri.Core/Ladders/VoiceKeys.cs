using Tembri.Core.Charts;

namespace Tembri.Core.Ladders;

/// <summary>The keys that suit a singer.</summary>
public static class VoiceKeys
{
    private const int Farthest = 11;
    private const int MostKeys = 6;

    /// <summary>The moves worth comparing, in semitones, each with its price in load points: those that bring the tune within the voice, or nearest to it, the most comfortable first.</summary>
    /// <param name="chart">The chart.</param>
    /// <returns>One move without price when the chart gives a number of semitones, or does not say what voice and tune reach.</returns>
    public static IReadOnlyList<(int Semitones, double Price)> For(Chart chart)
    {
        if (chart.Singer is not { } singer || chart.MelodyRange is not { } tune) return [(chart.VoiceShift, 0)];
        return [.. Enumerable.Range(-Farthest, 2 * Farthest + 1).Select(n =>
        {
            // A voice takes a tune in its own octave.
            return (Semitones: n, Price: new[] { n - 12, n, n + 12 }.Min(Price));
        }).OrderBy(x => x.Price).ThenBy(x => Math.Abs(x.Semitones)).ThenBy(x => x.Semitones).Take(MostKeys)];

        double Price(int moved)
        {
            var beyond = Math.Max(0, singer.Low.Midi - tune.Low.Midi - moved) + Math.Max(0, tune.High.Midi + moved - singer.High.Midi);
            var offCentre = Math.Abs((tune.Low.Midi + tune.High.Midi) / 2.0 + moved - (singer.Low.Midi + singer.High.Midi) / 2.0);
            return PlaceWeights.Default.VoiceOutOfReach * beyond + PlaceWeights.Default.VoiceOffCentre * offCentre;
        }
    }
}
