using System.Numerics;
using Tembri.Core.Chords;

namespace Tembri.Core.Hearing;

/// <summary>How well what sounds goes with a chord: the logarithm of how likely the strengths are, were each note of the sound
/// drawn from what the chord has.</summary>
internal static class ChordLikelihood
{
    private static readonly HearingWeights W = HearingWeights.Default;


    /// <summary>What a chord expects in each pitch class, as logarithms: twelve of the middle, twelve of the bass.</summary>
    /// <param name="mask">Its pitch classes, bit n for n.</param>
    /// <param name="root">Its root.</param>
    /// <param name="bass">Its lowest tone.</param>
    public static double[] Expected(int mask, int root, int bass)
    {
        var tones = BitOperations.PopCount((uint)(mask & 0xfff));
        var expected = new double[24];
        var (treble, low) = (0.0, 0.0);
        for (var p = 0; p < 12; p++)
        {
            var isTone = (mask >> p & 1) == 1;
            var interval = (p - root + 12) % 12;
            expected[p] =
                isTone ? interval switch { 0 => W.Root, 3 or 4 => W.Third, 7 => W.Fifth, _ => W.FurtherTone } : W.Foreign;
            expected[12 + p] = p == bass ? W.BassNote : p == root ? W.BassRoot : isTone ? W.BassTone : W.BassForeign;
            treble += expected[p];
            low += expected[12 + p];
        }
        for (var p = 0; p < 12; p++)
            (expected[p], expected[12 + p]) = (Math.Log(expected[p] / treble), Math.Log(expected[12 + p] / low));
        return tones == 0 ? new double[24] : expected;
    }

    /// <summary>What a heard chord expects.</summary>
    public static double[] Expected(HeardChord chord) =>
        Expected(chord.Intervals.Aggregate(0, (m, i) => m | 1 << (chord.Root + i) % 12), chord.Root, chord.Root);

    /// <summary>What a chord of a chart expects when the record lies some semitones above it.</summary>
    public static double[] Expected(Chord chord, int semitones)
    {
        int Up(int p) => ((p + semitones) % 12 + 12) % 12;
        var mask =
            Enumerable.Range(0, 12).Where(p => (chord.PitchClassMask >> p & 1) == 1).Aggregate(0, (m, p) => m | 1 << Up(p));
        return Expected(mask, Up(chord.Root.PitchClass), Up(chord.BassPitchClass));
    }

    /// <summary>The logarithm for what sounds, which is scaled.</summary>
    public static double Of(double[] expected, Chroma scaled)
    {
        var (treble, bass) = (0.0, 0.0);
        for (var p = 0; p < 12; p++)
        {
            treble += scaled.Values[p] * expected[p];
            bass += scaled.Values[12 + p] * expected[12 + p];
        }
        return treble + W.BassShare * bass;
    }
}
