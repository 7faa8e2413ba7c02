using Tembri.Core.Music;

namespace Tembri.Data.Studios;

/// <summary>One teacher's private data. Every other row hangs on one.</summary>
public sealed class Studio
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public required string Name { get; set; }
    public DateTimeOffset CreatedAt { get; set; }

    /// <summary>True for the demo studio that ships with Tembri.</summary>
    public bool IsDemo { get; set; }

    /// <summary>Names of notes on screens and sheets.</summary>
    public NoteNames NoteNames { get; set; }

    /// <summary>True when fret numbers are counted from the nut also under a capo.</summary>
    public bool FretsFromNut { get; set; }

    /// <summary>Tunings of the studio's guitars in semitones against standard, the highest first.</summary>
    public int[] Tunings { get; set; } = [.. UsualTunings];

    /// <summary>The teacher's own grips, substitutions and rungs, as <see cref="Core.Wishes.TeacherWishes.ToJson"/> writes them;
    /// empty for none.</summary>
    public string Wishes { get; set; } = "";

    /// <summary>True once the teacher wants the first steps shown no more.</summary>
    public bool FirstHourDone { get; set; }

    /// <summary>How sheets are wanted, as JSON; empty for the usual way.</summary>
    public string Sheets { get; set; } = "";

    /// <summary>Months after which entries of logbooks are erased; null to keep them until somebody erases them.</summary>
    public int? KeepsMonths { get; set; }

    /// <summary>When an operator closed it: nobody gets in, and nothing is lost. Null while it is open.</summary>
    public DateTimeOffset? ClosedAt { get; set; }

    /// <summary>Changes with every save; a stale one is a conflict.</summary>
    public uint Version { get; set; }

    /// <summary>Standard, a half step and a whole step down.</summary>
    public static readonly IReadOnlyList<int> UsualTunings = [0, -1, -2];
}
