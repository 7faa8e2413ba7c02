using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;

namespace Tembri.Web.Songs;

/// <summary>Saves a chart that was written while it may have been written elsewhere: on the version that was seen, or not at
/// all.</summary>
internal sealed class SongKeeper(TembriDbContext context, SongHistory history, ArrangingOrders orders, TimeProvider clock)
{
    /// <summary>Saves a text.</summary>
    /// <param name="song">The song as it is stored, tracked.</param>
    /// <param name="text">The text.</param>
    /// <param name="version">The version the text was written on.</param>
    /// <param name="leaving">Ends the work.</param>
    /// <returns>True when it is stored now; else what is stored, null when the song was removed.</returns>
    public async Task<(bool Kept, Song? Stored)> KeepAsync(Song song, string text, uint version, CancellationToken leaving)
    {
        // What is stored already needs no saving: an answer that was lost on its way is asked for again.
        if (song.Version != version) return song.ChartText == SongText.Storable(text) ? (true, song) : (false, song);
        await history.KeepAsync(song, text, always: false, leaving);
        SongText.Apply(song, text, clock.GetUtcNow());
        try
        {
            await context.SaveChangesAsync(leaving);
            await orders.OrderAsync(song.Id, leaving);
            return (true, song);
        }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            context.ChangeTracker.Clear();
            return (false, await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == song.Id, leaving));
        }
    }
}
