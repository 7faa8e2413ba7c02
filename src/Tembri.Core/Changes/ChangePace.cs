namespace Tembri.Core.Changes;

/// <summary>How quick a player changes shapes, in steps: players of one step are arranged for alike.</summary>
/// <remarks>
/// A step is <see cref="PointsAStep"/> points of the skill wide. Within it the shapes that are chosen hardly move;
/// <c>docs/model.md</c> has the
/// measured shares. How long a change takes one student is reckoned from the skill itself, never from the step.
/// </remarks>
public readonly record struct ChangePace
{
    /// <summary>Width of a step in points of skill.</summary>
    public const int PointsAStep = 4;

    /// <summary>Points of skill for which a change takes half the time.</summary>
    public const double PointsForTwice = 20;

    private const double ReferenceSkill = 50;

    /// <summary>The step, 0 for the slowest.</summary>
    public int Step { get; }

    /// <summary>Makes a pace.</summary>
    /// <param name="step">0 to 100 / <see cref="PointsAStep"/>.</param>
    /// <exception cref="ArgumentOutOfRangeException">There is no such step.</exception>
    public ChangePace(int step)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(step);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(step, 100 / PointsAStep);
        Step = step;
    }

    /// <summary>The pace nearest to a skill.</summary>
    /// <param name="skill">Skill in changing, 0 to 100.</param>
    public static ChangePace Of(double skill) =>
        new((int)Math.Round(Math.Clamp(skill, 0, 100) / PointsAStep, MidpointRounding.AwayFromZero));

    /// <summary>How much longer than the reference player players of this pace take for a change.</summary>
    public double Slowness => SlownessOf(Step * PointsAStep);

    /// <summary>How much longer than the reference player somebody of a skill takes: 1 at skill 50, twice as long for every 20
    /// points less.</summary>
    /// <param name="skill">Skill in changing, 0 to 100.</param>
    public static double SlownessOf(double skill) => Math.Pow(2, (ReferenceSkill - skill) / PointsForTwice);

    /// <summary>The skill of somebody who takes so long for a change: the other direction of <see cref="SlownessOf"/>.</summary>
    /// <param name="referenceSeconds">What the reference player needs, s, above 0.</param>
    /// <param name="seconds">What is taken, s, above 0.</param>
    public static double SkillFor(double referenceSeconds, double seconds) =>
        ReferenceSkill - PointsForTwice * Math.Log2(seconds / referenceSeconds);
}
