using Tembri.Core.Roads;
using Tembri.Core.Students;

namespace Tembri.Core.Planning;

/// <summary>About how long a road takes.</summary>
/// <param name="Minutes">Minutes of practice for what each step adds, in the order of the steps.</param>
/// <param name="MinutesADay">Minutes of practice a day.</param>
public sealed record RoadForecast(IReadOnlyList<double> Minutes, int MinutesADay)
{
    private const double DaysInSeven = 5;

    /// <summary>Minutes of practice for all of it.</summary>
    public double Total => Minutes.Sum();

    /// <summary>Days from today until a step has been learnt, with practice on five days of seven; 0 when nothing is new up to
    /// it.</summary>
    /// <param name="step">The step, from 0.</param>
    public int DaysUntil(int step) => (int)Math.Ceiling(Minutes.Take(step + 1).Sum() / MinutesADay * 7 / DaysInSeven);

    /// <summary>Minutes a day, practised on five days of seven, that bring all of it within some days.</summary>
    /// <param name="days">Days from today, 1 or more.</param>
    public int MinutesADayFor(int days)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(days, 1);
        return (int)Math.Ceiling(Total / Math.Max(1, Math.Floor(days * DaysInSeven / 7)));
    }

    /// <summary>Reckons by the same rules as <see cref="GoalForecast"/>; levels of the left hand's techniques are learnt with
    /// the shapes that ask them, and take no time of their own.</summary>
    /// <param name="road">The road.</param>
    /// <param name="minutesADay">Minutes of practice a day, 1 or more.</param>
    public static RoadForecast Of(Road road, int minutesADay)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(minutesADay, 1);
        return new RoadForecast([.. road.Steps.Select(MinutesOf)], minutesADay);
    }

    private static double MinutesOf(RoadStep step)
    {
        // A shape weighs by how far its chance is from being there.
        var shapes = step.Adds.Where(a => a.Thing is ShapeThing)
            .Sum(a => LearningTime.Shape(LearningTime.Clean * Math.Max(0, 1 - a.Weight / RoadWeights.Default.Shape)));
        // Every level of a change is the factor √2 in time.
        var changes = step.Adds.Select(a => a.Thing).OfType<ChangeThing>().GroupBy(c => (c.A, c.B))
            .Sum(levels => LearningTime.Change(Math.Pow(2, levels.Count() / 2.0)));
        // Each ten points of the right hand are a pattern that asks ten more than there is.
        var strums = step.Adds.Count(a => a.Thing is TechniqueThing { Technique: Technique.RightHand })
            * LearningTime.Strum(FitModel.Strummed(TechniqueThing.Step, 0));
        return LearningTime.TogetherAgain * (shapes + changes + strums);
    }
}
