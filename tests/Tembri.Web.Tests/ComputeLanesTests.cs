using System.Diagnostics;
using System.Globalization;
using Microsoft.Extensions.Options;
using Tembri.Core;
using Tembri.Web.Computing;

namespace Tembri.Web.Tests;

/// <summary>How computing takes turns: who has the cores, who is sent away, who is told that it takes too long.</summary>
public sealed class ComputeLanesTests
{
    private static readonly TimeSpan Long = TimeSpan.FromSeconds(20);

    [Fact]
    public async Task Who_is_alone_has_all_cores_and_who_is_not_one_thread()
    {
        using var lanes = Lanes(new() { AtOnce = 2 });
        Assert.Equal(0, await lanes.ForPageAsync(w => w.MostThreads, default));
        Assert.Equal(1, await lanes.ForApiAsync(w => w.MostThreads, default));
        using var hold = new ManualResetEventSlim();
        var (first, began) = Hold(lanes, hold);
        await began;
        // Two lanes do not know of each other; in one lane the second is not alone.
        Assert.Equal(1, await lanes.ForPageAsync(w => w.MostThreads, default));
        Assert.Equal(1, await lanes.ForApiAsync(w => w.MostThreads, default));
        hold.Set();
        Assert.Equal(0, await first);
        Assert.Equal(0, await lanes.ForPageAsync(w => w.MostThreads, default));
    }

    [Fact]
    public async Task Who_comes_to_a_full_line_is_sent_away_at_once_and_the_others_are_served_in_turn()
    {
        using var lanes = Lanes(new() { AtOnce = 1, Waiting = 1 });
        using var hold = new ManualResetEventSlim();
        var (first, began) = Hold(lanes, hold);
        await began;
        var order = new List<int>();
        Task<int> Next(int n) => lanes.ForPageAsync(_ => { order.Add(n); return n; }, default);
        Task<int>[] waiting = [Next(1), Next(2)];
        var full = await Assert.ThrowsAsync<TooBusyException>(() => Next(3));
        Assert.True(full.ComeBack > TimeSpan.Zero);
        // Another lane has a line of its own.
        Assert.Equal(7, await lanes.ForApiAsync(_ => 7, default));
        hold.Set();
        int[] served = await Task.WhenAll(waiting);
        Assert.Equal([1, 2], served);
        Assert.Equal([1, 2], order);
        await first;
        Assert.Equal(4, await Next(4));
    }

    [Fact]
    public async Task Who_waits_too_long_is_told_then_and_its_work_is_not_begun()
    {
        using var lanes = Lanes(new() { AtOnce = 1, PageSeconds = 0.3 });
        using var hold = new ManualResetEventSlim();
        var (first, began) = Hold(lanes, hold);
        await began;
        var ran = false;
        var watch = Stopwatch.StartNew();
        await Assert.ThrowsAsync<TooBusyException>(() => lanes.ForPageAsync(_ => ran = true, default));
        Assert.InRange(watch.Elapsed, TimeSpan.FromSeconds(0.25), Long);
        // The one that holds the line was told as well, though it does not look at its token.
        await Assert.ThrowsAsync<TooBusyException>(() => first);
        hold.Set();
        Assert.Equal(1, await lanes.ForPageAsync(_ => 1, default));
        Assert.False(ran);
    }

    [Fact]
    public async Task Who_leaves_ends_its_work_and_a_fault_is_the_callers()
    {
        using var lanes = Lanes(new() { AtOnce = 1 });
        using var leaving = new CancellationTokenSource();
        var ended = new TaskCompletionSource();
        using var seen = new ManualResetEventSlim();
        var work = lanes.ForPageAsync(w =>
        {
            leaving.CancelAfter(50);
            if (w.Cancel.WaitHandle.WaitOne(Long)) ended.SetResult();
            // The caller does not wait for what it left; work that answered at once might be taken as an answer.
            seen.Wait(Long);
            return 0;
        }, leaving.Token);
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => work);
        seen.Set();
        await ended.Task.WaitAsync(Long);
        await Assert.ThrowsAsync<FormatException>(() => lanes.ForPageAsync<int>(_ => throw new FormatException(), default));
        Assert.Equal(2, await lanes.ForPageAsync(_ => 2, default));
    }

    [Fact]
    public async Task Requests_go_before_pages_that_compute_and_those_before_all_else()
    {
        if (!OperatingSystem.IsLinux()) Assert.Skip("Threads step back on Linux only.");
        using var lanes = Lanes(new() { AtOnce = 1 });
        var page = await lanes.ForPageAsync(_ => Nice(), default);
        Assert.InRange(page, Nice() + 1, 19);
        foreach (var other in new[]
        {
            await lanes.ForApiAsync(_ => Nice(), default), await lanes.ForHearingAsync(_ => Nice(), default),
            await lanes.ForBackgroundAsync(_ => Nice(), default)
        })
            Assert.InRange(other, page + 1, 19);
    }

    /// <summary>How far the thread steps back: the nineteenth field of proc_pid_stat(5), counted behind the name, which may hold
    /// blanks.</summary>
    private static int Nice()
    {
        var stat = File.ReadAllText("/proc/thread-self/stat");
        return int.Parse(stat[(stat.LastIndexOf(')') + 2)..].Split(' ')[16], CultureInfo.InvariantCulture);
    }

    private static ComputeLanes Lanes(ComputeOptions options) => new(Options.Create(options));

    /// <summary>Something on the lane of pages that goes on until it is let go; says how many threads it had.</summary>
    private static (Task<int> Done, Task Began) Hold(ComputeLanes lanes, ManualResetEventSlim hold)
    {
        var began = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        return (lanes.ForPageAsync(w => { began.SetResult(); hold.Wait(Long); return w.MostThreads; }, default), began.Task);
    }
}
