using System.Diagnostics;
using System.Globalization;
using Tembri.Core;
using Tembri.Core.Ladders;

namespace Tembri.Bench;

/// <summary>Builds the bench's ladder over and over, for a profiler to watch: from nothing known, after an edit of one chord, or
/// again.</summary>
internal static class Spin
{
    // Of a kind each: the same kind on another root is known from another capo.
    private static readonly string[] NeverSeen =
        ["C#m7", "C#7", "C#maj7", "C#6", "C#m6", "C#9", "C#add9", "C#sus4", "C#dim", "C#aug", "C#m7b5", "C#7sus4", "C#dim7", "C#m9"];

    public static int Run(string what, int times)
    {
        if (what == "edits") return Edits(times);
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

    /// <summary>Nearly all the work is edits, one after the other on the same song: one chord after the other becomes another
    /// that was never seen.</summary>
    private static int Edits(int times)
    {
        var cache = new ResultCache();
        var builder = new LadderBuilder(cache);
        var before = Samples.Request(Samples.Song(12));
        var after = NeverSeen.Select(chord => Samples.Request(Samples.Song(12, chord))).ToArray();
        var each = after.Select(_ => new List<double>()).ToArray();
        for (var i = 0; i < times; i++)
        {
            cache.Forget();
            builder.Build(before);
            for (var k = 0; k < after.Length; k++)
            {
                var clock = Stopwatch.StartNew();
                builder.Build(after[k]);
                each[k].Add(clock.Elapsed.TotalMilliseconds);
            }
        }
        for (var k = 0; k < after.Length; k++)
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{NeverSeen[k],-8} median {each[k].Order().ElementAt(times / 2):0.0} ms, least {each[k].Min():0.0} ms"));
        return 0;
    }
}
