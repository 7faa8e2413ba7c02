using Tembri.Core.Ladders;
using Tembri.Core.Strums;
using Tembri.Core.Students;

namespace Tembri.Core.Planning;

/// <summary>About how much practice lies between a student and a rung that is ready, and whether it fits until a day.</summary>
/// <remarks>A rough reckoning by <see cref="LearningTime"/>; what comes back later and sections put together take half as much
/// again.</remarks>
/// <param name="Minutes">Minutes of practice still needed, about.</param>
/// <param name="PracticeDays">Days of practice there are until the day, five in seven.</param>
/// <param name="MinutesADay">Minutes a day that would be enough.</param>
public sealed record GoalForecast(double Minutes, int PracticeDays, int MinutesADay)
{
    private const double InTime = 0.9;
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
        var shapes = rung.Played.Where(c => rung.Flow.Beats[c.Index] > 0).DistinctBy(c => c.Choice.Fingering.Shape)
            .Sum(c => LearningTime.Shape(fit.Clean[c.Index]));
        var weights = FitWeights.Default;
        // The time at which nine of ten come in time: odds of late are e^(−ease)·(needed/available)^steepness.
        var enough = Math.Exp((weights.TimeEase - Math.Log(InTime / (1 - InTime))) / weights.TimeSteepness);
        var changes = fit.Changes.Where(c => c.NeededSeconds > enough * c.AvailableSeconds)
            .Sum(c => LearningTime.Change(c.NeededSeconds / (enough * c.AvailableSeconds)));
        var tempo = rung.Song.Chart.Tempo;
        var strums = rung.Hand.Shares.Max(s => LearningTime.Strum(FitModel.Strummed(s.Pattern.LoadAt(tempo), skills.RightHand)));
        var minutes = LearningTime.TogetherAgain * (shapes + changes + strums);
        var practice = Math.Max(1, (int)Math.Floor(days * DaysInSeven / 7));
        return new GoalForecast(minutes, practice, (int)Math.Ceiling(minutes / practice));
    }
}
