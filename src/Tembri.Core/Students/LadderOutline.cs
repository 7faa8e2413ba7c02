using Tembri.Core.Ladders;

namespace Tembri.Core.Students;

/// <summary>The outlines of a ladder: what a library keeps of it, to grade every student in memory.</summary>
/// <param name="Capo">The capo used.</param>
/// <param name="Rungs">The rungs, the lowest first; null where one is blocked.</param>
/// <param name="Numbers">Their numbers.</param>
public sealed record LadderOutline(int Capo, IReadOnlyList<VersionOutline?> Rungs, IReadOnlyList<int> Numbers)
{
    /// <summary>Takes the outlines of a ladder.</summary>
    public static LadderOutline Of(Ladder ladder) =>
        new(ladder.Capo,
            [.. ladder.Rungs.Select(r => r is PlayableRung playable ? VersionOutline.Of(playable, ladder.Chart.Tempo) : null)],
            [.. ladder.Rungs.Select(r => r.Number)]);

    /// <summary>The rung of a number; null when it is blocked, or there is none.</summary>
    public VersionOutline? Find(int number) =>
        Numbers.Select((n, i) => n == number ? Rungs[i] : null).FirstOrDefault(r => r is not null);

    /// <summary>Grades the ladder for a student.</summary>
    public LadderGrade Grade(Player player) => Grade(new PlayerOdds(player));

    /// <summary>The same, when what the student brings is reckoned already: once for all ladders.</summary>
    public LadderGrade Grade(PlayerOdds player)
    {
        var grades = new VersionGrade?[Rungs.Count];
        for (var i = 0; i < grades.Length; i++) grades[i] = Rungs[i]?.Grade(player);
        var working = WorkingRung.Of(Array.ConvertAll(grades, g => g?.Verdict), i => Rungs[i]!.HasBarre,
            i => Rungs[i]!.HasFullBarre, player.Barres);
        return new LadderGrade(Capo, grades, working is { } place ? Numbers[place - 1] : null, Numbers);
    }
}

/// <summary>What a ladder is for one student.</summary>
/// <param name="Capo">The capo used.</param>
/// <param name="Rungs">Fit and verdict of the rungs, the lowest first; null where a rung is blocked.</param>
/// <param name="WorkingRung">Number of the rung to work on now; null when all are blocked.</param>
/// <param name="Numbers">The numbers of the rungs.</param>
public sealed record LadderGrade(int Capo, IReadOnlyList<VersionGrade?> Rungs, int? WorkingRung, IReadOnlyList<int> Numbers);
