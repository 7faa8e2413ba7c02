using Tembri.Core.Ladders;

namespace Tembri.Core.Students;

/// <summary>The outlines of a ladder: what a library keeps of it, to grade every student in memory.</summary>
/// <param name="Capo">The capo used.</param>
/// <param name="Rungs">Rungs 1 to 5; null where one is blocked.</param>
public sealed record LadderOutline(int Capo, IReadOnlyList<VersionOutline?> Rungs)
{
    /// <summary>Takes the outlines of a ladder.</summary>
    public static LadderOutline Of(Ladder ladder) =>
        new(ladder.Capo, [.. ladder.Rungs.Select(r => r is PlayableRung playable ? VersionOutline.Of(playable, ladder.Chart.Tempo) : null)]);

    /// <summary>Grades the ladder for a student.</summary>
    public LadderGrade Grade(Player player)
    {
        var fits = new double?[Rungs.Count];
        for (var i = 0; i < fits.Length; i++) fits[i] = Rungs[i]?.Fit(player);
        return new LadderGrade(Capo, fits, WorkingRung.Of(fits, i => Rungs[i]!.HasBarre, player.Barres));
    }
}

/// <summary>What a ladder is for one student.</summary>
/// <param name="Capo">The capo used.</param>
/// <param name="Fits">Fit of rungs 1 to 5, 0 to 1; null where a rung is blocked.</param>
/// <param name="WorkingRung">The rung to work on now, 1 to 5; null when all are blocked.</param>
public sealed record LadderGrade(int Capo, IReadOnlyList<double?> Fits, int? WorkingRung)
{
    /// <summary>The verdict on a rung; null where it is blocked.</summary>
    /// <param name="number">1 to 5.</param>
    public Verdict? VerdictOn(int number) => Fits[number - 1] is { } fit ? FitModel.VerdictOf(fit) : null;
}
