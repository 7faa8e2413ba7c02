namespace Tembri.Web.Setup;

/// <summary>Gives memory back that a burst of work left behind: arranging makes much that is soon forgotten, and the collector waits long before it looks at the old part of the heap.</summary>
/// <remarks>
/// A collection in the background stops nobody for more than a few milliseconds; it is asked for only while much was made since the last one.
/// Once nothing was asked for a minute, one more packs the heap and hands what is free back to the system: it stops the process for a moment, in which nobody is expected.
/// </remarks>
internal sealed class Housekeeping(TimeProvider clock) : BackgroundService
{
    private const long WorthLooking = 150_000_000;   // bytes made since the last look
    private const long Small = 220_000_000;          // bytes of heap below which nobody minds
    private const long Still = 3_000_000;            // bytes that clocks, the queue and measures make between two looks while nobody asks for anything
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(5);
    private static readonly int QuietLooks = (int)(TimeSpan.FromMinutes(1) / Every);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        var (lookedAt, lastMade, quiet) = (0L, 0L, 0);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            var made = GC.GetTotalAllocatedBytes();
            quiet = made - lastMade < Still ? quiet + 1 : 0;
            lastMade = made;
            if (quiet == QuietLooks) GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
            if (made - lookedAt < WorthLooking || GC.GetGCMemoryInfo(GCKind.Any).TotalCommittedBytes < Small) continue;
            lookedAt = made;
            GC.Collect(GC.MaxGeneration, GCCollectionMode.Forced, blocking: false);
        }
    }
}
