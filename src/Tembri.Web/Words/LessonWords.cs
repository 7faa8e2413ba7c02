using System.Globalization;
using Tembri.Data.Lessons;

namespace Tembri.Web.Words;

/// <summary>Says when lessons are.</summary>
internal static class LessonWords
{
    /// <summary>How long a lesson lasts.</summary>
    public static string Lasts(int minutes) =>
        minutes switch { 30 => "half an hour", 45 => "three quarters of an hour", 60 => "an hour", _ => $"{minutes} minutes" };

    /// <summary>When a lesson is, such as <c>Thursdays at 16:15</c>.</summary>
    public static string When(Lesson lesson)
    {
        var at = lesson.At.ToString("HH:mm", CultureInfo.InvariantCulture);
        var until = lesson.Until is { } last && lesson.EveryWeeks > 0
            ? $", until {last.ToString("d MMM yyyy", CultureInfo.InvariantCulture)}"
            : "";
        return lesson.EveryWeeks switch
        {
            0 => $"{lesson.Day.ToString("dddd, d MMMM yyyy", CultureInfo.InvariantCulture)} at {at}",
            1 => $"{lesson.Day.DayOfWeek}s at {at}{until}",
            2 => $"every other {lesson.Day.DayOfWeek} at {at}{until}",
            var n => $"every {n} weeks on {lesson.Day.DayOfWeek} at {at}{until}",
        };
    }
}
