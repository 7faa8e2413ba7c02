using Tembri.Core.Ladders;

namespace Tembri.Core.Students;

/// <summary>A ladder as it is for one student.</summary>
public sealed class StudentLadder
{
    /// <summary>Grades every rung of a ladder for a student.</summary>
    /// <param name="ladder">A ladder for the student's kind.</param>
    /// <param name="player">The student.</param>
    public StudentLadder(Ladder ladder, Player player)
    {
        (Ladder, Player) = (ladder, player);
        var outline = LadderOutline.Of(ladder);
        Fits = [.. outline.Rungs.Select(o => o is null ? null : new VersionFit(o, player))];
        WorkingRung = outline.Grade(player).WorkingRung;
    }

    /// <summary>The ladder.</summary>
    public Ladder Ladder { get; }

    /// <summary>The student.</summary>
    public Player Player { get; }

    /// <summary>How rungs 1 to 5 fit; null where one is blocked.</summary>
    public IReadOnlyList<VersionFit?> Fits { get; }

    /// <summary>The rung to work on now, 1 to 5; null when all are blocked.</summary>
    public int? WorkingRung { get; }

    /// <summary>How a rung fits; null when it is blocked.</summary>
    public VersionFit? FitOf(Rung rung) => Fits[rung.Number - 1];
}
