using Tembri.Core.Planning;
using Tembri.Data.Students;

namespace Tembri.Web.Practice;

/// <summary>What the teacher decides about next.</summary>
public enum Due
{
    /// <summary>Nothing: go on.</summary>
    Nothing,
    /// <summary>No song is worked on.</summary>
    Choose,
    /// <summary>Nothing was practised for long.</summary>
    Silent,
    /// <summary>A change does not get quicker.</summary>
    Stuck,
    /// <summary>A step down is advised.</summary>
    StepDown,
    /// <summary>A step up is advised.</summary>
    StepUp,
    /// <summary>Something hurts.</summary>
    Care,
}

/// <summary>A student in the teacher's day: what happened, and what to do next.</summary>
/// <param name="Student">The student.</param>
/// <param name="Facts">What the log says, without any ladder.</param>
/// <param name="Practice">The practice, once it is opened; null before.</param>
/// <param name="Stuck">The changes that do not get quicker.</param>
internal sealed record TodayRow(Student Student, TodayFacts Facts, StudentPractice? Practice, IReadOnlyList<StuckChange> Stuck)
{
    /// <summary>Days without practice from which somebody is asked about it.</summary>
    public const int SilentDays = 8;

    /// <summary>What is due; null while the practice is not opened.</summary>
    public Due? Due => Practice is null ? (Student.Progress?.Hurts == true ? Web.Practice.Due.Care : null)
        : Practice.Hurts ? Web.Practice.Due.Care
        : Practice.Songs.Count == 0 ? Web.Practice.Due.Choose
        : Practice.Songs.Any(s => s.Advice.Step == Step.Up) ? Web.Practice.Due.StepUp
        : Facts.DaysSince >= SilentDays ? Web.Practice.Due.Silent
        : Practice.Songs.Any(s => s.Advice.Step == Step.Down) ? Web.Practice.Due.StepDown
        : Stuck.Count > 0 ? Web.Practice.Due.Stuck : Web.Practice.Due.Nothing;
}

/// <summary>What a week of a log says.</summary>
/// <param name="Days">Days of practice in the last seven.</param>
/// <param name="Minutes">Minutes in those.</param>
/// <param name="DaysSince">Days since the last practice; null for never.</param>
/// <param name="LastNote">The teacher's last note; null for none.</param>
internal sealed record TodayFacts(int Days, int Minutes, int? DaysSince, string? LastNote);
