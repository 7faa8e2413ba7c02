using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Data.Studios;

namespace Tembri.Data.Ladders;

/// <summary>What the teacher decided about one song for one student: capo, aim and company.</summary>
public sealed class LadderChoice : IStudioOwned
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }
    public Song? Song { get; set; }
    public Guid StudentId { get; set; }
    public Student? Student { get; set; }

    /// <summary>The capo decided on; null lets the arranger choose.</summary>
    public int? Capo { get; set; }

    /// <summary>How the student's guitar is tuned, in semitones against standard; null as the record's.</summary>
    public int? Tuning { get; set; }

    public Aim Aim { get; set; } = Aim.Record;
    public Company Company { get; set; } = Company.Record;

    /// <summary>Counts what the teacher decided on this ladder, shapes taken and freed as well; a step that knows an older count is refused.</summary>
    public int Revision { get; set; }

    /// <summary>Names the last step, so that the same one sent twice counts once.</summary>
    public Guid? LastStep { get; set; }
}

/// <summary>A shape the teacher took for a chord on a rung; it stays while the rest is arranged around it.</summary>
public sealed class LockedShape : IStudioOwned
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }
    public Song? Song { get; set; }
    public Guid StudentId { get; set; }
    public Student? Student { get; set; }
    public int Rung { get; set; }

    /// <summary>Name of the sounding chord.</summary>
    public required string Chord { get; set; }

    /// <summary>The capo it was taken at; at another one it rests.</summary>
    public int Capo { get; set; }

    /// <summary>The tuning it was taken at, null for the record's; at another one it rests.</summary>
    public int? Tuning { get; set; }

    /// <summary>Frets, lowest string first, −1 for a string left out.</summary>
    public required int[] Frets { get; set; }

    /// <summary>Fingers, lowest string first.</summary>
    public required int[] Fingers { get; set; }
}

/// <summary>A computed result of one song for one student, kept for the desk.</summary>
/// <remarks>It is good as long as its stamp is; the stamp is made of everything it was computed from, the model's version included.</remarks>
public sealed class Grade : IStudioOwned
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }
    public Song? Song { get; set; }
    public Guid StudentId { get; set; }
    public Student? Student { get; set; }
    public required string Stamp { get; set; }
    public int Capo { get; set; }
    public int? WorkingRung { get; set; }

    /// <summary>One entry a rung, stored as JSON.</summary>
    public required List<RungGrade> Rungs { get; set; }
}

/// <summary>A rung's numbers.</summary>
public sealed class RungGrade
{
    public int Number { get; set; }
    public bool Feasible { get; set; }
    public double Load { get; set; }
    public double Closeness { get; set; }
    public double Fit { get; set; }
    public required string Verdict { get; set; }

    /// <summary>Beats a minute at which the changes are at ease; null when there is no such tempo.</summary>
    public double? ComfortableTempo { get; set; }

    /// <summary>What stands in the way, in a sentence.</summary>
    public string? Reason { get; set; }
}
