using Tembri.Core.Music;
using System.Linq.Expressions;
using Tembri.Data.Songs;

namespace Tembri.Web.Ladders;

/// <summary>A song as lists show it, without its chart.</summary>
public sealed record SongLine(Guid Id, string Title, string Key, double Tempo, string Meter, int ChordCount, int ProblemCount,
    string ChartStamp, IReadOnlyList<string> Tags)
{
    /// <summary>For queries.</summary>
    public static readonly Expression<Func<Song, SongLine>> Of =
        s => new SongLine(s.Id, s.Title, s.Key, s.Tempo, s.Meter, s.ChordCount, s.ProblemCount, s.ChartStamp, s.Tags);

    /// <summary>For a song that was read whole.</summary>
    public static readonly Func<Song, SongLine> From = Of.Compile();
}

/// <summary>Links to the stretches beside the one that is shown.</summary>
/// <param name="Stretch">The stretch shown.</param>
/// <param name="Things">What the list holds, in the plural.</param>
/// <param name="Address">Address of a page, from 1.</param>
public sealed record StretchLinks(Stretch Stretch, string Things, Func<int, string> Address);

/// <summary>A stretch of a long list.</summary>
/// <param name="First">Number of its first entry, from 0.</param>
/// <param name="Size">Entries on a page.</param>
/// <param name="All">Entries in all.</param>
public sealed record Stretch(int First, int Size, int All)
{
    /// <summary>The page asked for, or the nearest there is.</summary>
    /// <param name="page">From 1.</param>
    /// <param name="size">Entries on a page.</param>
    /// <param name="all">Entries in all.</param>
    public static Stretch Of(int? page, int size, int all) =>
        new(Math.Clamp((page ?? 1) - 1, 0, Math.Max(0, (all - 1) / size)) * size, size, all);

    public int Page => First / Size + 1;

    public int Last => Math.Min(All, First + Size);

    public bool IsWhole => All <= Size;

    public int? Before => First > 0 ? Page - 1 : null;

    public int? After => Last < All ? Page + 1 : null;
}
