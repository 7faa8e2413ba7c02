using System.Numerics;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Formats.Sounding;

/// <summary>Chords told from notes that are struck one after the other: arpeggios and picking patterns.</summary>
/// <remarks>
/// A bar is one chord unless its halves make two plain ones; where neither the bar nor its halves have a name, single beats are
/// tried.
/// Only the beginnings of notes count, so that strings which ring over a change do not blur it.
/// </remarks>
/// <param name="key">The key, for spelling.</param>
internal sealed class BrokenChords(Key key)
{
    private const int FewestTones = 3;
    private const int MostTonesOfOneChord = 4;

    /// <summary>A stretch of time with the pitches that begin in it.</summary>
    /// <param name="At">Where it begins, in ticks.</param>
    /// <param name="Mask">Bit n when pitch class n begins.</param>
    /// <param name="Lowest">The lowest pitch, a MIDI number; 127 when there is none.</param>
    private readonly record struct Stretch(long At, int Mask, int Lowest)
    {
        public int Tones => BitOperations.PopCount((uint)Mask);

        public Stretch With(Stretch other) => new(Math.Min(At, other.At), Mask | other.Mask, Math.Min(Lowest, other.Lowest));
    }

    /// <summary>The chords of one part.</summary>
    /// <param name="beats">Beginnings and lengths of beats in ticks, with the number of the bar each belongs to, in
    /// order.</param>
    /// <param name="notes">The notes of the part, in the order they begin: when, and the MIDI number.</param>
    /// <returns>Chords where they begin, and how many bars made none.</returns>
    public (List<(long At, Chord Chord)> Chords, int Unnamed) Read(IReadOnlyList<(long At, long Length, int Bar)> beats,
        IReadOnlyList<(long At, int Pitch)> notes)
    {
        var chords = new List<(long At, Chord Chord)>();
        var (next, unnamed) = (0, 0);
        for (var from = 0; from < beats.Count;)
        {
            var to = from;
            while (to < beats.Count && beats[to].Bar == beats[from].Bar) to++;
            var bar = new List<Stretch>();
            for (; from < to; from++)
            {
                var (at, length, _) = beats[from];
                var stretch = new Stretch(at, 0, 127);
                // A note a little early belongs to the beat it is meant for.
                for (; next < notes.Count && notes[next].At < at + length - length / 8; next++)
                    stretch =
                        new Stretch(at, stretch.Mask | 1 << notes[next].Pitch % 12, Math.Min(stretch.Lowest, notes[next].Pitch));
                bar.Add(stretch);
            }
            if (!Name(bar, chords)) unnamed++;
        }
        return (chords, unnamed);
    }

    private bool Name(List<Stretch> bar, List<(long At, Chord Chord)> chords)
    {
        var whole = Join(bar);
        if (whole.Mask == 0) return true;
        Chord? before = chords.Count > 0 ? chords[^1].Chord : null;
        // What has only tones of the chord that sounds goes on with it.
        if (before is not null && whole.Tones < FewestTones && (whole.Mask & ~before.PitchClassMask) == 0) return true;
        var one = Named(whole, before);
        if (bar.Count >= 2 && (whole.Tones > FewestTones || one is null))
        {
            var half = bar.Count / 2;
            var (first, second) = (Join(bar[..half]), Join(bar[half..]));
            if (Named(first, before) is { } a && Named(second, a) is { } b && a.Name != b.Name
                && (one is null || whole.Tones > MostTonesOfOneChord || IsPlain(a) && IsPlain(b)))
            {
                Add(chords, first.At, a);
                Add(chords, second.At, b);
                return true;
            }
        }
        if (one is not null)
        {
            Add(chords, whole.At, one);
            return true;
        }
        var named = false;
        foreach (var beat in bar)
        {
            if (Named(beat, chords.Count > 0 ? chords[^1].Chord : null) is not { } chord) continue;
            Add(chords, beat.At, chord);
            named = true;
        }
        return named;
    }

    private static Stretch Join(List<Stretch> beats) => beats.Aggregate((a, b) => a.With(b));

    private static bool IsPlain(Chord chord) => chord.Kind is "" or "m";

    private readonly Dictionary<(int Mask, int Bass, int Before), Chord?> _named = [];

    private Chord? Named(Stretch stretch, Chord? before)
    {
        if (stretch.Tones < FewestTones) return null;
        var asked = (stretch.Mask, stretch.Lowest % 12, before?.Root.PitchClass ?? -1);
        if (!_named.TryGetValue(asked, out var known))
            _named[asked] = known = ChordNamer.Name(stretch.Mask, stretch.Lowest % 12, key, before).FirstOrDefault();
        return known;
    }

    private static void Add(List<(long At, Chord Chord)> chords, long at, Chord chord)
    {
        if (chords.Count == 0 || chords[^1].Chord.Name != chord.Name) chords.Add((at, chord));
    }
}
