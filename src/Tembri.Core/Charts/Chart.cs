using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>A chord chart as taken down: what the record plays. Chords are those that sound.</summary>
public sealed record Chart
{
    /// <summary>Title.</summary>
    public string Title { get; init; } = "";

    /// <summary>Key of the record.</summary>
    public Key Key { get; init; }

    /// <summary>True when the chart names its key, false when it was guessed from the chords.</summary>
    public bool KeyIsGiven { get; init; }

    /// <summary>Beats a minute.</summary>
    public double Tempo { get; init; } = 90;

    /// <summary>The meter bars have unless they say otherwise.</summary>
    public Meter Meter { get; init; } = Meter.Common;

    /// <summary>How the record's guitars are tuned, in semitones against standard: −1 is a half step down.</summary>
    public int TuningShift { get; init; }

    /// <summary>How the record's guitars are tuned string by string, apart from <see cref="TuningShift"/>.</summary>
    public Tuning Strings { get; init; } = Tuning.Standard;

    /// <summary>The open strings of the record with its capo: where strings and frets of figures are counted.</summary>
    public Tuning StringsAtRecord => Strings.Shift(RecordCapo + TuningShift);

    /// <summary>Capo on the record, for the notes; 0 for none.</summary>
    public int RecordCapo { get; init; }

    /// <summary>Semitones to move the song for the singer; used with the aim <c>voice</c>.</summary>
    public int VoiceShift { get; init; }

    /// <summary>What the singer can reach; null when the teacher has not said.</summary>
    public PitchRange? Singer { get; init; }

    /// <summary>From the lowest to the highest note of the tune on the record, as given; null when it was not.</summary>
    public PitchRange? MelodyGiven { get; init; }

    /// <summary>From the lowest to the highest note of the tune: as given, or read off the tune; null when neither is
    /// known.</summary>
    public PitchRange? MelodyRange
    {
        get
        {
            if (MelodyGiven is not null) return MelodyGiven;
            var notes = Sections.SelectMany(s => s.Bars).SelectMany(b => b.Melody).Select(n => n.Pitch).ToList();
            return notes.Count == 0 ? null : new PitchRange(notes.MinBy(p => p.Midi), notes.MaxBy(p => p.Midi));
        }
    }

    /// <summary>Other recordings of the song.</summary>
    public IReadOnlyList<Recording> Recordings { get; init; } = [];

    /// <summary>Other header lines, kept as they are.</summary>
    public IReadOnlyList<(string Name, string Value)> Extra { get; init; } = [];

    /// <summary>The teacher's own words for the song, from the header line <c>tags</c>, in small letters.</summary>
    public IReadOnlyList<string> Tags =>
        [.. Extra.Where(e => e.Name.Equals("tags", StringComparison.OrdinalIgnoreCase))
            .SelectMany(e => e.Value.Split([',', ';'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            .Select(t => t.ToLowerInvariant()).Distinct()];

    /// <summary>Sections in the order they are written.</summary>
    public IReadOnlyList<Section> Sections { get; init; } = [];

    /// <summary>The order in which sections are played.</summary>
    public IReadOnlyList<FormPart> Form { get; init; } = [];

    /// <summary>The section of a name, or null.</summary>
    public Section? SectionNamed(string name) =>
        Sections.FirstOrDefault(s => s.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

    /// <summary>Where each bar that is played stands, in playing order: its section, and its place in it, both from 0.</summary>
    public IEnumerable<(int Section, int Bar)> PlayedPlaces()
    {
        foreach (var part in Form)
        {
            var section = IndexOf(part.Section);
            if (section < 0) continue;
            for (var i = 0; i < part.Times; i++)
                for (var bar = 0; bar < Sections[section].Bars.Count; bar++) yield return (section, bar);
        }
    }

    /// <summary>Place of a section in the chart, from 0; −1 when it has none of that name.</summary>
    internal int IndexOf(string name)
    {
        for (var i = 0; i < Sections.Count; i++) if (Sections[i].Name.Equals(name, StringComparison.OrdinalIgnoreCase)) return i;
        return -1;
    }

    /// <summary>All bars in playing order.</summary>
    public IEnumerable<Bar> PlayedBars() => PlayedPlaces().Select(p => Sections[p.Section].Bars[p.Bar]);

    /// <summary>All slots in playing order.</summary>
    public IEnumerable<Slot> Played() => PlayedBars().SelectMany(b => b.Slots);

    /// <summary>The different chords, in order of their first appearance.</summary>
    public IReadOnlyList<Chord> Chords =>
        [.. Played().Concat(Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots)).Select(s => s.Chord).OfType<Chord>()
            .Distinct()];
}
