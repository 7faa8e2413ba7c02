using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Roads;

/// <summary>Where a road leads.</summary>
public abstract record RoadGoal;

/// <summary>A technique up to a level: some version on the road asks for it.</summary>
/// <param name="Technique">The technique.</param>
/// <param name="Level">0 to 100.</param>
public sealed record TechniqueGoal(Technique Technique, double Level) : RoadGoal;

/// <summary>A version of a song.</summary>
/// <param name="Song">See <see cref="RoadVersion.Song"/>.</param>
/// <param name="Rung">See <see cref="RoadVersion.Rung"/>.</param>
public sealed record VersionGoal(string Song, int Rung) : RoadGoal;

/// <summary>Everything a road depends on.</summary>
public sealed record RoadRequest
{
    /// <summary>The most steps a road has.</summary>
    public const int MostSteps = 12;

    /// <summary>The student.</summary>
    public required Player Player { get; init; }

    /// <summary>The library.</summary>
    public required IReadOnlyList<RoadVersion> Versions { get; init; }

    /// <summary>Where it leads; null for what comes next.</summary>
    public RoadGoal? Goal { get; init; }

    /// <summary>Steps at most, 1 to <see cref="MostSteps"/>.</summary>
    public int Steps { get; init; } = 5;

    /// <summary>Shapes that are learnt but long not played, so that they would be forgotten.</summary>
    public IReadOnlyCollection<Shape> Fading { get; init; } = [];
}

/// <summary>A step of a road.</summary>
/// <param name="Version">What is played.</param>
/// <param name="Adds">What is new in it after the steps before, the heaviest first, with the weight of each in things.</param>
/// <param name="Repeats">Shapes that it meets again: learnt on the way, or fading.</param>
/// <param name="Price">The square of what it adds, less something for fading shapes that it meets again and for a wish; never
/// below 0.</param>
/// <param name="Left">Things of the goal that are new after it; 0 without a goal.</param>
public sealed record RoadStep(RoadVersion Version, IReadOnlyList<(RoadThing Thing, double Weight)> Adds,
    IReadOnlyList<Shape> Repeats, double Price, int Left)
{
    /// <summary>What it adds, in things.</summary>
    public double Added => Adds.Sum(a => a.Weight);
}

/// <summary>The songs to come.</summary>
/// <param name="Steps">In their order; empty when nothing is to be learnt, or the goal cannot be reached.</param>
/// <param name="Price">The price of all steps.</param>
/// <param name="Gap">How much less the best road might cost at most, as a share of the price: 0 when this one is proved to be
/// the best.</param>
/// <param name="End">Why it ends where it does.</param>
public sealed record Road(IReadOnlyList<RoadStep> Steps, double Price, double Gap, RoadEnd End);

/// <summary>Why a road ends where it does.</summary>
public enum RoadEnd
{
    /// <summary>The last step is the goal.</summary>
    Reached,
    /// <summary>The goal is within reach today: nothing of it is new.</summary>
    ThereAlready,
    /// <summary>Nothing in the library reaches the goal.</summary>
    NothingLeadsThere,
    /// <summary>There was no goal, and as many steps as were asked for.</summary>
    AsLongAsAsked,
    /// <summary>There was no goal, and the library has nothing more to learn.</summary>
    NothingNewLeft,
}
