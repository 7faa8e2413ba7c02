using Tembri.Core.Shapes;

namespace Tembri.Core.Students;

/// <summary>Whether a student is up to a version today.</summary>
public enum Verdict
{
    /// <summary>Below 60 %: too much for now.</summary>
    Strained,
    /// <summary>60 % or more, but not ready: within reach with practice.</summary>
    Growing,
    /// <summary>85 % or more, every chord clean in two tries of three, and no frequent change mostly late.</summary>
    Ready,
}

/// <summary>How well a student is expected to play: chances for shapes and changes.</summary>
/// <remarks>See <c>docs/model.md</c> for the calibration.</remarks>
public static class FitModel
{
    private static readonly FitWeights W = FitWeights.Default;

    /// <summary>What a fingered shape asks of each left-hand technique, on the scale of <see cref="Load"/>; techniques it does
    /// not use are left out.</summary>
    public static IEnumerable<Demand> Demands(Fingering fingering)
    {
        double fingers = 0;
        // Weighed once: they are worked out at each asking.
        var parts = fingering.Parts;
        foreach (var part in parts)
            if (part.Kind is LoadPartKind.Fingers or LoadPartKind.WeakFingers or LoadPartKind.Crowding or LoadPartKind.Crossing
                or LoadPartKind.OpenStrings or LoadPartKind.Height)
                fingers += part.Effort;
        if (fingers > 0) yield return new Demand(Technique.Fingers, Load.FromEffort(fingers).Value);
        foreach (var part in parts)
        {
            var (technique, scale) = part.Kind switch
            {
                LoadPartKind.Stretch => (Technique.Stretch, W.StretchScale),
                LoadPartKind.Barre when fingering.LongestBarre > Barre.LongestShort => (Technique.FullBarre, W.FullBarreScale),
                LoadPartKind.Barre => (Technique.ShortBarre, W.ShortBarreScale),
                LoadPartKind.Mutes => (Technique.Muting, W.MutingScale),
                LoadPartKind.Thumb => (Technique.Thumb, W.ThumbScale),
                _ => (Technique.Fingers, 0.0),
            };
            if (scale > 0) yield return new Demand(technique, Load.FromEffort(part.Effort * scale).Value);
        }
    }

    /// <summary>Chance that a shape sounds clean, 0 to 1; rises with every skill.</summary>
    public static double Clean(Fingering fingering, Skills skills) =>
        1
            / Demands(fingering)
                .Aggregate(1.0, (unlikely, demand) => unlikely * (1 + OddsOf(demand) * OddsOf(skills[demand.Technique])));

    /// <summary>What a demand brings to the odds that it fails; times what the skill brings, these are the odds.</summary>
    internal static double OddsOf(Demand demand) => Math.Exp((demand.Points - W.Margin) / W.Softness);

    /// <summary>What a skill brings to the odds that a demand fails.</summary>
    internal static double OddsOf(double skill) => Math.Exp(-skill / W.Softness);

    /// <summary>Odds that a change is late; 0 when nothing moves.</summary>
    internal static double OddsOfLate(double needed, double available) =>
        needed <= 0 ? 0 : Math.Exp(-W.TimeEase) * Math.Pow(needed / available, W.TimeSteepness);

    /// <summary>Chance that a change is in time, 0 to 1: a logistic in log(available / needed); 1 when nothing moves.</summary>
    /// <param name="needed">Seconds this student needs.</param>
    /// <param name="available">Seconds there are, above 0.</param>
    public static double InTime(double needed, double available) =>
        1 / (1 + OddsOfLate(needed, available));

    /// <summary>Chance that the strum goes on clean, 0 to 1.</summary>
    /// <param name="strumLoad">Load of the strum at the tempo, 0 to 100.</param>
    /// <param name="skill">The right hand's skill, 0 to 100.</param>
    public static double Strummed(double strumLoad, double skill) => Logistic((skill - strumLoad + W.Margin) / W.Softness);

    /// <summary>What a strum brings to the odds that it breaks off; times what the hand brings, these are the odds.</summary>
    internal static double OddsOfStrum(double strumLoad) => Math.Exp((strumLoad - W.Margin) / W.Softness);

    private static double Logistic(double x) => 1 / (1 + Math.Exp(-x));
}
