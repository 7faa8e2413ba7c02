using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Songs;

namespace Tembri.Web.Songs;

/// <summary>In which order songs stand.</summary>
public enum SongOrder { Title, Key, Tempo, Changed, Chords }

/// <summary>What is looked for among the songs of a studio; bound from the address.</summary>
public sealed class SongsAsked
{
    /// <summary>Words, chords, a key, a meter, a tempo, techniques.</summary>
    public string? Q { get; set; }

    /// <summary>One of the studio's own words.</summary>
    public string? Tag { get; set; }

    /// <summary>A technique its versions ask for.</summary>
    public string? Technique { get; set; }

    public SongOrder Sort { get; set; }

    /// <summary>Whose grades are shown alone; null for everybody's, a page at a time.</summary>
    public Guid? Student { get; set; }

    /// <summary>True when anything narrows the list.</summary>
    public bool Narrows => !string.IsNullOrWhiteSpace(Q) || !string.IsNullOrEmpty(Tag) || !string.IsNullOrEmpty(Technique);

    /// <summary>The songs that are meant; where nothing is found as it is written, those whose title is like it.</summary>
    internal async Task<(IQueryable<Song> Songs, int Count)> FindAsync(TembriDbContext context, CancellationToken leaving)
    {
        var found =
            Narrowed(string.IsNullOrWhiteSpace(Q) ? context.Songs.AsNoTracking() : SongSearch.Matching(context, Q), context);
        var count = await found.CountAsync(leaving);
        if (count > 0 || string.IsNullOrWhiteSpace(Q)) return (found, count);
        found = Narrowed(SongSearch.Like(context, Q), context);
        return (found, await found.CountAsync(leaving));
    }

    private IQueryable<Song> Narrowed(IQueryable<Song> songs, TembriDbContext context)
    {
        if (!string.IsNullOrEmpty(Tag)) songs = songs.Where(s => s.Tags.Contains(Tag));
        if (!string.IsNullOrEmpty(Technique) && SongSearch.Techniques.Contains(Technique))
            songs = songs.Where(
                s => context.ArrangedLadders.Any(a => a.SongId == s.Id && EF.Functions.Like(a.Techniques, $"%{Technique}%")));
        return songs;
    }

    /// <summary>The same in order.</summary>
    internal IQueryable<Song> Ordered(IQueryable<Song> songs) => Sort switch
    {
        SongOrder.Key => songs.OrderBy(s => s.Key).ThenBy(s => s.Title).ThenBy(s => s.Id),
        SongOrder.Tempo => songs.OrderBy(s => s.Tempo).ThenBy(s => s.Title).ThenBy(s => s.Id),
        SongOrder.Changed => songs.OrderByDescending(s => s.ChangedAt).ThenBy(s => s.Id),
        SongOrder.Chords => songs.OrderBy(s => s.ChordCount).ThenBy(s => s.Title).ThenBy(s => s.Id),
        _ => songs.OrderBy(s => s.Title).ThenBy(s => s.Id),
    };

    /// <summary>The address of a page of the list.</summary>
    public string Address(int songs, int students) => "/songs?" + string.Join('&', new[]
    {
        $"songs={songs}", $"students={students}", Part("q", Q), Part("tag", Tag), Part("technique", Technique),
        Sort == SongOrder.Title ? "" : $"sort={Sort}", Part("student", Student?.ToString()),
    }.Where(p => p.Length > 0));

    private static string Part(string name, string? value) =>
        string.IsNullOrEmpty(value) ? "" : $"{name}={Uri.EscapeDataString(value)}";
}
