using System.Diagnostics;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;

namespace Tembri.Web.Setup;

/// <summary>Builds a few ladders after the start and opens the pages people open most, so that the first teacher does not wait
/// for the runtime to compile and for common shapes to be found. Until then <c>/health/ready</c> says that the instance is not
/// ready: others of an installation answer meanwhile.</summary>
internal sealed class WarmUp(LadderBuilder builder, Rehearsal rehearsal, IHostApplicationLifetime life, ILogger<WarmUp> log)
    : BackgroundService
{
    // Common chords of the friendly keys and of one that needs barres; every capo makes more of them.
    private static readonly string[] Charts =
        ["| C | G | Am | F | Dm | Em | G7 | C/E |", "| E | A | B7 | C#m | F#m7 | G#dim7 | Esus4 | Bm7b5 |"];

    // A cold instance that answers is better than none.
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(45);

    /// <summary>What was gone through; null before it is.</summary>
    internal IReadOnlyList<Rehearsal.Asked>? GoneThrough { get; private set; }

    /// <summary>True once it is warm, or will not get warmer.</summary>
    public bool IsOver => _isOver;

    private volatile bool _isOver;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var begun = Stopwatch.GetTimestamp();
        using var leaving = CancellationTokenSource.CreateLinkedTokenSource(stoppingToken);
        leaving.CancelAfter(Longest);
        try
        {
            await Task.Run(() => BuildLadders(leaving.Token), leaving.Token);
            await StartedAsync(leaving.Token);
            GoneThrough = await rehearsal.GoThroughAsync(leaving.Token);
            log.LogInformation("Warm after {Seconds:0.0} s: {Pages} pages, {Failed} of them not as they should be",
                Stopwatch.GetElapsedTime(begun).TotalSeconds, GoneThrough.Count, GoneThrough.Count(a => a.Status >= 400));
        }
        catch (Exception e) when (!stoppingToken.IsCancellationRequested)
        {
            log.LogWarning("It could not be warmed up: {Fault}; the first visitors wait a little longer", e.GetType().Name);
        }
        finally { _isOver = true; }
    }

    private async Task StartedAsync(CancellationToken leaving)
    {
        var started = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        await using var noted = life.ApplicationStarted.Register(started.SetResult);
        await started.Task.WaitAsync(leaving);
    }

    private void BuildLadders(CancellationToken leaving)
    {
        foreach (var guitar in Guitar.Presets.Take(2))
            foreach (var chart in Charts)
            {
                if (leaving.IsCancellationRequested) return;
                builder.Build(new ArrangementRequest
                {
                    Chart = ChartReader.Read(chart).Chart, Kind = PlayerKind.Usual with { Guitar = guitar }
                });
            }
    }
}
