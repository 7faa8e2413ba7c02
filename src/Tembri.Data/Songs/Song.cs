using Tembri.Core.Music;
using Tembri.Data.Studios;

namespace Tembri.Data.Songs;

/// <summary>A song as taken down: its chart text, which is the truth, and what the desk shows of it.</summary>
public sealed class Song : IStudioOwned
{
    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public required string Title { get; set; }

    /// <summary>Chart text as the teacher wrote it.</summary>
    public required string ChartText { get; set; }

    /// <summary>Digest of the chart text: tells what was arranged from it apart from what was arranged from an older
    /// one.</summary>
    public required string ChartStamp { get; set; }

    /// <summary>Key of the record as written, such as E♭.</summary>
    public required string Key { get; set; }

    public double Tempo { get; set; }
    public required string Meter { get; set; }

    /// <summary>How many different chords it has.</summary>
    public int ChordCount { get; set; }

    /// <summary>How many places of the chart need the teacher's eye.</summary>
    public int ProblemCount { get; set; }

    /// <summary>The teacher's own words for it, such as <c>campfire</c>.</summary>
    public string[] Tags { get; set; } = [];

    /// <summary>What it is found by: words of title, sections and lyrics, chords, key, meter and tags.</summary>
    public string SearchText { get; set; } = "";

    /// <summary>True for a song that came with Tembri to be tried, so that it can be cleared away.</summary>
    public bool IsExample { get; set; }

    public const int MostTags = 20;
    public const int LongestTag = 40;

    public DateTimeOffset ChangedAt { get; set; }

    /// <summary>Names the request that made the row: the same form sent twice makes one. Null for rows that came
    /// otherwise.</summary>
    public Guid? RequestKey { get; set; }

    /// <summary>Changes with every save; a stale one is a conflict.</summary>
    public uint Version { get; set; }
}
