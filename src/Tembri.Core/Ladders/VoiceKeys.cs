using Tembri.Core.Charts;
using Tembri.Core.Music;

namespace Tembri.Core.Ladders;

/// <summary>What a voice asks of a song: a number of semitones, or what singer and tune reach.</summary>
/// <param name="Semitones">How far the song moves, −11 to 11; counts when singer or tune are not known.</param>
/// <param name="Singer">What the singer reaches.</param>
/// <param name="Tune">From the lowest to the highest note of the tune on the record.</param>
public sealed record VoiceWish(int Semitones, PitchRange? Singer = null, PitchRange? Tune = null)
{
    /// <summary>The farthest a song is moved either way, in semitones.</summary>
    public const int Farthest = 11;

    /// <summary>What a chart's own header asks for.</summary>
    public static VoiceWish Of(Chart chart) => new(chart.VoiceShift, chart.Singer, chart.MelodyRange);

    /// <summary>True when it says anything at all.</summary>
    public bool IsSaid => Semitones != 0 || Singer is not null && Tune is not null;
}

/// <summary>The keys that suit a singer.</summary>
public static class VoiceKeys
{
    private const int MostKeys = 6;

    /// <summary>The moves worth comparing, in semitones, each with its price in load points: those that bring the tune within
    /// the voice, or nearest to it, the most comfortable first.</summary>
    /// <param name="wish">What the voice asks for.</param>
    /// <returns>One move without price when the wish is a number of semitones.</returns>
    public static IReadOnlyList<(int Semitones, double Price)> For(VoiceWish wish)
    {
        if (wish is not { Singer: { } singer, Tune: { } tune }) return [(wish.Semitones, 0)];
        return [.. Enumerable.Range(-VoiceWish.Farthest, 2 * VoiceWish.Farthest + 1).Select(n =>
        {
            // A voice takes a tune in its own octave.
            return (Semitones: n, Price: new[] { n - 12, n, n + 12 }.Min(Price));
        }).OrderBy(x => x.Price).ThenBy(x => Math.Abs(x.Semitones)).ThenBy(x => x.Semitones).Take(MostKeys)];

        double Price(int moved)
        {
            var beyond = Beyond(singer, tune, moved);
            var offCentre =
                Math.Abs((tune.Low.Midi + tune.High.Midi) / 2.0 + moved - (singer.Low.Midi + singer.High.Midi) / 2.0);
            return PlaceWeights.Default.VoiceOutOfReach * beyond + PlaceWeights.Default.VoiceOffCentre * offCentre;
        }
    }

    /// <summary>Of some moves those that a voice reaches best, in its own octave: with no note beyond it, or as few semitones
    /// beyond as can be. All of them when singer or tune are not known.</summary>
    /// <param name="wish">What the voice asks for.</param>
    /// <param name="moves">Moves in semitones.</param>
    public static IReadOnlyList<int> Reached(VoiceWish wish, IReadOnlyList<int> moves)
    {
        if (wish is not { Singer: { } singer, Tune: { } tune } || moves.Count == 0) return moves;
        int InItsOctave(int moved) => new[] { moved - 12, moved, moved + 12 }.Min(m => Beyond(singer, tune, m));
        var least = moves.Min(InItsOctave);
        return [.. moves.Where(m => InItsOctave(m) == least)];
    }

    private static int Beyond(PitchRange singer, PitchRange tune, int moved) =>
        Math.Max(0, singer.Low.Midi - tune.Low.Midi - moved) + Math.Max(0, tune.High.Midi + moved - singer.High.Midi);
}
