using Tembri.Core.Changes;

namespace Tembri.Core.Students;

/// <summary>One thing that has to come off: a chance that rises with one skill, <c>1/(1 + e^(−(skill −
/// threshold)/softness))</c>.</summary>
/// <param name="Technique">The technique.</param>
/// <param name="Threshold">The skill with which it comes off every other time; may lie outside 0 to 100.</param>
/// <param name="Softness">Points of skill from every other time to nearly three of four, above 0.</param>
public readonly record struct Gate(Technique Technique, double Threshold, double Softness)
{
    private static readonly FitWeights W = FitWeights.Default;

    /// <summary>A demand of a shape; see <see cref="FitModel.Clean"/>.</summary>
    public static Gate Of(Demand demand) => new(demand.Technique, demand.Points - W.Margin, W.Softness);

    /// <summary>A strum of a load; see <see cref="FitModel.Strummed"/>.</summary>
    /// <param name="load">0 to 100.</param>
    public static Gate OfStrum(double load) => new(Technique.RightHand, load - W.Margin, W.Softness);

    /// <summary>A change that is to be in time; see <see cref="FitModel.InTime"/>.</summary>
    /// <param name="referenceSeconds">What the reference player needs, s, above 0.</param>
    /// <param name="available">Seconds there are, above 0.</param>
    public static Gate OfChange(double referenceSeconds, double available)
    {
        // Odds of late e^(−ease)·(needed/available)^steepness, where needed halves with every 20 points: a logistic in the
        // skill.
        var softness = ChangePace.PointsForTwice / (W.TimeSteepness * Math.Log(2));
        return new(Technique.Changes, ChangePace.SkillFor(referenceSeconds, available) - W.TimeEase * softness, softness);
    }

    /// <summary>The chance for a skill, 0 to 1.</summary>
    public double Chance(double skill) => 1 / (1 + Math.Exp((Threshold - skill) / Softness));
}
