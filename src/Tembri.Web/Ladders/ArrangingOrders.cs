using Hangfire;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Wishes;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Students;

namespace Tembri.Web.Ladders;

/// <summary>How far a studio's library is arranged.</summary>
/// <param name="Waiting">Songs that wait to be arranged.</param>
/// <param name="Songs">Songs that can be arranged.</param>
/// <param name="Missing">Versions, one a song and kind of player, that are not made yet.</param>
public sealed record ArrangingProgress(int Waiting, int Songs, int Missing);

/// <summary>Orders for songs to be arranged in the background for every kind of player in the studio: at most one a song, worked
/// off by at most one run a studio, so that a large library holds up nobody else's.</summary>
/// <remarks>Orders and runs are rows of the studio; the runs are jobs of one queue on the same database (Hangfire), which the
/// workers of all instances share and which hands the run of a worker that was lost to another.</remarks>
internal sealed class ArrangingOrders(TembriDbContext context, IBackgroundJobClient jobs, IOptions<BackgroundOptions> options,
    TimeProvider clock)
{
    /// <summary>A run that is this late was lost between its row and its job; another may take its place.</summary>
    private static readonly TimeSpan Lost = TimeSpan.FromMinutes(30);

    /// <summary>A teacher who writes saves every few seconds; the song is arranged once she pauses.</summary>
    private readonly TimeSpan _pause = TimeSpan.FromSeconds(options.Value.PauseSeconds);

    /// <summary>Orders one song that was changed; it is arranged a little later, so that a chart being written is not arranged
    /// at every word.</summary>
    public Task OrderAsync(Guid song, CancellationToken leaving) => OrderAsync([song], clock.GetUtcNow() + _pause, leaving);

    /// <summary>Orders every song that is not arranged yet for the kinds of these students.</summary>
    public async Task OrderForAsync(IReadOnlyList<Student> students, CancellationToken leaving)
    {
        var kinds = await KindsOfAsync(students, leaving);
        var made = Made(kinds);
        var missing = await Arrangeable.Where(
                s => made.Count(a => a.SongId == s.Id && a.ChartStamp == s.ChartStamp) < kinds.Count).Select(s => s.Id)
            .ToListAsync(leaving);
        await OrderAsync(missing, clock.GetUtcNow(), leaving);
    }

    /// <summary>Orders every song that is not arranged yet for somebody of the studio.</summary>
    public async Task OrderAllAsync(CancellationToken leaving) =>
        await OrderForAsync(await context.Students.AsNoTracking().ToListAsync(leaving), leaving);

    /// <summary>How far the library is.</summary>
    public async Task<ArrangingProgress> ProgressAsync(CancellationToken leaving)
    {
        var kinds = await KindsOfAsync(await context.Students.AsNoTracking().ToListAsync(leaving), leaving);
        var songs = await Arrangeable.CountAsync(leaving);
        var made = await Made(kinds)
            .Join(Arrangeable, a => new { Id = a.SongId, a.ChartStamp }, s => new { s.Id, s.ChartStamp }, (a, s) => a)
            .CountAsync(leaving);
        return new ArrangingProgress(await context.ArrangingOrders.CountAsync(leaving), songs,
            Math.Max(0, songs * kinds.Count - made));
    }

    /// <summary>Takes all orders of the studio back. What is in work is finished; the rest is arranged when somebody looks at
    /// it.</summary>
    public Task CancelAsync(CancellationToken leaving) => context.ArrangingOrders.ExecuteDeleteAsync(leaving);

    /// <summary>The order that is due first; null when none is due yet.</summary>
    public Task<ArrangingOrder?> NextAsync(CancellationToken leaving)
    {
        var now = clock.GetUtcNow();
        return context.ArrangingOrders.AsNoTracking().Where(o => o.DueAt <= now).OrderBy(o => o.DueAt).ThenBy(o => o.SongId)
            .FirstOrDefaultAsync(leaving);
    }

    /// <summary>Crosses off an order that was worked off, unless the song was ordered anew meanwhile.</summary>
    public Task CrossOffAsync(ArrangingOrder order, CancellationToken leaving) =>
        context.ArrangingOrders.Where(o => o.SongId == order.SongId && o.DueAt == order.DueAt).ExecuteDeleteAsync(leaving);

    /// <summary>True while the run is the studio's own, not one that another took the place of.</summary>
    public Task<bool> IsRunningAsync(Guid run, CancellationToken leaving) =>
        context.ArrangingRuns.AnyAsync(r => r.Run == run, leaving);

    /// <summary>Ends a run; when orders are left, another is given out, behind those of other studios that wait.</summary>
    public async Task EndAsync(Guid run, CancellationToken leaving)
    {
        // First the end, then the look: who orders in between finds no run and starts one.
        await context.ArrangingRuns.Where(r => r.Run == run).ExecuteDeleteAsync(leaving);
        if (await context.ArrangingOrders.MinAsync(o => (DateTimeOffset?)o.DueAt, leaving) is { } due)
            await StartAsync(due, leaving);
    }

    private IQueryable<Data.Songs.Song> Arrangeable =>
        context.Songs.Where(s => s.ChordCount > 0 && s.ChordCount <= ChartLimits.MostDifferentChords);

    private IQueryable<ArrangedLadder> Made(List<string> kinds) =>
        context.ArrangedLadders.Where(
            a => kinds.Contains(a.Kind + "\n" + a.Decisions) && a.Model == ArrangementStamp.ModelVersion);

    /// <summary>What songs are arranged for: the kinds of these students, each with what the teacher wants for them in every
    /// song.</summary>
    private async Task<List<string>> KindsOfAsync(IEnumerable<Student> students, CancellationToken leaving)
    {
        var studio = TeacherWishes.Read(await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Wishes)
            .FirstOrDefaultAsync(leaving));
        return [.. students.Select(s =>
                ArrangementStamp.Of("", LadderDesk.Requested(NoChart, s.ToPlayer(), null, [], LadderDesk.WishesFor(studio, s))))
            .Select(s => $"{s.Kind}\n{s.Decisions}").Distinct()];
    }

    private static readonly Chart NoChart = new();

    private async Task OrderAsync(IReadOnlyList<Guid> songs, DateTimeOffset due, CancellationToken leaving)
    {
        if (songs.Count == 0 || context.CurrentStudioId is not { } studio) return;
        await context.Database.ExecuteSqlAsync($"""
            insert into arranging_orders (studio_id, song_id, due_at)
            select studio_id, id, {due} from songs where studio_id = {studio} and id = any({songs.ToArray()})
            on conflict (studio_id, song_id) do update set due_at = excluded.due_at
            """, leaving);
        await StartAsync(due, leaving);
    }

    /// <summary>Gives out a run, unless one is given out for the same time or an earlier one.</summary>
    private async Task StartAsync(DateTimeOffset due, CancellationToken leaving)
    {
        if (context.CurrentStudioId is not { } studio) return;
        var (run, now) = (Guid.CreateVersion7(), clock.GetUtcNow());
        var started = await context.Database.ExecuteSqlAsync($"""
            insert into arranging_runs (studio_id, run, due_at) values ({studio}, {run}, {(due > now ? due : now)})
            on conflict (studio_id) do update set run = excluded.run, due_at = excluded.due_at
            where arranging_runs.due_at > excluded.due_at or arranging_runs.due_at < {now - Lost}
            """, leaving);
        if (started == 0) return;
        await jobs.GiveAsync(queue =>
        {
            if (due > now) queue.Schedule<ArrangeStudioJob>(job => job.RunAsync(studio, run, CancellationToken.None), due);
            else queue.Enqueue<ArrangeStudioJob>(job => job.RunAsync(studio, run, CancellationToken.None));
        }, leaving);
    }
}
