using Hangfire;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Data;
using Tembri.Data.Students;

namespace Tembri.Web.Ladders;

/// <summary>How far a studio's library is arranged.</summary>
/// <param name="Waiting">Songs that wait to be arranged.</param>
/// <param name="Songs">Songs with chords.</param>
/// <param name="Missing">Versions, one a song and kind of player, that are not made yet.</param>
public sealed record ArrangingProgress(int Waiting, int Songs, int Missing);

/// <summary>Orders for songs to be arranged in the background for every kind of player in the studio: at most one a song, so that the queue is bounded and nothing is made twice.</summary>
/// <remarks>The orders are rows of the studio; the workers of all instances share one queue on the same database (Hangfire), which hands an order of a worker that was lost to another.</remarks>
internal sealed class ArrangingOrders(TembriDbContext context, IBackgroundJobClient jobs, IOptions<BackgroundOptions> options, TimeProvider clock)
{
    // A teacher who writes saves every few seconds; the song is arranged once she pauses.
    // An order whose job was lost, because the machine stopped between the two, is given out again when it is ordered again; a job too many finds nothing to do.
    private static readonly TimeSpan Lost = TimeSpan.FromMinutes(30);

    private readonly TimeSpan _pause = TimeSpan.FromSeconds(options.Value.PauseSeconds);

    /// <summary>Orders one song that was changed; it is arranged a little later, so that a chart being written is not arranged at every word.</summary>
    public Task OrderAsync(Guid song, CancellationToken leaving) => OrderAsync([song], _pause, leaving);

    /// <summary>Orders every song that is not arranged yet for a kind of player.</summary>
    public async Task OrderAllForAsync(Student student, CancellationToken leaving)
    {
        var kind = student.ToPlayer().Kind.Key;
        var missing = await context.Songs.Where(s => s.ChordCount > 0)
            .Where(s => !context.ArrangedLadders.Any(a =>
                a.SongId == s.Id && a.Kind == kind && a.Decisions == "" && a.ChartStamp == s.ChartStamp && a.Model == ArrangementStamp.ModelVersion))
            .OrderBy(s => s.Title).Select(s => s.Id).ToListAsync(leaving);
        await OrderAsync(missing, TimeSpan.Zero, leaving);
    }

    /// <summary>Orders every song that is not arranged yet for somebody of the studio.</summary>
    public async Task OrderAllAsync(CancellationToken leaving)
    {
        var students = await context.Students.AsNoTracking().ToListAsync(leaving);
        foreach (var student in students.DistinctBy(s => s.ToPlayer().Kind.Key)) await OrderAllForAsync(student, leaving);
    }

    /// <summary>How far the library is.</summary>
    public async Task<ArrangingProgress> ProgressAsync(CancellationToken leaving)
    {
        var songs = await context.Songs.CountAsync(s => s.ChordCount > 0 && s.ChordCount <= ChartLimits.MostDifferentChords, leaving);
        var kinds = (await context.Students.AsNoTracking().ToListAsync(leaving)).Select(s => s.ToPlayer().Kind.Key).Distinct().ToList();
        var made = await (
            from a in context.ArrangedLadders
            join s in context.Songs on a.SongId equals s.Id
            where kinds.Contains(a.Kind) && a.Decisions == "" && a.ChartStamp == s.ChartStamp && a.Model == ArrangementStamp.ModelVersion
            select a).CountAsync(leaving);
        return new ArrangingProgress(await context.ArrangingOrders.CountAsync(leaving), songs, Math.Max(0, songs * kinds.Count - made));
    }

    /// <summary>Takes all orders of the studio back. What is in work is finished; the rest is arranged when somebody looks at it.</summary>
    public Task CancelAsync(CancellationToken leaving) => context.ArrangingOrders.ExecuteDeleteAsync(leaving);

    private async Task OrderAsync(IReadOnlyList<Guid> songs, TimeSpan pause, CancellationToken leaving)
    {
        if (songs.Count == 0 || context.CurrentStudioId is not { } studio) return;
        var now = clock.GetUtcNow();
        var ordered = await context.Database.SqlQuery<Guid>($"""
            insert into arranging_orders (studio_id, song_id, ordered_at)
            select {studio}, song, {now} from unnest({songs.ToArray()}) as song
            where exists (select 1 from songs where studio_id = {studio} and id = song)
            on conflict (studio_id, song_id) do update set ordered_at = excluded.ordered_at where arranging_orders.ordered_at < {now - Lost}
            returning song_id as "Value"
            """).ToListAsync(leaving);
        var wanted = ordered.ToHashSet();
        foreach (var song in songs.Where(wanted.Contains))
        {
            if (pause > TimeSpan.Zero) jobs.Schedule<ArrangeSongJob>(job => job.RunAsync(studio, song, CancellationToken.None), pause);
            else jobs.Enqueue<ArrangeSongJob>(job => job.RunAsync(studio, song, CancellationToken.None));
        }
    }
}
