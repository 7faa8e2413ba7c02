using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Practice;

/// <summary>Erases what a studio does not want to keep any longer: entries of logbooks older than its months, with what was
/// taken back, and links and sights of that age.</summary>
internal sealed class Retention(IServiceScopeFactory scopes, TimeProvider clock, ILogger<Retention> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromHours(6);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        do
        {
            try { await SweepAsync(stoppingToken); }
            catch (Exception e) when (!stoppingToken.IsCancellationRequested)
            {
                log.LogWarning("Old entries could not be erased: {Fault}; it is tried again in some hours", e.GetType().Name);
            }
        }
        while (await timer.WaitForNextTickAsync(stoppingToken));
    }

    /// <summary>Goes through all studios once.</summary>
    public async Task SweepAsync(CancellationToken cancel)
    {
        List<(Guid Id, int Months)> studios;
        await using (var scope = scopes.CreateAsyncScope())
        {
            var context = scope.ServiceProvider.GetRequiredService<TembriDbContext>();
            studios = [.. (await context.Studios.AsNoTracking().Where(s => s.KeepsMonths != null)
                    .Select(s => new { s.Id, s.KeepsMonths }).ToListAsync(cancel)).Select(s => (s.Id, s.KeepsMonths!.Value))];
        }
        foreach (var (id, months) in studios)
        {
            await using var scope = scopes.CreateAsyncScope();
            ((SignedInStudio)scope.ServiceProvider.GetRequiredService<ICurrentStudio>()).Override = id;
            var context = scope.ServiceProvider.GetRequiredService<TembriDbContext>();
            var before = clock.GetUtcNow().AddMonths(-months);
            var day = DateOnly.FromDateTime(before.UtcDateTime);
            var touched =
                await context.PracticeEntries.Where(e => e.At < before).Select(e => e.StudentId).Distinct().ToListAsync(cancel);
            context.MayTakeLong();
            await context.PracticeEntries.Where(e => e.At < before).ExecuteDeleteAsync(cancel);
            await context.StudentSights.Where(s => s.Day < day).ExecuteDeleteAsync(cancel);
            await context.SongWorks.Where(w => w.EndedAt != null && w.EndedAt < before).ExecuteDeleteAsync(cancel);
            await context.StudentLinks.Where(l => l.StudioId == id && l.EndsAt < before).ExecuteDeleteAsync(cancel);
            var logbook = scope.ServiceProvider.GetRequiredService<Logbook>();
            foreach (var student in touched) await logbook.LearnAsync(student, cancel);
        }
    }
}
