using System.Numerics;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>Guesses the key of a chart that does not name it.</summary>
public static class KeyFinder
{
    private static readonly int[] MajorScale = [0, 2, 4, 5, 7, 9, 11];

    /// <summary>What is asked of the chords of a song once, whichever keys are looked at.</summary>
    private readonly record struct Counted(IReadOnlyList<(int Mask, int Root, double Share)> Kinds, int Sevenths, Chord First,
        Chord Last);

    /// <summary>The key whose scale holds most of the chord tones, first and last chord weighing more. Sevenths on the first and
    /// the fourth degree together are a blues, where they belong to the key.</summary>
    /// <param name="chords">Chords in playing order; C major when there are none.</param>
    public static Key Guess(IReadOnlyList<Chord> chords)
    {
        if (chords.Count == 0) return new Key(Note.C, false);
        var counted = Count(chords);
        var best = (Score: double.NegativeInfinity, Key: default(Key));
        foreach (var minor in new[] { false, true })
            for (var tonic = 0; tonic < 12; tonic++)
                if (Score(counted, tonic, minor) is var score && score > best.Score + 1e-9)
                    best = (score, new Key(Note.C, minor).Transpose(tonic));
        // Spell the tonic as the chart does where it uses it.
        var used = chords.FirstOrDefault(c => c.Root.PitchClass == best.Key.Tonic.PitchClass);
        return used is null ? best.Key : best.Key with { Tonic = used.Root };
    }

    /// <summary>True where chords may well be in a key, as in the one they are most at home in, and are rather in it than in
    /// another.</summary>
    /// <param name="chords">Chords in playing order; fewer than three roots are at home in too many keys to tell.</param>
    /// <param name="key">The one key.</param>
    /// <param name="other">The other.</param>
    public static bool IsRather(IReadOnlyList<Chord> chords, Key key, Key other)
    {
        if (chords.DistinctBy(c => c.Root.PitchClass).Count() < FewestRoots) return false;
        var counted = Count(chords);
        double Of(Key k) => Score(counted, k.Tonic.PitchClass, k.IsMinor);
        return Of(key) > Of(other) + 1e-9 && Of(key) > Of(Guess(chords)) - Near;
    }

    private const int FewestRoots = 3;
    private const double Near = 0.25;   // the weight of beginning and ending on the key's own chord, and no more

    /// <summary>The major key of a signature, or the minor one where the chords are rather in that.</summary>
    /// <param name="fifths">Sharps of the signature, flats below 0; -7 to 7.</param>
    /// <param name="chords">Chords in playing order; the major key when there are none.</param>
    public static Key OfSignature(int fifths, IReadOnlyList<Chord> chords)
    {
        var (major, minor) = (new Key(new Note(fifths), false), new Key(new Note(fifths + 3), true));
        if (chords.Count == 0) return major;
        var counted = Count(chords);
        var isMinor = Score(counted, minor.Tonic.PitchClass, true) > Score(counted, major.Tonic.PitchClass, false) + 1e-9;
        return isMinor ? minor : major;
    }

    // What a chord's tones weigh in a scale is the same wherever it stands, so each chord is looked at once.
    private static Counted Count(IReadOnlyList<Chord> chords) => new(
        [.. chords.GroupBy(c => (Tones: Tones(c), Root: c.Root.PitchClass))
            .Select(g => (g.Key.Tones, g.Key.Root, (double)g.Count() / chords.Count))],
        chords.Where(c => c.IsDominant).Aggregate(0, (m, c) => m | 1 << c.Root.PitchClass), chords[0], chords[^1]);

    private static double Score(Counted counted, int tonic, bool minor)
    {
        var relative = minor ? (tonic + 3) % 12 : tonic;
        var scale = MajorScale.Aggregate(0, (m, s) => m | 1 << (relative + s) % 12);
        var score = 0.0;
        var four = (tonic + 5) % 12;
        var isBlues = !minor && (counted.Sevenths & 1 << tonic) != 0 && (counted.Sevenths & 1 << four) != 0;
        var leading = minor ? 1 << (tonic + 11) % 12 & ~scale : 0;
        foreach (var (mask, root, share) in counted.Kinds)
        {
            var own = isBlues && (root == tonic || root == four) ? scale | 1 << (root + 10) % 12 : scale;
            score += share
                * (BitOperations.PopCount((uint)(mask & own)) + 0.6 * BitOperations.PopCount((uint)(mask & leading)))
                / BitOperations.PopCount((uint)mask);
        }
        foreach (var (chord, weight) in new[] { (counted.First, 0.10), (counted.Last, 0.14) })
            if (chord.Root.PitchClass == tonic && (chord.IsMinor == minor || IsPower(chord))) score += weight;
        return score;
    }

    /// <summary>True for a chord that is as much at home in minor as in major: root and fifth.</summary>
    private static bool IsPower(Chord chord) => BitOperations.PopCount((uint)Tones(chord)) <= 2;

    /// <summary>The chord's own tones as a set, its slash bass left aside.</summary>
    private static int Tones(Chord chord)
    {
        var mask = 0;
        foreach (var degree in chord.Degrees) mask |= 1 << (chord.Root.PitchClass + degree.Semitones) % 12;
        return mask;
    }
}
