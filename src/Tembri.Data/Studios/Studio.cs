namespace Tembri.Data.Studios;

/// <summary>One teacher's private data. Every other row hangs on one.</summary>
public sealed class Studio
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public required string Name { get; set; }
    public DateTimeOffset CreatedAt { get; set; }

    /// <summary>True for the demo studio that ships with Tembri.</summary>
    public bool IsDemo { get; set; }
}
