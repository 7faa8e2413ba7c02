using Tembri.Data.Studios;

namespace Tembri.Data.Songs;

/// <summary>What a recording told of a song's chart: times and findings, nothing of the sound.</summary>
public sealed class SongHearing : IStudioOwned
{
    public Guid SongId { get; set; }
    public Guid StudioId { get; set; }

    /// <summary>The findings as JSON.</summary>
    public required string Findings { get; set; }

    public DateTimeOffset HeardAt { get; set; }
}
