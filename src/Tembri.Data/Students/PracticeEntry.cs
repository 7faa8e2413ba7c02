using Tembri.Data.Studios;

namespace Tembri.Data.Students;

/// <summary>What an entry tells.</summary>
public enum PracticeKind
{
    /// <summary>Words.</summary>
    Note,
    /// <summary>Clean changes counted against the clock.</summary>
    Changes,
    /// <summary>A stretch of the song, played at a tempo: it went clean, or not.</summary>
    Clean,
    /// <summary>Tries of one shape.</summary>
    Shape,
    /// <summary>A pattern of the right hand at a tempo: it went, or not.</summary>
    Strum,
    /// <summary>Minutes of practice, how hard they felt, whether anything hurt.</summary>
    Time,
}

/// <summary>Who wrote an entry.</summary>
public enum Author
{
    Teacher,
    Student,
}

/// <summary>Something that was noted, counted or tried. Never changed: a correction is a new entry that takes the place of the
/// old one, which stays with its end.</summary>
public sealed class PracticeEntry : IStudioOwned
{
    public const int LongestText = 500;
    public const int MostMinutes = 600;
    public const int LongestGuitar = 160;
    public const int LongestPattern = 200;
    public const int LongestMeter = 8;

    /// <summary>How hard it felt: 1 easy to 5 as hard as can be.</summary>
    public const int MostFelt = 5;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid StudentId { get; set; }

    /// <summary>The song it was about; null when about none, or the song is gone.</summary>
    public Guid? SongId { get; set; }

    public DateTimeOffset At { get; set; }
    public PracticeKind Kind { get; set; }
    public Author By { get; set; }

    /// <summary>The rung that was played; 0 for none.</summary>
    public int Rung { get; set; }

    /// <summary>What was noted; the section and bar that went clean; the chords changed between; the chord of a shape.</summary>
    public required string Text { get; set; }

    /// <summary>Tempo in beats a minute, or null where none was played.</summary>
    public int? Tempo { get; set; }

    /// <summary>For a count: the frets left and reached, lowest string first. For a shape: those reached are its own. For a
    /// stretch: the change in it that is hardest to bring in time.</summary>
    public int[]? FromFrets { get; set; }
    public int[]? ToFrets { get; set; }

    /// <summary>The fingers, 0 none, 1 to 4, 5 the thumb; null when it is not known.</summary>
    public int[]? FromFingers { get; set; }
    public int[]? ToFingers { get; set; }

    /// <summary>Fret of the capo it was played with.</summary>
    public int Capo { get; set; }

    /// <summary>For a count: clean changes, and the seconds they were counted in. For a shape: clean tries.</summary>
    public int? Count { get; set; }
    public int? Seconds { get; set; }

    /// <summary>For a shape: how often it was tried.</summary>
    public int? Tries { get; set; }

    /// <summary>For a stretch and for a pattern: whether it went; null means it did.</summary>
    public bool? Went { get; set; }

    /// <summary>For a stretch: beats its strum leaves for the hardest change.</summary>
    public double? FreeBeats { get; set; }

    /// <summary>For a pattern: its letters, its meter and its swing.</summary>
    public string? Pattern { get; set; }
    public string? Meter { get; set; }
    public int? Swing { get; set; }

    public int? Minutes { get; set; }

    /// <summary>How hard it felt, 1 to <see cref="MostFelt"/>.</summary>
    public int? Felt { get; set; }

    /// <summary>True when something hurt, tingled or went numb.</summary>
    public bool Hurt { get; set; }

    /// <summary>The guitar it was played on: a preset, or measures as <see cref="Core.Fretboard.GuitarMeasures.ToJson"/> writes
    /// them; null for the student's own of today.</summary>
    public string? Guitar { get; set; }

    /// <summary>When and by whom it was taken back or corrected; null while it counts.</summary>
    public DateTimeOffset? EndedAt { get; set; }
    public Author? EndedBy { get; set; }

    /// <summary>The entry this one corrects.</summary>
    public Guid? Corrects { get; set; }

    /// <summary>Names the request, so that the same one sent twice counts once.</summary>
    public Guid? RequestKey { get; set; }
}
