using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Songs;

namespace Tembri.Web.Songs;

/// <summary>What a song's chart once was. A state is kept when it gives way to another text after a pause in the work, so that
/// the words of one sitting are one step back and not a hundred; or when much of it goes at once, as by a paste over
/// all.</summary>
internal sealed class SongHistory(TembriDbContext context, TimeProvider clock)
{
    /// <summary>Lines that go at once by more than typing.</summary>
    private const int Much = 3;

    /// <summary>States younger than this are of one sitting.</summary>
    private static readonly TimeSpan Sitting = TimeSpan.FromMinutes(5);

    /// <summary>Adds the song's present text to its history, unless it is what it will be, or the sitting's beginning is kept
    /// already. Saved together with the change.</summary>
    /// <param name="song">The song, before the change.</param>
    /// <param name="text">What its chart becomes.</param>
    /// <param name="always">True to keep the text whatever was kept before.</param>
    /// <param name="leaving">Ends the work.</param>
    public async Task KeepAsync(Song song, string text, bool always, CancellationToken leaving)
    {
        if (song.ChartText == SongText.Storable(text)) return;
        var now = clock.GetUtcNow();
        var newest = await context.SongRevisions.AsNoTracking().Where(r => r.SongId == song.Id)
            .OrderByDescending(r => r.Number).Select(r => new { r.Number, r.LeftAt, r.ChartText }).FirstOrDefaultAsync(leaving);
        if (newest is not null
            && (newest.ChartText == song.ChartText
                || !always && now - newest.LeftAt < Sitting && Gone(song.ChartText, text) < Much))
            return;
        context.AddOwned(new SongRevision
        {
            SongId = song.Id, Number = (newest?.Number ?? 0) + 1, ChartText = song.ChartText, WrittenAt = song.ChangedAt,
            LeftAt = now,
        });
    }

    private static int Gone(string before, string after)
    {
        var left = after.Split('\n').Select(l => l.TrimEnd()).ToHashSet();
        return before.Split('\n').Count(l => l.Trim().Length > 0 && !left.Contains(l.TrimEnd()));
    }
}
