using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Formats.Sounding;
using static Tembri.Formats.Scores.ScoreXml;

namespace Tembri.Formats.Scores;

/// <summary>Chords of a score that has no chord symbols: written as plain words, else told from its notes.</summary>
internal static class ScoreChords
{
    // An A or a B alone may be the name of a section, an Am is a chord.
    private const int FewestLetters = 4, FewestNames = 2;
    private const int Ticks = 480;              // of a quarter note
    private const int MostNotes = 50_000;

    /// <summary>The part that has its chords written as plain words; null where none has.</summary>
    public static XElement? Worded(IEnumerable<XElement> parts) =>
        parts.Select(p => (Part: p, Chords: Worded(p))).Where(p => p.Chords > 0).OrderByDescending(p => p.Chords)
            .FirstOrDefault().Part;

    /// <summary>How many of a part's words are chords; 0 where they may be something else.</summary>
    private static int Worded(XElement part)
    {
        var words = part.Elements("measure").Elements("direction").Where(d => d.Descendants("words").Any()).ToList();
        var chords = words.Select(ChordOf).OfType<Chord>().ToList();
        var areChords = chords.Count(c => c.Name.Length > 1) >= FewestNames
            || chords.Count >= FewestLetters && 2 * chords.Count >= words.Count;
        return areChords ? chords.Count : 0;
    }

    /// <summary>The chord that the words of a direction are; null for other words.</summary>
    public static Chord? ChordOf(XElement direction) =>
        string.Concat(direction.Elements("direction-type").Elements("words").Select(w => w.Value)).Trim() is { Length: > 0 and < 16 } text
            && text[0] is >= 'A' and <= 'G'
            ? ChordReader.Read(text).Chord
            : null;

    /// <summary>Adds to measures the chords their notes make.</summary>
    /// <param name="parts">The parts of the score.</param>
    /// <param name="measures">Its measures as they stand on the page, with their lengths.</param>
    /// <param name="key">The key, for spelling.</param>
    /// <param name="higher">How many semitones higher than written the part that the measures were read from sounds; chords are
    /// named as it would write them.</param>
    /// <param name="problem">Told how the chords were found.</param>
    public static void Sounded(IReadOnlyList<XElement> parts, IReadOnlyList<ScoreMeasure> measures, Key key, int higher,
        Action<string> problem)
    {
        // What somebody sings alone is a tune and no broken chord.
        var played = parts.Where(p => p.Descendants("chord").Any() || !p.Descendants("lyric").Any()).ToList();
        if (played.Count == 0)
        {
            problem("This MusicXML has no chord symbols, so there is nothing to arrange; add them in the program it comes from.");
            return;
        }
        const long longest = (long)SoundedChords.LongestSong * Ticks;
        var beats = new List<(long At, long Length, int Bar)>();
        var (begins, at) = (new List<long>(), 0L);
        for (var i = 0; i < measures.Count && at < longest; i++)
        {
            begins.Add(at);
            var (meter, beat) = (measures[i].Meter, BeatOf(measures[i].Meter));
            var length = measures[i].Length > 0 ? measures[i].Length : meter.Beats;
            for (var n = 0; n < Math.Ceiling(length - 1e-6) && at + n * beat < longest; n++) beats.Add((at + n * beat, beat, i));
            at += (long)Math.Round(length * beat);
        }
        var notes = played.SelectMany((p, track) => Notes(p, begins, track, higher)).Take(MostNotes).ToList();
        var (named, areBroken) = new SoundedChords(key, Ticks, Math.Min(at, longest), "score", problem).Of(notes, beats);
        if (named.Count > 0 && !areBroken)
            problem("This score has no chord symbols; its chords are named by the notes that sound together. Listen whether they are right.");
        var bar = 0;
        foreach (var (when, chord) in named)
        {
            while (bar + 1 < begins.Count && begins[bar + 1] <= when) bar++;
            var measure = measures[bar];
            measure.Chords.Add(((double)(when - begins[bar]) / BeatOf(measure.Meter), new Slot(chord.Name, chord, 0)));
        }
    }

    private static long BeatOf(Meter meter) => (long)Ticks * NoteValues.OfBeat(meter) / NoteValues.Quarter;

    private static IEnumerable<PlayedNote> Notes(XElement part, List<long> begins, int track, int higher)
    {
        var (divisions, moved, bar) = (1, 0, 0);
        foreach (var measure in part.Elements("measure").Take(begins.Count))
        {
            foreach (var (item, at, duration) in Placed(measure))
                switch (item.Name.LocalName)
                {
                    case "attributes":
                        if (Whole(item.Element("divisions")?.Value) is > 0 and var own) divisions = own;
                        if (item.Element("transpose") is { } transpose) moved = SemitonesOf(transpose);
                        break;
                    case "note" when item.Element("grace") is null && item.Element("cue") is null:
                        if (item.Element("pitch") is { } pitch && PitchOf(pitch) is { } sounds
                            && sounds.Midi + moved - higher is >= 0 and <= 127 and var midi)
                            yield return new PlayedNote(begins[bar] + ToTicks(at),
                                begins[bar] + Math.Max(ToTicks(at) + 1, ToTicks(at + duration)), midi, track, 0);
                        break;
                }
            bar++;
        }

        long ToTicks(double at) => (long)Math.Round(Math.Min(at, LargestValue) * Ticks / divisions);
    }
}
