using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;

namespace Tembri.Bench;

/// <summary>How much memory a library of charts takes, and how long it takes to read.</summary>
internal static class LibraryMemory
{
    public static int Run(IReadOnlyList<string> files)
    {
        var texts = files.Select(File.ReadAllText).ToList();
        Console.WriteLine("| songs | read, ms | memory, MB |\n|---|---|---|");
        foreach (var count in new[] { 100, 1_000, 5_000, 10_000 })
        {
            var before = GC.GetTotalMemory(forceFullCollection: true);
            var clock = System.Diagnostics.Stopwatch.StartNew();
            var charts = Enumerable.Range(0, count).Select(i => ChartReader.Read(texts[i % texts.Count] + $"\n# copy {i}").Chart)
                .ToList();
            var time = clock.Elapsed.TotalMilliseconds;
            var memory = (GC.GetTotalMemory(forceFullCollection: true) - before) / 1e6;
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"| {charts.Count:N0} | {time:0} | {memory:0.0} |"));
        }
        return 0;
    }
}
