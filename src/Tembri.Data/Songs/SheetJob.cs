using Tembri.Data.Studios;

namespace Tembri.Data.Songs;

/// <summary>Sheets for several students that are made in the background: how far it is, and what came of it.</summary>
public sealed class SheetJob : IStudioOwned
{
    public const int LongestName = 120;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public required string Name { get; set; }

    /// <summary>Which sheets, as JSON.</summary>
    public required string Sheets { get; set; }

    /// <summary>How many sheets there are, and how many are done.</summary>
    public int All { get; set; }
    public int Done { get; set; }

    public DateTimeOffset CreatedAt { get; set; }

    /// <summary>True once somebody wants it no more.</summary>
    public bool IsCancelled { get; set; }

    /// <summary>The booklet; null until it is made.</summary>
    public byte[]? Pdf { get; set; }

    /// <summary>What could not be made, in words; empty for nothing.</summary>
    public string Left { get; set; } = "";
}
