using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>A made-up student whose skills are known: tries and counts come out as the model says, with the scatter of real
/// days. For demo data and for checking what is learnt.</summary>
/// <param name="skills">The true skills.</param>
/// <param name="random">Where chance comes from; seed it.</param>
/// <param name="scatter">Scatter of counts, as a share (one standard deviation); that of <see cref="LearningWeights"/> when left
/// out.</param>
public sealed class SimulatedStudent(Skills skills, Random random, double? scatter = null)
{
    /// <summary>The true skills; they may be set anew, for somebody who learns.</summary>
    public Skills Skills { get; set; } = skills;

    /// <summary>Tries a shape.</summary>
    public Trials Try(DateTimeOffset at, Fingering fingering, int tries) =>
        Trials.OfShape(at, fingering, tries,
            Enumerable.Range(0, tries).Count(_ => random.NextDouble() < FitModel.Clean(fingering, Skills)));

    /// <summary>Plays a pattern of a load.</summary>
    public Trials Strum(DateTimeOffset at, double load) =>
        Trials.OfStrum(at, load, random.NextDouble() < FitModel.Strummed(load, Skills.RightHand));

    /// <summary>Counts changes.</summary>
    public ChangeCount Count(DateTimeOffset at, double referenceSeconds, double seconds, (Shape From, Shape To)? between = null)
    {
        var mean = SkillLearning.ExpectedCount(referenceSeconds, seconds, Skills.Changes);
        return new ChangeCount(at, referenceSeconds,
            (int)Math.Round(mean * Math.Exp(Normal(random) * (scatter ?? LearningWeights.Default.CountScatter))), seconds,
            between);
    }

    /// <summary>A standard normal number (Box and Muller 1958).</summary>
    /// <param name="random">Where chance comes from.</param>
    public static double Normal(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
}
