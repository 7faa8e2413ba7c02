using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>What is believed of a student's skills: a mean and an uncertainty for each technique.</summary>
/// <remarks>A normal distribution over all techniques together, so that a shape that asks two of them leaves open which one
/// failed.</remarks>
public sealed class SkillBelief
{
    internal static readonly int Count = Enum.GetValues<Technique>().Length;
    private const double Within90 = 1.6449;   // standard deviations that hold nine of ten

    internal SkillBelief(double[] mean, double[,] covariance) => (Means, Covariance) = (mean, covariance);

    internal double[] Means { get; }

    internal double[,] Covariance { get; }

    /// <summary>The skill that is most likely, 0 to 100.</summary>
    public double Mean(Technique technique) => Means[(int)technique];

    /// <summary>Standard deviation, in points.</summary>
    public double Deviation(Technique technique) => Math.Sqrt(Covariance[(int)technique, (int)technique]);

    /// <summary>Between what the skill lies with nine chances in ten, within 0 to 100.</summary>
    public (double Low, double High) Range(Technique technique) =>
        (Math.Clamp(Mean(technique) - Within90 * Deviation(technique), 0, 100),
            Math.Clamp(Mean(technique) + Within90 * Deviation(technique), 0, 100));

    /// <summary>The means as skills.</summary>
    public Skills ToSkills() => Skills.Each(Mean);
}
