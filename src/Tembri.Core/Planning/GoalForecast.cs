using Tembri.Core.Ladders;
using Tembri.Core.Strums;
using Tembri.Core.Students;

namespace Tembri.Core.Planning;

/// <summary>About how much practice lies between a student and a rung that is ready, and whether it fits until a day.</summary>
/// <remarks>
/// A rough reckoning. A change gets quicker with practice by a power law (Newell &amp; Rosenbloom 1981; a third of the exponents they list lie near 0.3): to need a ratio r of the time takes r^(−1/0.3) times the minutes
/// spent before. A shape gains half of what is missing in about ten minutes, the right hand likewise in fifteen. What comes back later and sections put together take half as much again.
/// </remarks>
/// <param name="Minutes">Minutes of practice still needed, about.</param>
/// <param name="PracticeDays">Days of practice there are until the day, five in seven.</param>
/// <param name="MinutesADay">Minutes a day that would be enough.</param>
public sealed record GoalForecast(double Minutes, int PracticeDays, int MinutesADay)
{
    private const double Exponent = 0.3;
    private const double MinutesBefore = 5;    // what the first meeting with a change is worth
    private const double HalfOfAShape = 10;    // minutes
    private const double HalfOfAStrum = 15;
    private const double TogetherAgain = 1.5;
    private const double Clean = 0.85, InTime = 0.9;
    private const double MostForAChange = 240; // minutes; beyond it another rung is the better advice
    private const double DaysInSeven = 5;

    /// <summary>True when the minutes there are will do.</summary>
    public bool Fits(int minutesADay) => minutesADay >= MinutesADay;

    /// <summary>Reckons.</summary>
    /// <param name="rung">The rung that is to be ready.</param>
    /// <param name="fit">How it fits today.</param>
    /// <param name="skills">The student's skills.</param>
    /// <param name="days">Days until then, 1 or more.</param>
    public static GoalForecast Of(PlayableRung rung, VersionFit fit, Skills skills, int days)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(days, 1);
        static double Halvings(double chance, double wanted) => chance >= wanted ? 0 : Math.Log2((1 - chance) / (1 - wanted));
        var shapes = rung.Played.Where(c => rung.Flow.Beats[c.Index] > 0).DistinctBy(c => c.Choice.Fingering.Shape).Sum(c => HalfOfAShape * Halvings(fit.Clean[c.Index], Clean));
        var weights = FitWeights.Default;
        // The time at which nine of ten come in time: odds of late are e^(−ease)·(needed/available)^steepness.
        var enough = Math.Exp((weights.TimeEase - Math.Log(InTime / (1 - InTime))) / weights.TimeSteepness);
        var changes = fit.Changes.Where(c => c.NeededSeconds > enough * c.AvailableSeconds)
            .Sum(c => Math.Min(MostForAChange, MinutesBefore * (Math.Pow(c.NeededSeconds / (enough * c.AvailableSeconds), 1 / Exponent) - 1)));
        var tempo = rung.Song.Chart.Tempo;
        var strums = rung.Hand.Shares.Max(s => HalfOfAStrum * Halvings(FitModel.Strummed(s.Pattern.LoadAt(tempo), skills.RightHand), Clean));
        var minutes = TogetherAgain * (shapes + changes + strums);
        var practice = Math.Max(1, (int)Math.Floor(days * DaysInSeven / 7));
        return new GoalForecast(minutes, practice, (int)Math.Ceiling(minutes / practice));
    }
}
