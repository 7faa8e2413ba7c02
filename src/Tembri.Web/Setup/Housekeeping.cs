using System.Runtime.InteropServices;
using Tembri.Core;
using Tembri.Web.Ladders;

namespace Tembri.Web.Setup;

/// <summary>Gives memory back that a burst of work left behind: arranging makes much that is soon forgotten, and the collector
/// waits long before it looks at the old part of the heap.</summary>
/// <remarks>
/// A collection in the background stops nobody for more than a few milliseconds; it is asked for only while much was made since
/// the last one.
/// It leaves the heap full of holes, though, and a heap of holes grows. Packing it stops the process for a moment (a quarter of
/// a second with 150 MB in use), so it is done twice a minute at most, only while the heap is roomy,
/// and once more when nobody asked for anything for a minute. After ten such minutes what was kept to save work is let go too:
/// whoever comes next waits a tenth of a second for it, once, and until then other programs have the room.
/// </remarks>
internal sealed class Housekeeping(TimeProvider clock, ResultCache results, LadderShelf shelf,
    ILogger<Housekeeping> log) : BackgroundService
{
    private const long WorthLooking = 100_000_000;   // bytes made since the last look
    private const long Small = 220_000_000;          // bytes of heap below which nobody minds
    private const long Roomy = 240_000_000;          // bytes of heap from which on packing is worth a moment's stop
    // bytes that clocks, the queue and measures make between two looks while nobody asks for anything
    private const long Still = 3_000_000;
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(5);
    private static readonly int LooksAMinute = (int)(TimeSpan.FromMinutes(1) / Every);
    private static readonly int LooksTillForgotten = 10 * LooksAMinute;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        var (lookedAt, lastMade, quiet, sincePacked) = (0L, 0L, 0, 0);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            var made = GC.GetTotalAllocatedBytes();
            quiet = made - lastMade < Still ? quiet + 1 : 0;
            lastMade = made;
            var heap = GC.GetGCMemoryInfo(GCKind.Any).TotalCommittedBytes;
            if (quiet == LooksTillForgotten) { results.Forget(); shelf.Forget(); }
            var isQuiet = quiet == LooksAMinute || quiet == LooksTillForgotten;
            if (isQuiet || ++sincePacked > LooksAMinute / 2 && heap > Roomy) { Pack(heap); (lookedAt, sincePacked) = (made, 0); }
            else if (made - lookedAt >= WorthLooking && heap >= Small)
            {
                GC.Collect(GC.MaxGeneration, GCCollectionMode.Forced, blocking: false);
                lookedAt = made;
            }
        }
    }

    /// <summary>Packs the heap and hands what is free back to the system, that of the C library too where it can.</summary>
    private void Pack(long before)
    {
        var start = clock.GetTimestamp();
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, blocking: true, compacting: true);
        try
        {
            if (OperatingSystem.IsLinux()) TrimNative(0);
        }
        // another C library: nothing to give back by name
        catch (Exception e) when (e is EntryPointNotFoundException or DllNotFoundException) { }
        log.LogDebug("Packed the heap from {Before} to {After} MB in {Milliseconds} ms", before / 1_000_000,
            GC.GetGCMemoryInfo(GCKind.Any).TotalCommittedBytes / 1_000_000, (long)clock.GetElapsedTime(start).TotalMilliseconds);
    }

    [DllImport("libc", EntryPoint = "malloc_trim")]
    private static extern int TrimNative(nuint keep);
}
