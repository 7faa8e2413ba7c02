using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Wishes;
using Tembri.Data.Studios;

namespace Tembri.Data.Ladders;

/// <summary>What the teacher decided about one song for one student: capo, aim and accompaniment.</summary>
public sealed class LadderChoice : IStudioOwned
{
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }
    public Guid StudentId { get; set; }

    /// <summary>The capo decided on; null lets the arranger choose.</summary>
    public int? Capo { get; set; }

    /// <summary>How the student's guitar is tuned, in semitones against standard; null as the record's.</summary>
    public int? Tuning { get; set; }

    /// <summary>The tuning decided on, as <see cref="Core.Fretboard.Tuning.Name"/> writes it; null for that of the student's
    /// guitar, or the song's.</summary>
    public string? Strings { get; set; }

    /// <summary>The longest tuning in words: six strings with their octaves.</summary>
    public const int LongestStrings = 40;

    /// <summary>True moves the capo up where the song's end lies higher.</summary>
    public bool CapoUp { get; set; }

    /// <summary>True while the capo is decided on only because shapes were taken at it; it is given back with the last of
    /// them.</summary>
    public bool CapoIsOfShapes { get; set; }

    /// <summary>The capo decided on before shapes brought theirs.</summary>
    public int? CapoBefore { get; set; }

    /// <summary>What the voice asks for: semitones, such as <c>-2</c>, or what the singer reaches, such as <c>A2 to E4</c>; null
    /// as the chart's header has it.</summary>
    public string? Voice { get; set; }

    /// <summary>From the lowest to the highest note of the tune, where the chart does not have it.</summary>
    public string? Tune { get; set; }

    public Aim Aim { get; set; } = Aim.Record;
    public Accompaniment Accompaniment { get; set; } = Accompaniment.Record;

    /// <summary>What the teacher wants of chords, shapes and rungs of this ladder, as <see cref="TeacherWishes.ToJson"/> writes
    /// it; empty for nothing.</summary>
    public string Wishes { get; set; } = "";

    /// <summary>The state of <see cref="LadderState"/> that is shown now; 0 for the ladder as nobody touched it.</summary>
    public int StateNumber { get; set; }

    /// <summary>Counts what the teacher decided on this ladder, shapes taken and freed as well; a step that knows an older count
    /// is refused.</summary>
    public int Revision { get; set; }

    /// <summary>Names the last step, so that the same one sent twice counts once.</summary>
    public Guid? LastStep { get; set; }

    /// <summary>The longest text of what a voice asks for.</summary>
    public const int LongestVoice = 24;

    /// <summary>A shape is taken at a place, and the place stays with it.</summary>
    public void BringCapo(int capo)
    {
        if (Capo == capo) return;
        if (!CapoIsOfShapes) (CapoIsOfShapes, CapoBefore) = (true, Capo);
        Capo = capo;
    }

    /// <summary>The last shape is freed: the place is what it was before.</summary>
    public void GiveCapoBack()
    {
        if (!CapoIsOfShapes) return;
        Capo = CapoBefore;
        (CapoIsOfShapes, CapoBefore) = (false, null);
    }

    /// <summary>The teacher decides on a capo, or lets the arranger choose.</summary>
    public void DecideCapo(int? capo) => (Capo, CapoIsOfShapes, CapoBefore) = (capo, false, null);
}

/// <summary>One state of what a teacher decided on a ladder. States are only added; going back shows an older one.</summary>
public sealed class LadderState : IStudioOwned
{
    /// <summary>States that are kept of a ladder; older ones go.</summary>
    public const int Most = 300;

    /// <summary>The longest text of what was done.</summary>
    public const int LongestWhat = 160;

    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }
    public Guid StudentId { get; set; }

    /// <summary>1 for the first step.</summary>
    public int Number { get; set; }

    /// <summary>The state the step was made on; 0 for the untouched ladder.</summary>
    public int Before { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>What the step did, in words.</summary>
    public required string What { get; set; }

    /// <summary>All decisions after the step, as <see cref="LadderSnapshot"/> writes them.</summary>
    public required string Decisions { get; set; }

    /// <summary>What the step changed for the student or the studio, as <see cref="WiderChange"/> writes it; empty for
    /// nothing.</summary>
    public string Wider { get; set; } = "";
}

