namespace Tembri.Data.Accounts;

/// <summary>One browser a teacher is signed in with. The cookie names it; without the row the cookie is worth nothing.</summary>
public sealed class Session
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid TeacherId { get; set; }
    public Teacher? Teacher { get; set; }

    /// <summary>The browser and system in a few words, such as Firefox on Linux.</summary>
    public required string Device { get; set; }

    public DateTimeOffset StartedAt { get; set; }

    /// <summary>Kept to the minute or so.</summary>
    public DateTimeOffset SeenAt { get; set; }
}

/// <summary>Failed sign-ins of one network address for one email address; both only as a digest.</summary>
public sealed class SignInTry
{
    public required string Key { get; set; }
    public int Failures { get; set; }
    public DateTimeOffset LastAt { get; set; }
}

/// <summary>A mail that the stand-in received instead of a real server. Only in the demo.</summary>
public sealed class StandInMail
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public required string To { get; set; }
    public required string Subject { get; set; }
    public required string Body { get; set; }
    public DateTimeOffset At { get; set; }
}
