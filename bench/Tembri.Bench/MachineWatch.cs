using System.Diagnostics;
using System.Globalization;

namespace Tembri.Bench;

/// <summary>What the whole machine did while something was measured, four times a second, from <c>/proc/stat</c>: a wait may be
/// the machine's and not the program's.</summary>
internal sealed class MachineWatch
{
    private static readonly TimeSpan Step = TimeSpan.FromSeconds(0.25);
    private readonly List<(double At, long[] Ticks)> _seen = [];

    /// <summary>Looks until it is told to end.</summary>
    /// <param name="clock">Gives the times, s.</param>
    /// <param name="end">Ends it.</param>
    public async Task WatchAsync(Stopwatch clock, CancellationToken end)
    {
        while (!end.IsCancellationRequested)
        {
            var ticks = File.ReadLines("/proc/stat").First().Split(' ', StringSplitOptions.RemoveEmptyEntries)[1..9]
                .Select(t => long.Parse(t, CultureInfo.InvariantCulture)).ToArray();
            lock (_seen) _seen.Add((clock.Elapsed.TotalSeconds, ticks));
            try { await Task.Delay(Step, end); }
            catch (OperationCanceledException) { return; }
        }
    }

    /// <summary>Shares of the processors' time between two moments: at work, taken by other machines, waiting for a disk, idle;
    /// and the longest time in which nobody looked, which is a machine that stood still.</summary>
    /// <param name="from">s.</param>
    /// <param name="to">s.</param>
    public string Said(double from, double to)
    {
        lock (_seen)
        {
            var first = _seen.FindLastIndex(s => s.At <= from) is >= 0 and var at ? at : 0;
            var last = _seen.FindIndex(s => s.At >= to) is >= 0 and var then ? then : _seen.Count - 1;
            if (last <= first) return "the machine was not watched";
            var spent = _seen[last].Ticks.Zip(_seen[first].Ticks, (a, b) => a - b).ToArray();
            var all = Math.Max(1.0, spent.Sum());
            var still = Enumerable.Range(first, last - first).Max(i => _seen[i + 1].At - _seen[i].At) - Step.TotalSeconds;
            // user nice system idle iowait irq softirq steal
            return string.Create(CultureInfo.InvariantCulture,
                $"machine {(all - spent[3] - spent[4] - spent[7]) / all:P0} at work, {spent[7] / all:P0} taken by others, "
                    + $"{spent[4] / all:P0} waiting for the disk, nobody looked for {Math.Max(0, still):F1} s");
        }
    }
}
