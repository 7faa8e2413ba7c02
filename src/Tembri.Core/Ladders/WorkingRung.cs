using Tembri.Core.Students;

namespace Tembri.Core.Ladders;

/// <summary>Chooses the rung a student works on.</summary>
internal static class WorkingRung
{
    /// <summary>The rung to work on: the lowest one that is growing, else the highest ready one, else the lowest of all. Who seeks barres goes to the lowest growing rung with one.</summary>
    public static int? Of(IReadOnlyList<Rung> rungs, Player player)
    {
        var open = rungs.Where(r => r.IsFeasible).ToList();
        if (open.Count == 0) return null;
        var growing = open.Where(r => r.Fit!.Verdict == Verdict.Growing).ToList();
        if (player.Barres == BarreGoal.Seek && growing.FirstOrDefault(r => r.Chords.Any(c => c.Choice.Fingering.Barres.Count > 0)) is { } barre) return barre.Limits.Number;
        var highestReady = open.LastOrDefault(r => r.Fit!.Verdict == Verdict.Ready);
        var next = growing.FirstOrDefault(r => r.Limits.Number > (highestReady?.Limits.Number ?? 0));
        return (next ?? highestReady ?? open[0]).Limits.Number;
    }
}
