using System.Numerics;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>Guesses the key of a chart that does not name it.</summary>
public static class KeyFinder
{
    private static readonly int[] MajorScale = [0, 2, 4, 5, 7, 9, 11];

    /// <summary>The key whose scale holds most of the chord tones, first and last chord weighing more. Sevenths on the first and
    /// the fourth degree together are a blues, where they belong to the key.</summary>
    /// <param name="chords">Chords in playing order; C major when there are none.</param>
    public static Key Guess(IReadOnlyList<Chord> chords)
    {
        if (chords.Count == 0) return new Key(Note.C, false);
        // What a chord's tones weigh in a scale is the same wherever it stands, so each chord is looked at once.
        var counted = chords.GroupBy(c => (Tones: Tones(c), Root: c.Root.PitchClass))
            .Select(g => (Mask: g.Key.Tones, g.Key.Root, Share: (double)g.Count() / chords.Count)).ToList();
        var sevenths = chords.Where(c => c.IsDominant).Aggregate(0, (m, c) => m | 1 << c.Root.PitchClass);
        var best = (Score: double.NegativeInfinity, Key: default(Key));
        foreach (var minor in new[] { false, true })
            for (var tonic = 0; tonic < 12; tonic++)
            {
                var relative = minor ? (tonic + 3) % 12 : tonic;
                var scale = MajorScale.Aggregate(0, (m, s) => m | 1 << (relative + s) % 12);
                var score = 0.0;
                var four = (tonic + 5) % 12;
                var isBlues = !minor && (sevenths & 1 << tonic) != 0 && (sevenths & 1 << four) != 0;
                var leading = minor ? 1 << (tonic + 11) % 12 & ~scale : 0;
                foreach (var (mask, root, share) in counted)
                {
                    var own = isBlues && (root == tonic || root == four) ? scale | 1 << (root + 10) % 12 : scale;
                    score += share
                            * (BitOperations.PopCount((uint)(mask & own))
                                + 0.6 * BitOperations.PopCount((uint)(mask & leading))) / BitOperations.PopCount((uint)mask);
                }
                foreach (var (chord, weight) in new[] { (chords[0], 0.10), (chords[^1], 0.14) })
                    if (chord.Root.PitchClass == tonic && chord.IsMinor == minor) score += weight;
                if (score > best.Score + 1e-9) best = (score, new Key(Note.C, minor).Transpose(tonic));
            }
        // Spell the tonic as the chart does where it uses it.
        var used = chords.FirstOrDefault(c => c.Root.PitchClass == best.Key.Tonic.PitchClass);
        return used is null ? best.Key : best.Key with { Tonic = used.Root };
    }

    /// <summary>The chord's own tones as a set, its slash bass left aside.</summary>
    private static int Tones(Chord chord)
    {
        var mask = 0;
        foreach (var degree in chord.Degrees) mask |= 1 << (chord.Root.PitchClass + degree.Semitones) % 12;
        return mask;
    }
}
