namespace Tembri.Core.Lessons;

/// <summary>When a lesson is held.</summary>
/// <param name="From">Its first day.</param>
/// <param name="At">When it begins.</param>
/// <param name="Minutes">How long it lasts.</param>
/// <param name="EveryWeeks">Weeks from one to the next; 0 for a single lesson.</param>
/// <param name="Until">The last day it may be held; null for no end. Counts for repeated lessons only.</param>
public sealed record LessonRule(DateOnly From, TimeOnly At, int Minutes, int EveryWeeks, DateOnly? Until = null)
{
    /// <summary>The longest lesson, minutes.</summary>
    public const int LongestMinutes = 240;

    /// <summary>The most weeks between two lessons.</summary>
    public const int MostWeeks = 8;
}

/// <summary>One lesson that is not held as the rule has it.</summary>
/// <param name="On">The day the rule has.</param>
/// <param name="MovedTo">The day it is held instead; null when it is not held.</param>
/// <param name="MovedAt">The time it begins instead; null for the usual one.</param>
public sealed record LessonChange(DateOnly On, DateOnly? MovedTo, TimeOnly? MovedAt);

/// <summary>Days without repeated lessons.</summary>
/// <param name="From">The first day.</param>
/// <param name="To">The last day.</param>
/// <param name="Name">What they are called.</param>
public sealed record FreeDays(DateOnly From, DateOnly To, string Name)
{
    /// <summary>True for a day within.</summary>
    public bool Holds(DateOnly day) => day >= From && day <= To;
}

/// <summary>What became of a lesson on its day.</summary>
public enum LessonState
{
    /// <summary>It is held as the rule has it.</summary>
    Held,
    /// <summary>It is held on another day, or at another time.</summary>
    Moved,
    /// <summary>Somebody is away.</summary>
    Away,
    /// <summary>It falls into free days.</summary>
    Free,
}

/// <summary>A lesson on a day.</summary>
/// <param name="On">The day the rule has; it names the lesson.</param>
/// <param name="Day">The day it is held, or would be.</param>
/// <param name="At">When it begins.</param>
/// <param name="Minutes">How long it lasts.</param>
/// <param name="State">What became of it.</param>
/// <param name="Why">The name of the free days; null else.</param>
public sealed record LessonOn(DateOnly On, DateOnly Day, TimeOnly At, int Minutes, LessonState State, string? Why = null);

/// <summary>Works out which lessons fall on which days.</summary>
public static class LessonCalendar
{
    private const int WeekDays = 7;

    /// <summary>The lessons of a rule from a day to a day, both included, those that are not held as well, by the day they are
    /// held or would be.</summary>
    /// <remarks>A lesson that was moved is held also within free days: somebody decided so. A single lesson knows no free
    /// days.</remarks>
    public static IEnumerable<LessonOn> Between(LessonRule rule, IReadOnlyCollection<LessonChange> changes,
        IReadOnlyCollection<FreeDays> free, DateOnly from, DateOnly to)
    {
        var changed = changes.GroupBy(c => c.On).ToDictionary(g => g.Key, g => g.Last());
        // Lessons of other days may have been moved into these, and those of these days out of them.
        var moved =
            changed.Values.Where(c => c.MovedTo is { } day && day >= from && day <= to && IsOf(rule, c.On)).Select(c => c.On);
        return Days(rule, from, to).Concat(moved).Distinct().Select(Become).Where(l => l.Day >= from && l.Day <= to)
            .OrderBy(l => l.Day).ThenBy(l => l.At);

        LessonOn Become(DateOnly on)
        {
            if (changed.TryGetValue(on, out var change))
                return change.MovedTo is { } day
                    ? new LessonOn(on, day, change.MovedAt ?? rule.At, rule.Minutes, LessonState.Moved)
                    : new LessonOn(on, on, rule.At, rule.Minutes, LessonState.Away);
            return rule.EveryWeeks > 0 && free.FirstOrDefault(f => f.Holds(on)) is { } days
                ? new LessonOn(on, on, rule.At, rule.Minutes, LessonState.Free, days.Name)
                : new LessonOn(on, on, rule.At, rule.Minutes, LessonState.Held);
        }
    }

    /// <summary>True when the rule has a lesson on a day.</summary>
    public static bool IsOf(LessonRule rule, DateOnly day) => day == rule.From
        || rule.EveryWeeks > 0 && day > rule.From && (rule.Until is not { } last || day <= last)
            && (day.DayNumber - rule.From.DayNumber) % (WeekDays * rule.EveryWeeks) == 0;

    private static IEnumerable<DateOnly> Days(LessonRule rule, DateOnly from, DateOnly to)
    {
        if (rule.EveryWeeks == 0)
        {
            if (rule.From >= from && rule.From <= to) yield return rule.From;
            yield break;
        }
        var step = WeekDays * rule.EveryWeeks;
        var behind = Math.Max(0, from.DayNumber - rule.From.DayNumber);
        var last = rule.Until is { } until && until < to ? until : to;
        for (var number = rule.From.DayNumber + (behind + step - 1) / step * step; number <= last.DayNumber; number += step)
            yield return DateOnly.FromDayNumber(number);
    }
}