/// <summary>A version of a song that a teacher made by hand: a chart of its own with its capo and shapes.</summary>
public sealed class HandVersion : IStudioOwned
{
    public const int LongestName = 60;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }
    public Guid StudentId { get; set; }
    public required string Name { get; set; }

    /// <summary>The chart as it was typed, in the names of the shapes.</summary>
    public required string ChartText { get; set; }

    public int Capo { get; set; }

    /// <summary>Shapes, one a line: a chord, its frets and, where they are given, its fingers.</summary>
    public string Shapes { get; set; } = "";

    /// <summary>The default rung whose strum is played, 1 to 5.</summary>
    public int RightHand { get; set; } = 3;

    /// <summary>The tuning of the strings it was written for, where it is not the song's; elsewhere it rests.</summary>
    public string? Strings { get; set; }

    public DateTimeOffset ChangedAt { get; set; }

    /// <summary>Changes with every save; a stale one is a conflict.</summary>
    public uint Version { get; set; }
}

/// <summary>A shape the teacher took for a chord on a rung; it stays while the rest is arranged around it.</summary>
public sealed class LockedShape : IStudioOwned
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }
    public Guid StudentId { get; set; }
    public int Rung { get; set; }

    /// <summary>The longest chord: a degree and the name of a section.</summary>
    public const int LongestChord = 240;

    /// <summary>The chord as a degree of the song's key, so that it follows when the song is moved; with the section it is
    /// looked at in, where it is set apart.</summary>
    public required string Chord { get; set; }

    /// <summary>Pitch class of the key of the shapes it was taken among; where other shapes are played it rests. Null only in a
    /// row of an older version, until the next start.</summary>
    public int? ShapeTonic { get; set; }

    /// <summary>The capo it was taken at.</summary>
    public int Capo { get; set; }

    /// <summary>The tuning it was taken at, null for the record's.</summary>
    public int? Tuning { get; set; }

    /// <summary>The tuning of the strings it was taken in, where it is not the song's; elsewhere it rests.</summary>
    public string? Strings { get; set; }

    /// <summary>Frets, lowest string first, −1 for a string left out.</summary>
    public required int[] Frets { get; set; }

    /// <summary>Fingers, lowest string first.</summary>
    public required int[] Fingers { get; set; }
}

/// <summary>The outlines of a song's ladder for one kind of player: what every student of the kind is graded from.</summary>
/// <remarks>It is good as long as its stamp is: model, chart, kind and decisions. Losing it costs only the time to make it
/// again.</remarks>
public sealed class ArrangedLadder : IStudioOwned
{
    public const int LongestKind = 80;

    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }

    /// <summary>Key of the kind of player.</summary>
    public required string Kind { get; set; }

    /// <summary>What the teacher decided for a student; empty when nothing was.</summary>
    public required string Decisions { get; set; }

    /// <summary>Digest of the chart it was made of.</summary>
    public required string ChartStamp { get; set; }

    /// <summary>Version of the model that made it.</summary>
    public int Model { get; set; }

    /// <summary>The outlines as <see cref="OutlineBytes"/> writes them.</summary>
    public required byte[] Outlines { get; set; }

    /// <summary>What the versions ask of a hand, in words that are looked for.</summary>
    public string Techniques { get; set; } = "";

    public ArrangementStamp Stamp => new(Model, ChartStamp, Kind, Decisions);
}

/// <summary>A song waits to be arranged for the kinds of player in its studio; at most one order a song.</summary>
public sealed class ArrangingOrder : IStudioOwned
{
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }

    /// <summary>When it may be worked off; moves when the song is ordered anew.</summary>
    public DateTimeOffset DueAt { get; set; }
}

/// <summary>A run that works off a studio's orders; at most one a studio.</summary>
public sealed class ArrangingRun : IStudioOwned
{
    public Guid StudioId { get; set; }

    /// <summary>Names the run, so that one that was thought lost and comes late knows it.</summary>
    public Guid Run { get; set; }

    /// <summary>When it starts.</summary>
    public DateTimeOffset DueAt { get; set; }
}
