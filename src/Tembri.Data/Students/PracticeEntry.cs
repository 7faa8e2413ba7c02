using Tembri.Data.Studios;

namespace Tembri.Data.Students;

/// <summary>What an entry tells.</summary>
public enum PracticeKind
{
    /// <summary>Words of the teacher's.</summary>
    Note,
    /// <summary>Clean changes counted against the clock.</summary>
    Changes,
    /// <summary>A stretch of the song that went clean.</summary>
    Clean,
}

/// <summary>Something that was noted or counted in a lesson.</summary>
public sealed class PracticeEntry : IStudioOwned
{
    public const int LongestText = 500;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid StudentId { get; set; }

    /// <summary>The song it was about.</summary>
    public Guid SongId { get; set; }

    public DateTimeOffset At { get; set; }
    public PracticeKind Kind { get; set; }

    /// <summary>The rung that was played.</summary>
    public int Rung { get; set; }

    /// <summary>What was noted; the section and bar that went clean; the chords changed between.</summary>
    public required string Text { get; set; }

    /// <summary>Tempo in beats a minute, or null where none was played.</summary>
    public int? Tempo { get; set; }

    /// <summary>For a count: the frets left and reached, lowest string first.</summary>
    public int[]? FromFrets { get; set; }
    public int[]? ToFrets { get; set; }

    /// <summary>For a count: clean changes, and the seconds they were counted in.</summary>
    public int? Count { get; set; }
    public int? Seconds { get; set; }

    /// <summary>Names the request, so that the same one sent twice counts once.</summary>
    public Guid? RequestKey { get; set; }
}
