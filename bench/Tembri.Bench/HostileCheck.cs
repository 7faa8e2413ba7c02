using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Checking;
using Tembri.Formats;
using Tembri.Formats.Tests.Hostile;

namespace Tembri.Bench;

/// <summary>Reads hostile inputs as the application does, checks and writes what was read, and reports the slowest and the
/// hungriest.</summary>
internal static class HostileCheck
{
    private sealed record Cost(string Name, double Milliseconds, double Megabytes, string Slowest);

    public static int Run(string repository, int count)
    {
        var inputs = new HostileInputs();
        var kept = HostileInputs.Kept(repository);
        foreach (var input in kept.Take(8)) Measure(input);   // the runtime compiles
        if (count < 0)
        {
            // One input alone, to be looked at.
            var one = inputs.Make(-count);
            Console.WriteLine(System.Text.Encoding.UTF8.GetString(one.Data)[..Math.Min(one.Data.Length, 400)]);
            Console.WriteLine(Measure(one));
            return 0;
        }
        var costs = kept.Select(Measure).ToList();
        var watch = Stopwatch.StartNew();
        for (var number = 0; number < count; number++) costs.Add(Measure(inputs.Make(number)));
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{kept.Count} kept and {count:N0} generated inputs in {watch.Elapsed.TotalSeconds:0} s"));
        Console.WriteLine("slowest:");
        foreach (var c in costs.OrderByDescending(c => c.Milliseconds).Take(8))
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"  {c.Milliseconds,7:0.0} ms  {c.Megabytes,6:0.0} MB  {c.Name}  ({c.Slowest})"));
        Console.WriteLine("hungriest:");
        foreach (var c in costs.OrderByDescending(c => c.Megabytes).Take(8))
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"  {c.Milliseconds,7:0.0} ms  {c.Megabytes,6:0.0} MB  {c.Name}  ({c.Slowest})"));
        return costs.Any(c => c.Milliseconds > 500 || c.Megabytes > 100) ? 1 : 0;
    }

    [StructLayout(LayoutKind.Sequential)]
    private struct Timespec
    {
        public long Seconds;
        public long Nanoseconds;
    }

    [DllImport("libc", EntryPoint = "clock_gettime")]
    private static extern int ClockGetTime(int clock, out Timespec time);

    /// <summary>Processor time of this thread, so that other programs on the machine do not count (clock_gettime(2),
    /// CLOCK_THREAD_CPUTIME_ID).</summary>
    private static double ThreadMilliseconds() =>
        ClockGetTime(3, out var t) == 0 ? t.Seconds * 1000.0 + t.Nanoseconds / 1e6 : throw new PlatformNotSupportedException();

    /// <summary>Processor time and allocations of the dearest single step: reading, checking, or writing in one
    /// format.</summary>
    private static Cost Measure(HostileInput input)
    {
        var worst = new Cost(input.Name, 0, 0, "");
        void Step(string name, Action act)
        {
            var (before, start) = (GC.GetAllocatedBytesForCurrentThread(), ThreadMilliseconds());
            act();
            var (ms, mb) = (ThreadMilliseconds() - start, (GC.GetAllocatedBytesForCurrentThread() - before) / 1e6);
            worst = new Cost(input.Name, Math.Max(ms, worst.Milliseconds), Math.Max(mb, worst.Megabytes),
                ms > worst.Milliseconds ? name : worst.Slowest);
        }
        ChartReading? reading = null;
        Step("read", () =>
        {
            try { reading = ChartFiles.Read(input.Data).Reading; }
            catch (FormatException) { }
        });
        if (reading is null) return worst;
        Step("chords", () => _ = reading.Chart.Chords);
        var text = "";
        foreach (var format in Enum.GetValues<ChartFormat>().Where(f => f != ChartFormat.Midi)) Step("write " + format, () =>
        {
            var written = ChartFiles.Write(reading.Chart, format);
            if (format == ChartFormat.Bars) text = System.Text.Encoding.UTF8.GetString(written.Bytes);
        });
        if (text.Length <= ChartLimits.LongestText) Step("read again", () => _ = ChartReader.Read(text));
        Step("doubts", () => DoubtFinder.Find(text, reading.Chart));
        return worst;
    }
}
