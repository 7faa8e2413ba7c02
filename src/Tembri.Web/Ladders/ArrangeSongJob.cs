using Hangfire;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Ladders;

/// <summary>Arranges one song for every kind of player in its studio, as it was ordered.</summary>
internal sealed class ArrangeSongJob(TembriDbContext context, ICurrentStudio current, SongGrades grades)
{
    /// <summary>Arranges the song, unless the order was taken back. Runs again after a fault; what was made stays made.</summary>
    [AutomaticRetry(Attempts = 5, OnAttemptsExceeded = AttemptsExceededAction.Delete)]
    public async Task RunAsync(Guid studio, Guid song, CancellationToken stopping)
    {
        ((SignedInStudio)current).Override = studio;
        if (!await context.ArrangingOrders.AnyAsync(o => o.SongId == song, stopping)) return;
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == song, stopping) is { } found)
        {
            var students = await context.Students.AsNoTracking().ToListAsync(stopping);
            await grades.MakeAsync(found, students, inBackground: true, stopping);
        }
        await context.ArrangingOrders.Where(o => o.SongId == song).ExecuteDeleteAsync(stopping);
    }
}
