using Hangfire;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;

namespace Tembri.Web.Operating;

/// <summary>A name and a figure, as an operator reads them.</summary>
internal sealed record LoadLine(string Name, string Value, string Note = "");

/// <summary>How much is going on: the database, the queue all instances share, who is here.</summary>
/// <param name="context">The database.</param>
/// <param name="queue">The background work.</param>
/// <param name="clock">Now.</param>
/// <param name="watch">Who asks for measures; null where nobody is meant to.</param>
internal sealed class LoadLook(TembriDbContext context, JobStorage queue, TimeProvider clock, WhoWatches? watch = null)
{
    private static readonly TimeSpan Lately = TimeSpan.FromHours(1);

    private sealed record Database(long Size, int Connections, int Active, double OldestSeconds, bool InRecovery, int Standbys,
        double BehindSeconds, bool IsArchived, DateTimeOffset? ArchivedAt, DateTimeOffset? NotArchivedAt);

    /// <summary>True when the page is to say that nobody asks for this instance's measures.</summary>
    public bool IsUnwatched => watch is { IsAtWork: true, IsMissed: true };

    /// <summary>Reads all figures.</summary>
    /// <param name="leaving">Ends the reading.</param>
    /// <param name="ofThisProcess">False for a command, whose own memory says nothing.</param>
    public async Task<IReadOnlyList<LoadLine>> ReadAsync(CancellationToken leaving, bool ofThisProcess = true)
    {
        var database = await context.Database.SqlQuery<Database>($"""
            select pg_database_size(current_database()) as size,
              (select count(*)::int from pg_stat_activity where datname = current_database()) as connections,
              (select count(*)::int from pg_stat_activity where datname = current_database() and state = 'active') as active,
              coalesce((select extract(epoch from max(now() - xact_start)) from pg_stat_activity
                where datname = current_database() and pid <> pg_backend_pid()), 0)::float8 as oldest_seconds,
              pg_is_in_recovery() as in_recovery,
              (select count(*)::int from pg_stat_replication) as standbys,
              coalesce((select extract(epoch from max(replay_lag)) from pg_stat_replication), 0)::float8 as behind_seconds,
              current_setting('archive_mode') <> 'off' as is_archived,
              (select last_archived_time from pg_stat_archiver) as archived_at,
              (select last_failed_time from pg_stat_archiver) as not_archived_at
            """).SingleAsync(leaving);
        var lately = clock.GetUtcNow() - Lately;
        var jobs = queue.GetMonitoringApi();
        var counts = jobs.GetStatistics();
        var servers = jobs.Servers().Count(s => s.Heartbeat is { } beat && clock.GetUtcNow() - beat < TimeSpan.FromMinutes(2));
        List<LoadLine> lines =
        [
            new("Studios", $"{await context.Studios.CountAsync(leaving):N0}",
                $"{await context.Studios.CountAsync(s => s.ClosedAt != null, leaving):N0} closed"),
            new("Teachers here within the hour",
                $"{await context.Sessions.Where(s => s.SeenAt > lately).Select(s => s.TeacherId).Distinct().CountAsync(leaving):N0}",
                await context.Sessions.CountAsync(leaving) is var browsers && browsers == 1
                    ? "one browser signed in"
                    : $"{browsers:N0} browsers signed in"),
            new("Tries at accounts within the hour",
                $"{await context.SignInTries.Where(t => t.LastAt > lately).SumAsync(t => t.Failures, leaving):N0}",
                "wrong secrets, and studios opened"),
            new("Background work", $"{counts.Processing:N0} in work, {counts.Enqueued + counts.Scheduled:N0} waiting",
                $"{counts.Failed:N0} failed, {servers} {(servers == 1 ? "instance works" : "instances work")} on it"),
            new("Database", $"{database.Size / 1048576.0:N0} MB",
                $"{database.Connections} connections, {database.Active} at work; longest {database.OldestSeconds:N1}\u00a0s"),
            new("Standbys", $"{database.Standbys}",
                database.Standbys > 0 ? $"{database.BehindSeconds:N1}\u00a0s behind at most" : ""),
        ];
        if (ofThisProcess)
            lines.Add(new("This instance", $"{Environment.WorkingSet / 1048576:N0} MB",
                $"up for {Span(clock.GetUtcNow() - System.Diagnostics.Process.GetCurrentProcess().StartTime.ToUniversalTime())}"));
        if (database.IsArchived) lines.Add(Archive(database));
        if (watch is { IsAtWork: true })
            lines.Add(new("Watched", watch.IsMissed ? "by nobody" : "yes", $"measures asked for {Span(watch.Quiet)} ago"));
        return lines;
    }

    /// <summary>Where every change goes that could be brought back.</summary>
    private LoadLine Archive(Database database) =>
        database.NotArchivedAt is { } failed && (database.ArchivedAt is null || failed > database.ArchivedAt)
            ? new("Archive of changes", "stands still", $"refused {Span(clock.GetUtcNow() - failed)} ago; changes wait on the disk")
            : new("Archive of changes", database.ArchivedAt is null ? "nothing yet" : "goes on",
                database.ArchivedAt is { } at ? $"last {Span(clock.GetUtcNow() - at)} ago" : "");

    private static string Span(TimeSpan span) =>
        span.TotalMinutes < 2 ? $"{Math.Max(0, span.TotalSeconds):N0}\u00a0s"
            : span.TotalHours < 1 ? $"{span.TotalMinutes:N0} min"
            : span.TotalDays < 2 ? $"{span.TotalHours:N0} hours"
            : $"{span.TotalDays:N0} days";
}
