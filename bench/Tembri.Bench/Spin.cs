using System.Diagnostics;
using System.Globalization;
using Tembri.Core;
using Tembri.Core.Ladders;

namespace Tembri.Bench;

/// <summary>Builds the bench's ladder over and over, for a profiler to watch: from nothing known, after an edit of one chord, or
/// again.</summary>
internal static class Spin
{
    public static int Run(string what, int times)
    {
        var cache = new ResultCache();
        var builder = new LadderBuilder(cache);
        var (before, after) = (Samples.Request(Samples.Song(12)), Samples.Request(Samples.Song(12, "C#m7")));
        builder.Build(before);
        var clock = new Stopwatch();
        var all = new List<double>();
        long bytes = 0;
        var processor = TimeSpan.Zero;
        for (var i = 0; i < times; i++)
        {
            if (what != "again") cache.Forget();
            if (what == "edit") builder.Build(before);
            var allocated = GC.GetTotalAllocatedBytes(precise: true);
            var worked = Environment.CpuUsage.TotalTime;
            clock.Restart();
            builder.Build(what == "edit" ? after : before);
            all.Add(clock.Elapsed.TotalMilliseconds);
            processor += Environment.CpuUsage.TotalTime - worked;
            bytes += GC.GetTotalAllocatedBytes(precise: true) - allocated;
        }
        all.Sort();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{what}: median {all[times / 2]:0.0} ms, least {all[0]:0.0} ms, {processor.TotalMilliseconds / times:0.0} ms of "
                + $"processors, {bytes / 1e6 / times:0.0} MB allocated"));
        return 0;
    }
}
