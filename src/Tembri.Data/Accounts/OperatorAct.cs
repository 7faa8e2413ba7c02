namespace Tembri.Data.Accounts;

/// <summary>Something an operator did: a line of the trail. The database lets nobody change or remove one.</summary>
/// <remarks>It names studios by identifier and name, never students or songs, and outlives the studio it is about.</remarks>
public sealed class OperatorAct
{
    public const int LongestWho = 120;
    public const int LongestWhat = 40;
    public const int LongestNote = 400;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public DateTimeOffset At { get; set; }

    /// <summary>The operator's account, or the user of the machine for the command line.</summary>
    public required string Who { get; set; }

    /// <summary>Such as <c>close</c> or <c>export</c>.</summary>
    public required string What { get; set; }

    public Guid? StudioId { get; set; }
    public string StudioName { get; set; } = "";

    /// <summary>Why, or how much.</summary>
    public string Note { get; set; } = "";
}
