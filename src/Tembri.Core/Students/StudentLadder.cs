using Tembri.Core.Ladders;

namespace Tembri.Core.Students;

/// <summary>A ladder as it is for one student.</summary>
public sealed class StudentLadder
{
    /// <summary>Grades every rung of a ladder for a student.</summary>
    /// <param name="ladder">A ladder for the student's kind.</param>
    /// <param name="player">The student.</param>
    public StudentLadder(Ladder ladder, Player player) : this(ladder, player, LadderOutline.Of(ladder))
    {
    }

    /// <summary>The same with the ladder's outline known from before.</summary>
    /// <param name="ladder">A ladder for the student's kind.</param>
    /// <param name="player">The student.</param>
    /// <param name="outline">The outline of this ladder.</param>
    public StudentLadder(Ladder ladder, Player player, LadderOutline outline)
    {
        (Ladder, Player) = (ladder, player);
        Fits = [.. outline.Rungs.Select(o => o is null ? null : new VersionFit(o, player))];
        WorkingRung = outline.Grade(player).WorkingRung;
        _at = ladder.Rungs.Select((r, i) => (r.Number, i)).ToDictionary(x => x.Number, x => x.i);
    }

    /// <summary>The ladder.</summary>
    public Ladder Ladder { get; }

    /// <summary>The student.</summary>
    public Player Player { get; }

    private readonly Dictionary<int, int> _at;

    /// <summary>How the rungs fit, the lowest first; null where one is blocked.</summary>
    public IReadOnlyList<VersionFit?> Fits { get; }

    /// <summary>Number of the rung to work on now; null when all are blocked.</summary>
    public int? WorkingRung { get; }

    /// <summary>How a rung fits; null when it is blocked.</summary>
    public VersionFit? FitOf(Rung rung) => Fits[_at[rung.Number]];
}
