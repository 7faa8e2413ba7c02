using Tembri.Core.Shapes;

namespace Tembri.Core.Students;

/// <summary>Whether a student is up to a version today.</summary>
public enum Verdict
{
    /// <summary>Below 60 %: too much for now.</summary>
    Strained,
    /// <summary>60 to 85 %: within reach with practice.</summary>
    Growing,
    /// <summary>85 % or more.</summary>
    Ready,
}

/// <summary>How well a student is expected to play: chances for shapes and changes.</summary>
/// <remarks>See <c>docs/model.md</c> for the calibration.</remarks>
public static class FitModel
{
    private static readonly FitWeights W = FitWeights.Default;

    /// <summary>What a fingered shape asks of each left-hand technique, on the scale of <see cref="Load"/>; techniques it does not use are left out.</summary>
    public static IEnumerable<Demand> Demands(Fingering fingering)
    {
        double fingers = 0;
        foreach (var part in fingering.Parts)
            if (part.Kind is LoadPartKind.Fingers or LoadPartKind.WeakFingers or LoadPartKind.Crowding or LoadPartKind.Crossing or LoadPartKind.OpenStrings or LoadPartKind.Height)
                fingers += part.Effort;
        if (fingers > 0) yield return new Demand(Technique.Fingers, Load.FromEffort(fingers).Value);
        foreach (var part in fingering.Parts)
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
    public static double Clean(Fingering fingering, Skills skills) => Clean([.. Demands(fingering)], skills);

    /// <summary>The same for demands that are known already.</summary>
    internal static double Clean(ReadOnlySpan<Demand> demands, Skills skills)
    {
        // The product of logistics with one division: 1 / Π (1 + e^−x).
        var unlikely = 1.0;
        foreach (var demand in demands) unlikely *= 1 + Math.Exp((demand.Points - W.Margin - skills[demand.Technique]) / W.Softness);
        return 1 / unlikely;
    }

    /// <summary>Chance that a change is in time, 0 to 1: a logistic in log(available / needed); 1 when nothing moves.</summary>
    /// <param name="needed">Seconds this student needs.</param>
    /// <param name="available">Seconds there are, above 0.</param>
    public static double InTime(double needed, double available) =>
        needed <= 0 ? 1 : Logistic(W.TimeSteepness * Math.Log(available / needed) + W.TimeEase);

    /// <summary>Chance that the strum goes on clean, 0 to 1.</summary>
    /// <param name="strumLoad">Load of the strum at the tempo, 0 to 100.</param>
    /// <param name="skills">The student's skills.</param>
    public static double Strummed(double strumLoad, Skills skills) => Logistic((skills.RightHand - strumLoad + W.Margin) / W.Softness);

    /// <summary>The verdict for a fit.</summary>
    public static Verdict VerdictOf(double fit) => fit >= W.ReadyFrom ? Verdict.Ready : fit >= W.GrowingFrom ? Verdict.Growing : Verdict.Strained;

    private static double Logistic(double x) => 1 / (1 + Math.Exp(-x));
}
