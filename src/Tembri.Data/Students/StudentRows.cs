using Tembri.Core.Practice;
using Tembri.Data.Studios;

namespace Tembri.Data.Students;

/// <summary>What came of a student's practice. A row of its own, so that what a phone hands in does not stand against what a
/// teacher types.</summary>
public sealed class StudentProgress : IStudioOwned
{
    private Learnt? _read;
    private string _learnt = "";

    public Guid StudioId { get; set; }
    public Guid StudentId { get; set; }

    /// <summary>What practice taught, as <see cref="Core.Practice.Learnt.ToJson"/> writes it; empty for nothing yet.</summary>
    public string Learnt
    {
        get => _learnt;
        set => (_learnt, _read) = (value, null);
    }

    /// <summary>What the teacher changed in the plan, as <see cref="Core.Planning.PlanWishes.ToJson"/> writes it; empty for
    /// nothing.</summary>
    public string PlanWishes { get; set; } = "";

    /// <summary>Until when the teacher has cleared what hurt: later pain stops barre and stretch work again.</summary>
    public DateTimeOffset? PainClearedAt { get; set; }

    /// <summary>When something last hurt; null for never. The log has the entry.</summary>
    public DateTimeOffset? HurtAt { get; set; }

    /// <summary>When the student practised last.</summary>
    public DateTimeOffset? PractisedAt { get; set; }

    /// <summary>True while something hurts that the teacher has not cleared.</summary>
    public bool Hurts => HurtAt is { } at && (PainClearedAt is not { } cleared || at > cleared);

    /// <summary>What practice taught; null for nothing yet.</summary>
    public Learnt? Read() => _read ??= Core.Practice.Learnt.FromJson(_learnt);
}

/// <summary>Where learning from a student's log stands, so that a new entry is learnt from without reading all the others. Only
/// a saving: a trigger of the database takes it away when anybody changes an entry of that log.</summary>
public sealed class LearningState : IStudioOwned
{
    public Guid StudioId { get; set; }
    public Guid StudentId { get; set; }

    /// <summary>What it holds for: the model, the first guess, hand and guitar.</summary>
    public required string LearntFor { get; set; }

    /// <summary>As <see cref="LogLearner.ToJson"/> writes it.</summary>
    public required string Learner { get; set; }
}

/// <summary>A song a student works on, at one rung, from a day to a day: the current one has no end, those before are the way up
/// and down.</summary>
public sealed class SongWork : IStudioOwned
{
    public const int LongestWhy = 200;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid StudentId { get; set; }
    public Guid SongId { get; set; }
    public int Rung { get; set; }
    public DateTimeOffset StartedAt { get; set; }
    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>Why this rung was taken up, in words.</summary>
    public string Why { get; set; } = "";
}

/// <summary>A link that opens a student's own page without an account. Only a digest of its secret is kept.</summary>
/// <remarks>Found before any studio is known, so it stands outside the studio's wall; it holds nothing but where it
/// leads.</remarks>
public sealed class StudentLink
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public Guid StudentId { get; set; }

    /// <summary>SHA-256 of the secret.</summary>
    public required byte[] Digest { get; set; }

    public DateTimeOffset CreatedAt { get; set; }
    public DateTimeOffset EndsAt { get; set; }
    public DateTimeOffset? RevokedAt { get; set; }

    /// <summary>When it was used last, kept to the hour.</summary>
    public DateTimeOffset? SeenAt { get; set; }
}

/// <summary>A guitar of the studio's own.</summary>
public sealed class StudioGuitar : IStudioOwned
{
    public const int LongestName = 40;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public required string Name { get; set; }

    /// <summary>As <see cref="Core.Fretboard.GuitarMeasures.ToJson"/> writes them.</summary>
    public required string Measures { get; set; }

    public DateTimeOffset ChangedAt { get; set; }
    public Guid? RequestKey { get; set; }
    public uint Version { get; set; }
}

/// <summary>Who looked at what is kept of a student; one row a person, a thing and a day.</summary>
public sealed class StudentSight : IStudioOwned
{
    public Guid StudioId { get; set; }
    public Guid StudentId { get; set; }
    public DateOnly Day { get; set; }

    /// <summary>Who: the teacher, or the student's link.</summary>
    public required string Who { get; set; }

    /// <summary>What: the page, the logbook, the export.</summary>
    public required string What { get; set; }
}
