using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts;

/// <summary>A chord with its length.</summary>
/// <param name="Symbol">As written in the chart.</param>
/// <param name="Chord">The chord; null for silence or for a symbol nobody could read.</param>
/// <param name="Beats">Length in beats of its bar's meter, above 0.</param>
/// <param name="Lyric">Words that begin with the chord; empty when there are none.</param>
/// <param name="Line">Line in the text it was read from, from 1.</param>
/// <param name="Column">Column in that line, from 1.</param>
public sealed record Slot(string Symbol, Chord? Chord, double Beats, string Lyric = "", int Line = 0, int Column = 0)
{
    /// <summary>True when the change comes pushed: one division of a beat before its place, on the "and".</summary>
    public bool IsEarly { get; init; }

    /// <summary>True when the symbol is meant as a chord but could not be read.</summary>
    public bool IsUnread => Chord is null && !IsSilence;

    /// <summary>True for N.C.</summary>
    public bool IsSilence => Chord is null && ChordReader.Read(Symbol).IsSilence;
}

/// <summary>A bar.</summary>
/// <param name="Meter">Its meter.</param>
/// <param name="Slots">Its chords in order; never empty.</param>
/// <param name="StartsLine">True when a new line of the chart begins here.</param>
/// <param name="Lead">Words before the first chord.</param>
public sealed record Bar(Meter Meter, IReadOnlyList<Slot> Slots, bool StartsLine = false, string Lead = "")
{
    /// <summary>Marks a bar is held by when its last chord rings on for as long again.</summary>
    public const string Hold = "hold";

    /// <summary>Marks a bar that is followed by a bar's pause.</summary>
    public const string Pause = "pause";

    /// <summary>Marks a bar in which the tempo slows down.</summary>
    public const string Slow = "slow";

    /// <summary>What is to be done in this bar besides the chords: <see cref="Hold"/>, <see cref="Pause"/>, <see cref="Slow"/>, or words of the teacher's own.</summary>
    public IReadOnlyList<string> Remarks { get; init; } = [];

    /// <summary>The tune, where it was taken down; notes in order.</summary>
    public IReadOnlyList<MelodyNote> Melody { get; init; } = [];

    /// <summary>Where the text has it; null for a bar that was not read from chart text.</summary>
    public BarSpan? Span { get; init; }

    /// <summary>Length in beats, as its chords have it.</summary>
    public double Beats => Slots.Sum(s => s.Beats);

    /// <summary>Pitch classes of the tune that meet a stretch of the bar, bit n for pitch class n. A note that only grazes the stretch does not count.</summary>
    /// <param name="from">Beats from the start of the bar.</param>
    /// <param name="to">Where the stretch ends.</param>
    public int MelodyMask(double from, double to)
    {
        var mask = 0;
        foreach (var note in Melody)
        {
            var shared = Math.Min(to, note.At + note.Beats) - Math.Max(from, note.At);
            if (shared > 0.25 || shared > 0 && note.At >= from) mask |= 1 << note.Pitch.Midi % 12;
        }
        return mask;
    }
}

/// <summary>What part a section plays in a song.</summary>
public enum SectionKind
{
    /// <summary>A part with a name of its own.</summary>
    Own,
    /// <summary>Before the song proper.</summary>
    Intro,
    /// <summary>Verse.</summary>
    Verse,
    /// <summary>Leads to the chorus.</summary>
    PreChorus,
    /// <summary>Chorus.</summary>
    Chorus,
    /// <summary>Comes out of the chorus.</summary>
    PostChorus,
    /// <summary>Bridge.</summary>
    Bridge,
    /// <summary>Interlude.</summary>
    Interlude,
    /// <summary>Solo.</summary>
    Solo,
    /// <summary>The end.</summary>
    Outro,
}

/// <summary>A section of a song.</summary>
/// <param name="Name">Its name, such as Verse 1.</param>
/// <param name="Bars">Its bars.</param>
public sealed record Section(string Name, IReadOnlyList<Bar> Bars)
{
    private static readonly (string Word, SectionKind Kind)[] Kinds =
    [
        ("pre", SectionKind.PreChorus), ("post", SectionKind.PostChorus), ("intro", SectionKind.Intro), ("verse", SectionKind.Verse), ("chorus", SectionKind.Chorus), ("refrain", SectionKind.Chorus),
        ("bridge", SectionKind.Bridge), ("middle", SectionKind.Bridge), ("inter", SectionKind.Interlude), ("turn", SectionKind.Interlude), ("solo", SectionKind.Solo), ("outro", SectionKind.Outro),
        ("ending", SectionKind.Outro), ("coda", SectionKind.Outro),
    ];

