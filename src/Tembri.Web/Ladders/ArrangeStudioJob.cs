using System.Data.Common;
using System.Diagnostics;
using Hangfire;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Ladders;

/// <summary>Works off a studio's orders for a while: each song arranged for every kind of player in the studio.</summary>
internal sealed class ArrangeStudioJob(TembriDbContext context, ICurrentStudio current, SongGrades grades,
    ArrangingOrders orders, ILogger<ArrangeStudioJob> log)
{
    /// <summary>A studio's turn; then those that wait come first.</summary>
    private static readonly TimeSpan Turn = TimeSpan.FromSeconds(20);

    /// <summary>Works until the turn is over or nothing is due. Runs again after a fault; what was made stays made.</summary>
    [AutomaticRetry(Attempts = 5, OnAttemptsExceeded = AttemptsExceededAction.Delete)]
    public async Task RunAsync(Guid studio, Guid run, CancellationToken stopping)
    {
        ((SignedInStudio)current).Override = studio;
        var turn = Stopwatch.StartNew();
        while (turn.Elapsed < Turn && await orders.IsRunningAsync(run, stopping)
            && await orders.NextAsync(stopping) is { } order)
        {
            try { await ArrangeAsync(order.SongId, stopping); }
            catch (Exception e) when (e is not (OperationCanceledException or DbException or DbUpdateException))
            {
                // It holds up no other; who looks at it is told what is wrong.
                log.LogError("A song was not arranged in the background: {Fault}", e.GetType().Name);
            }
            await orders.CrossOffAsync(order, stopping);
        }
        await orders.EndAsync(run, stopping);
    }

    private async Task ArrangeAsync(Guid id, CancellationToken stopping)
    {
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, stopping) is not { } song) return;
        await grades.MakeAsync(song, await context.Students.AsNoTracking().ToListAsync(stopping), inBackground: true, stopping);
    }
}
