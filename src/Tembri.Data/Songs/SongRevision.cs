using Tembri.Data.Studios;

namespace Tembri.Data.Songs;

/// <summary>A song's chart as it once was. Rows are added and never changed; the chart as it is now is the song's own.</summary>
public sealed class SongRevision : IStudioOwned
{
    public Guid StudioId { get; set; }
    public Guid SongId { get; set; }

    /// <summary>Counts the states of a song, from 1.</summary>
    public int Number { get; set; }

    /// <summary>The chart text.</summary>
    public required string ChartText { get; set; }

    /// <summary>When the text was last changed into this.</summary>
    public DateTimeOffset WrittenAt { get; set; }

    /// <summary>When it gave way to another text.</summary>
    public DateTimeOffset LeftAt { get; set; }
}
