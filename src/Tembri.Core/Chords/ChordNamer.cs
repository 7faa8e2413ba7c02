using System.Numerics;
using Tembri.Core.Music;

namespace Tembri.Core.Chords;

/// <summary>Names a set of pitches: the other way round from reading a symbol.</summary>
public static class ChordNamer
{
    // Plain kinds first: the order is the preference when several fit equally well.
    private static readonly string[] Kinds =
    [
        "", "m", "7", "m7", "maj7", "sus4", "sus2", "5", "6", "m6", "add9", "m(add9)", "dim", "m7b5", "dim7", "+", "7sus4", "9",
        "m9", "maj9",
        "m(maj7)", "6/9", "9sus4", "7b9", "7#9", "7#5", "7b5", "7#11", "maj7#11", "maj7#5", "add11", "m(add11)", "11", "m11",
        "13", "maj13", "m13",
        "m6/9", "m7#5", "b5", "sus2sus4", "13sus4", "7b13", "9#11", "maj9#11", "9b13", "13b9", "m(maj9)", "maj7sus2", "7b9b13",
        "7#5#9", "7sus2", "+(add9)", "dim(maj7)",
    ];

    private static readonly (Chord Chord, int Mask)[] Table =
        [.. Kinds.Select(k => Chord.Parse("C" + k)).Select(c => (c, c.PitchClassMask))];

    /// <summary>Names for a set of pitch classes, the most fitting first.</summary>
    /// <param name="pitchClassMask">Bit n set when pitch class n sounds.</param>
    /// <param name="bassPitchClass">The lowest sounding pitch class.</param>
    /// <param name="key">The key that decides spelling and prefers its own chords.</param>
    /// <param name="previous">The chord before, when known; the same root again is preferred.</param>
    /// <returns>At most six chords; empty when no known kind fits.</returns>
    public static IReadOnlyList<Chord> Name(int pitchClassMask, int bassPitchClass, Key key, Chord? previous = null)
    {
        var found = new List<(double Cost, Chord Chord)>();
        for (var root = 0; root < 12; root++)
        {
            var relative = Rotate(pitchClassMask, root);
            var bass = (bassPitchClass - root + 12) % 12;
            for (var kind = 0; kind < Table.Length; kind++)
            {
                var (chord, mask) = Table[kind];
                var missing = mask & ~relative;
                var foreign = relative & ~mask & ~(1 << bass);
                if (foreign != 0) continue;
                // Only the plain fifth may be left out of a name, and only where the chord keeps three tones.
                if (missing != 0 && (missing != 1 << 7 || BitOperations.PopCount((uint)mask) < 4)) continue;
                var extraBass = (mask & 1 << bass) == 0;
                if (extraBass && BitOperations.PopCount((uint)relative) < 4) continue;
                var note = key.Spell(root);
                var cost = kind * 0.12 + (missing != 0 ? 2 : 0) + (bass == 0 ? 0 : extraBass ? 4 : 2.5)
                    + Math.Abs(note.Fifths - key.Signature - 2) * 0.05;
                if (previous is not null && previous.Root.PitchClass == root) cost -= 0.5;
                found.Add((cost, new Chord(note, chord.Kind, chord.Degrees, bass == 0 ? null : key.Spell(bassPitchClass))));
            }
        }
        return [.. found.OrderBy(f => f.Cost).ThenBy(f => f.Chord.Name, StringComparer.Ordinal).Take(6).Select(f => f.Chord)];
    }

    private static int Rotate(int mask, int down) => (mask >> down | mask << 12 - down) & 0xFFF;
}