    /// <summary>What part it plays, read off its name.</summary>
    public SectionKind Kind => Kinds.FirstOrDefault(k => Name.StartsWith(k.Word, StringComparison.OrdinalIgnoreCase)).Kind;

    /// <summary>Line of its heading in the text it was read from, from 1; 0 when it was not read from text.</summary>
    public int Line { get; init; }

    /// <summary>The section this one is written after: all of its bars but the changed ones follow that section. Null for a section of its own.</summary>
    public string? Like { get; init; }

    /// <summary>For a section written after another one the bars of its own, counted from 1.</summary>
    public IReadOnlyList<int> OwnBars { get; init; } = [];

    /// <summary>For a section written after another one its own words, a line for each line of bars.</summary>
    public IReadOnlyList<string> Words { get; init; } = [];

    /// <summary>What the record's hand strums or picks here, as <see cref="Strums.HandSteps"/> reads it; empty when it was not taken down.</summary>
    public string Strum { get; init; } = "";

    /// <summary>Length in beats.</summary>
    public double Beats => Bars.Sum(b => b.Beats);

    /// <summary>The bars in lines as the chart has them, no line longer than a number of bars.</summary>
    /// <param name="longest">Most bars in a line, 1 or more.</param>
    public IEnumerable<IReadOnlyList<Bar>> Lines(int longest)
    {
        var line = new List<Bar>();
        foreach (var bar in Bars)
        {
            if (line.Count > 0 && (bar.StartsLine || line.Count >= longest)) { yield return line; line = []; }
            line.Add(bar);
        }
        if (line.Count > 0) yield return line;
    }
}

/// <summary>A section played a number of times.</summary>
/// <param name="Section">Name of the section.</param>
/// <param name="Times">1 or more.</param>
public readonly record struct FormPart(string Section, int Times);

/// <summary>A recording of the song that differs from the one taken down.</summary>
/// <param name="Name">Such as live.</param>
/// <param name="Capo">The capo there.</param>
/// <param name="Tuning">The tuning there, in semitones against standard.</param>
/// <param name="Tempo">Its tempo; null for that of the chart.</param>
public sealed record Recording(string Name, int Capo, int Tuning, double? Tempo);

/// <summary>Something in a chart that needs the teacher's eye.</summary>
/// <param name="Line">Line, from 1.</param>
/// <param name="Column">Column, from 1.</param>
/// <param name="Message">What is wrong and what to do.</param>
public sealed record ChartProblem(int Line, int Column, string Message);

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

    /// <summary>Capo on the record, for the notes; 0 for none.</summary>
    public int RecordCapo { get; init; }

    /// <summary>Semitones to move the song for the singer; used with the aim <c>voice</c>.</summary>
    public int VoiceShift { get; init; }

    /// <summary>What the singer can reach; null when the teacher has not said.</summary>
    public PitchRange? Singer { get; init; }

    /// <summary>From the lowest to the highest note of the tune on the record, as given; null when it was not.</summary>
    public PitchRange? MelodyGiven { get; init; }

    /// <summary>From the lowest to the highest note of the tune: as given, or read off the tune; null when neither is known.</summary>
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

    /// <summary>Sections in the order they are written.</summary>
    public IReadOnlyList<Section> Sections { get; init; } = [];

    /// <summary>The order in which sections are played.</summary>
    public IReadOnlyList<FormPart> Form { get; init; } = [];

    /// <summary>The section of a name, or null.</summary>
    public Section? SectionNamed(string name) => Sections.FirstOrDefault(s => s.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

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

    private int IndexOf(string name)
    {
        for (var i = 0; i < Sections.Count; i++) if (Sections[i].Name.Equals(name, StringComparison.OrdinalIgnoreCase)) return i;
        return -1;
    }

    /// <summary>All bars in playing order.</summary>
    public IEnumerable<Bar> PlayedBars() => PlayedPlaces().Select(p => Sections[p.Section].Bars[p.Bar]);

    /// <summary>All slots in playing order.</summary>
    public IEnumerable<Slot> Played() => PlayedBars().SelectMany(b => b.Slots);

    /// <summary>The different chords, in order of their first appearance.</summary>
    public IReadOnlyList<Chord> Chords => [.. Played().Concat(Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots)).Select(s => s.Chord).OfType<Chord>().Distinct()];
}
