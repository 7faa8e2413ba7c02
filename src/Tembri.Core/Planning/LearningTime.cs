namespace Tembri.Core.Planning;

/// <summary>About how many minutes of practice something new takes.</summary>
/// <remarks>
/// A rough reckoning. A change gets quicker with practice by a power law (Newell &amp; Rosenbloom 1981; a third of the exponents
/// they list lie near 0.3): to need a ratio r of the time takes r^(−1/0.3) times the minutes
/// spent before. A shape gains half of what is missing in about ten minutes, the right hand likewise in fifteen.
/// </remarks>
internal static class LearningTime
{
    /// <summary>Most minutes for one change; beyond it another rung is the better advice.</summary>
    public const double MostForAChange = 240;

    /// <summary>What coming back later and putting sections together takes on top, as a factor.</summary>
    public const double TogetherAgain = 1.5;

    /// <summary>A shape or strum that goes this often is there.</summary>
    public const double Clean = 0.85;

    private const double Exponent = 0.3;
    private const double MinutesBefore = 5;    // what the first meeting with a change is worth
    private const double HalfOfAShape = 10;    // minutes
    private const double HalfOfAStrum = 15;

    /// <summary>Minutes for a shape.</summary>
    /// <param name="chance">Chance that it sounds today, 0 to 1.</param>
    public static double Shape(double chance) => HalfOfAShape * Halvings(chance);

    /// <summary>Minutes for a pattern of the right hand.</summary>
    /// <param name="chance">Chance that a bar of it goes today, 0 to 1.</param>
    public static double Strum(double chance) => HalfOfAStrum * Halvings(chance);

    /// <summary>Minutes for a change.</summary>
    /// <param name="ratio">The time it needs today by the time it may need; up to 1 takes nothing.</param>
    public static double Change(double ratio) =>
        ratio <= 1 ? 0 : Math.Min(MostForAChange, MinutesBefore * (Math.Pow(ratio, 1 / Exponent) - 1));

    private static double Halvings(double chance) => chance >= Clean ? 0 : Math.Log2((1 - chance) / (1 - Clean));
}
