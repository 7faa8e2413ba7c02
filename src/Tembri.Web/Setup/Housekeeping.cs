namespace Tembri.Web.Setup;

/// <summary>Gives memory back that a burst of work left behind: arranging makes much that is soon forgotten, and the collector waits long before it looks at the old part of the heap.</summary>
/// <remarks>A collection in the background stops nobody for more than a few milliseconds; it is asked for only while much was made since the last one.</remarks>
internal sealed class Housekeeping(TimeProvider clock) : BackgroundService
{
    private const long WorthLooking = 150_000_000;   // bytes made since the last look
    private const long Small = 220_000_000;          // bytes of heap below which nobody minds

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(5), clock);
        var lookedAt = 0L;
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            var made = GC.GetTotalAllocatedBytes();
            if (made - lookedAt < WorthLooking || GC.GetGCMemoryInfo(GCKind.Any).TotalCommittedBytes < Small) continue;
            lookedAt = made;
            GC.Collect(GC.MaxGeneration, GCCollectionMode.Forced, blocking: false);
        }
    }
}
