using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;

namespace Tembri.Web.Setup;

/// <summary>Builds a few ladders after the start, so that the first teacher does not wait for the runtime to compile and for
/// common shapes to be found.</summary>
internal sealed class WarmUp(LadderBuilder builder, ILogger<WarmUp> log) : BackgroundService
{
    // Common chords of the friendly keys and of one that needs barres; every capo makes more of them.
    private static readonly string[] Charts =
        ["| C | G | Am | F | Dm | Em | G7 | C/E |", "| E | A | B7 | C#m | F#m7 | G#dim7 | Esus4 | Bm7b5 |"];

    protected override Task ExecuteAsync(CancellationToken stoppingToken) => Task.Run(() =>
    {
        foreach (var guitar in Guitar.Presets.Take(2))
            foreach (var chart in Charts)
            {
                if (stoppingToken.IsCancellationRequested) return;
                builder.Build(new ArrangementRequest
                {
                    Chart = ChartReader.Read(chart).Chart, Kind = PlayerKind.Usual with { Guitar = guitar }
                });
            }
        log.LogDebug("Common shapes are known.");
    }, stoppingToken);
}
