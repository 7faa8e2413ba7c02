using System.Collections.Concurrent;
using System.Diagnostics;
using System.Runtime.InteropServices;
using Tembri.Core;
using Tembri.Web.Setup;

namespace Tembri.Web.Computing;

/// <summary>How much computing goes on at once; section <c>Compute</c> of the configuration.</summary>
public sealed class ComputeOptions
{
    /// <summary>Computations of each lane at once; 0 for one a core.</summary>
    public int AtOnce { get; set; }

    /// <summary>Computations that may wait for their turn in each lane; more are refused.</summary>
    public int Waiting { get; set; } = 64;

    /// <summary>Seconds a computation of the HTTP API may take, the wait for its turn included.</summary>
    public double ApiSeconds { get; set; } = 20;

    /// <summary>Seconds a computation of a page may take, the wait for its turn included.</summary>
    public double PageSeconds { get; set; } = 30;

    /// <summary>Seconds listening to a recording may take, the wait for its turn included.</summary>
    public double HearingSeconds { get; set; } = 60;

    /// <summary>Seconds a computation nobody waits for may take.</summary>
    public double BackgroundSeconds { get; set; } = 300;
}

/// <summary>There is no room for more work, or it took too long; the caller may come back.</summary>
public sealed class TooBusyException(string message, TimeSpan comeBack) : Exception(message)
{
    /// <summary>When it is worth to try again.</summary>
    public TimeSpan ComeBack { get; } = comeBack;
}

/// <summary>Where computing is done: lanes of a few threads each, one for strangers who call the HTTP API, one for pages, one
/// for recordings, and one for what nobody waits for, so that none holds up another.</summary>
/// <remarks>
/// Work has a deadline and ends when its request does. The threads of the lanes step back behind those that answer requests, so
/// that a page which is soon done need not wait for a ladder,
/// and those of the other lanes behind those of pages: on Linux they are nicer (setpriority(2) acts on one thread there);
/// elsewhere they merely are few.
/// </remarks>
internal sealed class ComputeLanes : IDisposable
{
    private readonly Lane _api;
    private readonly Lane _pages;
    private readonly Lane _hearing;
    private readonly Lane _background;

    public ComputeLanes(Microsoft.Extensions.Options.IOptions<ComputeOptions> options)
    {
        var o = options.Value;
        var threads = o.AtOnce > 0 ? o.AtOnce : Environment.ProcessorCount;
        _api = new Lane("api", threads, o.Waiting, TimeSpan.FromSeconds(o.ApiSeconds), threadsEach: 1, nicer: 4);
        _pages = new Lane("pages", threads, o.Waiting, TimeSpan.FromSeconds(o.PageSeconds), threadsEach: 0, nicer: 2);
        _hearing = new Lane("hearing", Math.Max(1, threads / 2), o.Waiting, TimeSpan.FromSeconds(o.HearingSeconds),
            threadsEach: 1, nicer: 4);
        _background = new Lane("background", Math.Max(1, threads / 2), o.Waiting, TimeSpan.FromSeconds(o.BackgroundSeconds),
            threadsEach: 1, nicer: 4);
    }

    /// <summary>Computes for the HTTP API.</summary>
    /// <exception cref="TooBusyException">Too many wait, or the time was over.</exception>
    public Task<T> ForApiAsync<T>(Func<WorkLimits, T> work, CancellationToken leaving) => _api.RunAsync(work, leaving);

    /// <summary>Computes for a page.</summary>
    /// <exception cref="TooBusyException">Too many wait, or the time was over.</exception>
    public Task<T> ForPageAsync<T>(Func<WorkLimits, T> work, CancellationToken leaving) => _pages.RunAsync(work, leaving);

    /// <summary>Listens to a recording, for the API and for pages.</summary>
    /// <exception cref="TooBusyException">Too many wait, or the time was over.</exception>
    public Task<T> ForHearingAsync<T>(Func<WorkLimits, T> work, CancellationToken leaving) => _hearing.RunAsync(work, leaving);

    /// <summary>Computes what nobody waits for.</summary>
    /// <exception cref="TooBusyException">Too many wait, or the time was over.</exception>
    public Task<T> ForBackgroundAsync<T>(Func<WorkLimits, T> work, CancellationToken leaving) =>
        _background.RunAsync(work, leaving);

    public void Dispose()
    {
        _background.Dispose();
        _hearing.Dispose();
        _api.Dispose();
        _pages.Dispose();
    }

    private sealed class Lane : IDisposable
    {
        private readonly BlockingCollection<Action> _turns;
        private readonly TimeSpan _longest;
        private readonly int _threadsEach;
        private readonly string _name;
        private int _running;

        public Lane(string name, int threads, int waiting, TimeSpan longest, int threadsEach, int nicer)
        {
            (_name, _turns, _longest, _threadsEach) =
                (name, new BlockingCollection<Action>(new ConcurrentQueue<Action>(), threads + waiting), longest, threadsEach);
            for (var i = 0; i < threads; i++)
                new Thread(() => Serve(nicer)) { IsBackground = true, Name = $"compute {name} {i + 1}" }.Start();
        }

        public async Task<T> RunAsync<T>(Func<WorkLimits, T> work, CancellationToken leaving)
        {
            var began = Stopwatch.GetTimestamp();
            using var deadline = new CancellationTokenSource(_longest);
            using var end = CancellationTokenSource.CreateLinkedTokenSource(leaving, deadline.Token);
            var over = end.Token;   // a turn may come when all of this is gone
            var done = new TaskCompletionSource<T>(TaskCreationOptions.RunContinuationsAsynchronously);
            void Turn()
            {
                // For the API the positions of a ladder are worked out one after another; a teacher who waits for a page may
                // have all cores, as long as nobody else waits:
                // what a computation takes beside its own thread are threads of the pool, which the requests live on.
                var alone = Interlocked.Increment(ref _running) == 1 && _turns.Count == 0;
                var limits = new WorkLimits(over, alone ? _threadsEach : 1);
                try
                {
                    limits.Cancel.ThrowIfCancellationRequested();
                    done.TrySetResult(work(limits));
                }
                catch (Exception e) { done.TrySetException(e); }
                finally { Interlocked.Decrement(ref _running); }
            }
            if (!_turns.TryAdd(Turn))
            {
                Measures.Refused(_name, "full");
                throw new TooBusyException("Very many ask for work at this moment. Try again shortly.", TimeSpan.FromSeconds(2));
            }
            // Who waits too long in the line is told so then, not when the line has moved on.
            try { return await done.Task.WaitAsync(over); }
            catch (OperationCanceledException) when (!leaving.IsCancellationRequested)
            {
                Measures.Refused(_name, "late");
                throw new TooBusyException($"This took longer than {_longest.TotalSeconds:0} seconds and was left off. Try "
                    + "again, or with a shorter song.",
                    TimeSpan.FromSeconds(5));
            }
            finally { Measures.Computed(_name, Stopwatch.GetElapsedTime(began)); }
        }

        private void Serve(int nicer)
        {
            if (OperatingSystem.IsLinux()) SetPriority(0, 0, nicer);
            foreach (var turn in _turns.GetConsumingEnumerable()) turn();
        }

        [DllImport("libc", EntryPoint = "setpriority")]
        private static extern int SetPriority(int which, int who, int priority);

        public void Dispose() => _turns.CompleteAdding();
    }
}
