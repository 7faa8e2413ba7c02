using System.Numerics;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Formats.Sounding;

/// <summary>Names the chords of a file that has none by its notes: those that sound together, else those that follow one
/// another.</summary>
/// <param name="key">The key, for spelling.</param>
/// <param name="ticks">Ticks of a quarter note.</param>
/// <param name="longest">Ticks that are listened to.</param>
/// <param name="what">What the file is called in what is said of it, such as <c>MIDI file</c>.</param>
/// <param name="problem">Told what is not sure.</param>
internal sealed class SoundedChords(Key key, int ticks, long longest, string what, Action<string> problem)
{
    /// <summary>Quarter notes that are listened to, as long as a chart of 1,000 bars of 4/4.</summary>
    public const int LongestSong = 4_000;

    /// <summary>The fewest different tones that are a chord.</summary>
    public const int FewestTones = 3;

    private const int MostParts = 8;            // parts that are looked through for broken chords

    /// <summary>The chords, with the tick each begins at.</summary>
    /// <param name="notes">The notes but for drums, in any order.</param>
    /// <param name="beats">Every beat, its length and the number of its bar.</param>
    /// <returns>The chords, and whether they are told from notes that follow one another, which is said.</returns>
    public (List<(long At, Chord Chord)> Chords, bool AreBroken) Of(IReadOnlyList<PlayedNote> notes,
        IReadOnlyList<(long At, long Length, int Bar)> beats)
    {
        var chords = Blocks(notes);
        return chords.Count > 0 ? (chords, false) : (Broken(notes, beats), true);
    }

    /// <summary>Chords by what sounds together on the track with most of it, looked at every half beat.</summary>
    private List<(long At, Chord Chord)> Blocks(IReadOnlyList<PlayedNote> notes)
    {
        var track =
            notes.GroupBy(n => (n.Track, n.Channel)).Select(g => (Notes: g.OrderBy(n => n.From).ToList(), Chords: Together(g)))
            .Where(g => g.Chords > 0).OrderByDescending(g => g.Chords).Select(g => g.Notes).FirstOrDefault();
        if (track is null) return [];
        var basses = notes.Where(n => (n.Track != track[0].Track || n.Channel != track[0].Channel) && n.Pitch < 52)
            .OrderBy(n => n.From).ToList();
        var chords = new List<(long At, Chord Chord)>();
        var grid = Math.Max(1, ticks / 2);
        var (unnamed, lows) = (0, new Sweep(basses));
        var tune = TuneAbove.In(Places(track, grid).Select(p => p.Here));
        foreach (var (at, sounding) in Places(track, grid))
        {
            var here = tune?.Below(sounding) ?? sounding;
            var mask = Mask(here);
            if (BitOperations.PopCount((uint)mask) < FewestTones) continue;
            var low = here.Concat(lows.At(at + grid / 4 + 1, at + grid / 4)).MinBy(n => n.Pitch)!.Pitch % 12;
            if (ChordNamer.Name(mask | 1 << low, low, key, chords.Count > 0 ? chords[^1].Chord : null) is not [var chord, ..])
            {
                unnamed++;
                continue;
            }
            if (chords.Count == 0 || chords[^1].Chord.PitchClassMask != chord.PitchClassMask
                || chords[^1].Chord.BassPitchClass != chord.BassPitchClass)
                chords.Add((at, chord));
        }
        if (unnamed > 0)
            problem(
                $"At {unnamed} places the notes that sound together make no chord with a name; the chord before goes on there.");
        return chords;
    }

    /// <summary>How many different tones some notes have.</summary>
    public static int Tones(IReadOnlyList<PlayedNote> notes) => BitOperations.PopCount((uint)Mask(notes));

    private static int Mask(IReadOnlyList<PlayedNote> notes) => notes.Aggregate(0, (m, n) => m | 1 << n.Pitch % 12);

    /// <summary>What sounds at every half beat of a part, where anything does.</summary>
    private IEnumerable<(long At, IReadOnlyList<PlayedNote> Here)> Places(List<PlayedNote> track, int grid)
    {
        // From place to place only what sounds is carried along; where nothing does, the next note is gone to.
        var sounding = new Sweep(track);
        var end = Math.Min(track.Max(n => n.To), longest);
        for (long at = 0; at < end; at += grid)
        {
            // What is struck a little early or late still belongs to this place.
            var here = sounding.At(at + grid / 2, at + grid / 4);
            if (here.Count > 0) yield return (at, here);
            else if (sounding.NextFrom is { } next) at = Math.Max(at, (next - grid / 2) / grid * grid);
            else yield break;
        }
    }

    /// <summary>Chords whose notes come one after the other, on the part that makes most of them.</summary>
    private List<(long At, Chord Chord)> Broken(IReadOnlyList<PlayedNote> notes,
        IReadOnlyList<(long At, long Length, int Bar)> beats)
    {
        var reader = new BrokenChords(key);
        var best = notes.GroupBy(n => (n.Track, n.Channel)).OrderByDescending(g => g.Count()).Take(MostParts)
            .Select(g => reader.Read(beats, [.. g.OrderBy(n => n.From).Select(n => (n.From, n.Pitch))]))
            .OrderByDescending(r => r.Chords.Count).FirstOrDefault();
        if (best.Chords is not { Count: > 0 } chords)
        {
            problem(notes.Count == 0
                ? $"This {what} has neither notes nor chord names, so there is nothing to read."
                : $"No chords were found in this {what}: there are no chord names, no three notes sound together, and those "
                    + "that follow one another in a bar make no chord. Bring a file with a guitar or piano part.");
            return [];
        }
        problem(
            $"The chords of this {what} are told from notes that are struck one after the other, bar by bar; listen whether "
                + "they are right.");
        if (best.Unnamed > 0)
            problem(
                $"In {(best.Unnamed == 1 ? "one bar" : $"{best.Unnamed} bars")} those notes make no chord with a name; the "
                    + "chord before goes on there.");
        return chords;
    }

    /// <summary>Notes in the order they begin, with those that sound kept at hand.</summary>
    private sealed class Sweep(IReadOnlyList<PlayedNote> notes)
    {
        private const int MostSounding = 64;
        private readonly List<PlayedNote> _sounding = [];
        private int _next;

        /// <summary>When the next note begins; null when there is none.</summary>
        public long? NextFrom => _next < notes.Count ? notes[_next].From : null;

        /// <summary>The notes that begin before one time and end after another. Times never go back.</summary>
        public IReadOnlyList<PlayedNote> At(long before, long after)
        {
            _sounding.RemoveAll(n => n.To <= after);
            for (; _next < notes.Count && notes[_next].From < before; _next++)
                if (notes[_next].To > after && _sounding.Count < MostSounding) _sounding.Add(notes[_next]);
            return _sounding;
        }
    }

    private int Together(IEnumerable<PlayedNote> notes) =>
        notes.GroupBy(n => n.From / Math.Max(1, ticks / 4))
            .Count(g => g.Select(n => n.Pitch % 12).Distinct().Count() >= FewestTones);
}
