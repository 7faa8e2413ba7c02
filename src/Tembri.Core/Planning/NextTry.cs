using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Planning;

/// <summary>Something a student could try at a first meeting.</summary>
/// <param name="Name">What it is, such as the chord of the shape.</param>
public abstract record TryOut(string Name);

/// <summary>A shape, tried a few times.</summary>
public sealed record ShapeTryOut(string Name, Fingering Fingering) : TryOut(Name);

/// <summary>A change, counted.</summary>
public sealed record ChangeTryOut(string Name, Fingering From, Fingering To, double ReferenceSeconds) : TryOut(Name);

/// <summary>A pattern of the right hand at a tempo.</summary>
public sealed record StrumTryOut(string Name, Strums.StrumPattern Pattern, double Tempo) : TryOut(Name);

/// <summary>Which try tells most of the skills that are known least.</summary>
/// <remarks>
/// What a try tells is how much narrower the belief is expected to be after it: ½·log(1 + information × variance) in the
/// direction it tells about (Lindley 1956), the information averaged over what is believed now, so that neither
/// what surely goes nor what surely fails is asked.
/// </remarks>
public static class NextTry
{
    /// <summary>How often a shape is tried.</summary>
    public const int Tries = 5;

    /// <summary>Seconds of a count.</summary>
    public const int Seconds = 30;

    // Gauss and Hermite, three nodes
    private static readonly (double Away, double Weight)[] Believed =
        [(-1.7320508, 1.0 / 6), (0, 4.0 / 6), (1.7320508, 1.0 / 6)];

    /// <summary>The one that tells most; the first of equals.</summary>
    /// <param name="belief">What is believed.</param>
    /// <param name="all">What could be tried; those tried already are left out by the caller.</param>
    public static TryOut Best(SkillBelief belief, IEnumerable<TryOut> all) =>
        all.Select(t => (Try: t, Tells: Tells(belief, t))).MaxBy(x => x.Tells).Try;

    /// <summary>What a try is expected to tell, in natural units of information.</summary>
    public static double Tells(SkillBelief belief, TryOut what) => what switch
    {
        ShapeTryOut s => Of(belief, [.. FitModel.Demands(s.Fingering).Select(Gate.Of)], Tries),
        StrumTryOut s => Of(belief, [Gate.OfStrum(s.Pattern.LoadAt(s.Tempo))], 1),
        ChangeTryOut c => OfCount(belief, c),
        _ => 0,
    };

    private static double OfCount(SkillBelief belief, ChangeTryOut c)
    {
        var (mean, deviation) = (belief.Mean(Technique.Changes), belief.Deviation(Technique.Changes));
        double Log(double skill) => Math.Log(SkillLearning.ExpectedCount(c.ReferenceSeconds, Seconds, skill));
        var slope = Believed.Sum(b => b.Weight * (Log(mean + b.Away * deviation + 0.5) - Log(mean + b.Away * deviation - 0.5)));
        var scatter = LearningWeights.Default.CountScatter;
        return 0.5 * Math.Log(1 + slope * slope * deviation * deviation / (scatter * scatter));
    }

    private static double Of(SkillBelief belief, Gate[] gates, int tries)
    {
        // One technique at a time moves over what is believed; the others stay at their means.
        double Chance(Technique? moving, double away) =>
            gates.Aggregate(1.0,
                (c, g) =>
                    c * g.Chance(belief.Mean(g.Technique) + (g.Technique == moving ? away * belief.Deviation(g.Technique) : 0)));
        var told = 0.0;
        foreach (var technique in gates.Select(g => g.Technique).Distinct())
        {
            var information = Believed.Sum(b =>
            {
                var chance = Math.Clamp(Chance(technique, b.Away), 1e-6, 1 - 1e-6);
                var skill = belief.Mean(technique) + b.Away * belief.Deviation(technique);
                var slope = gates.Where(g => g.Technique == technique).Sum(g => (1 - g.Chance(skill)) / g.Softness) * chance;
                return b.Weight * tries * slope * slope / (chance * (1 - chance));
            });
            told += 0.5 * Math.Log(1 + information * belief.Deviation(technique) * belief.Deviation(technique));
        }
        return told;
    }
}
