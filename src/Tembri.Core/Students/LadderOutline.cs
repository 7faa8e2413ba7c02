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
        var odds = new PlayerOdds(player);
        var grades = new VersionGrade?[Rungs.Count];
        for (var i = 0; i < grades.Length; i++) grades[i] = Rungs[i]?.Grade(odds);
        return new LadderGrade(Capo, grades, WorkingRung.Of(Array.ConvertAll(grades, g => g?.Verdict), i => Rungs[i]!.HasBarre, i => Rungs[i]!.HasFullBarre, player.Barres));
    }
}

/// <summary>What a ladder is for one student.</summary>
/// <param name="Capo">The capo used.</param>
/// <param name="Rungs">Fit and verdict of rungs 1 to 5; null where a rung is blocked.</param>
/// <param name="WorkingRung">The rung to work on now, 1 to 5; null when all are blocked.</param>
public sealed record LadderGrade(int Capo, IReadOnlyList<VersionGrade?> Rungs, int? WorkingRung)
{
    /// <summary>The verdict on a rung; null where it is blocked.</summary>
    /// <param name="number">1 to 5.</param>
    public Verdict? VerdictOn(int number) => Rungs[number - 1]?.Verdict;
}
