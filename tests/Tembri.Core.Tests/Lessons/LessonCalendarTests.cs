using CsCheck;
using Tembri.Core.Lessons;

namespace Tembri.Core.Tests.Lessons;

public sealed class LessonCalendarTests
{
    private static readonly DateOnly Start = new(2026, 1, 1);

    private static readonly Gen<DateOnly> Days = Gen.Int[0, 200].Select(Start.AddDays);

    private static readonly Gen<LessonRule> Rules =
        from day in Days
        from weeks in Gen.Int[0, 4]
        from length in Gen.Int[0, 150]
        from ends in Gen.Bool
        select new LessonRule(day, new TimeOnly(15, 30), 30, weeks, ends ? day.AddDays(length) : null);

    private static readonly Gen<FreeDays[]> Free =
        Gen.Select(Days, Gen.Int[0, 20]).Select((from, days) => new FreeDays(from, from.AddDays(days), "away")).Array[0, 2];

    [Fact]
    public void Every_lesson_of_a_stretch_is_found_day_by_day_and_none_besides()
    {
        Gen.Select(Rules, Free, Gen.Select(Gen.Int[0, 20], Days, Gen.Bool).Array[0, 4], Days, Gen.Int[0, 60])
            .Sample((rule, free, changes, from, length) =>
        {
            var to = from.AddDays(length);
            var changed = changes.Select(c => new LessonChange(rule.From.AddDays(7 * Math.Max(1, rule.EveryWeeks) * c.Item1),
                    c.Item3 ? c.Item2 : null, null)).Where(c => LessonCalendar.IsOf(rule, c.On)).DistinctBy(c => c.On).ToList();
            var found = LessonCalendar.Between(rule, changed, free, from, to).ToList();
            // Day by day over everything the rule may have, by its own words.
            var expected = new List<(DateOnly On, DateOnly Day, LessonState State)>();
            for (var on = Start; on <= Start.AddDays(1_000); on = on.AddDays(1))
            {
                var isOne = rule.EveryWeeks == 0
                    ? on == rule.From
                    : on >= rule.From && on.DayOfWeek == rule.From.DayOfWeek
                        && (on.DayNumber - rule.From.DayNumber) / 7 % rule.EveryWeeks == 0
                        && (on == rule.From || rule.Until is not { } last || on <= last);
                if (!isOne) continue;
                var change = changed.Find(c => c.On == on);
                var (day, state) = change is { MovedTo: { } moved } ? (moved, LessonState.Moved)
                    : change is not null ? (on, LessonState.Away)
                    : rule.EveryWeeks > 0 && free.Any(f => f.From <= on && on <= f.To) ? (on, LessonState.Free)
                    : (on, LessonState.Held);
                if (day >= from && day <= to) expected.Add((on, day, state));
            }
            Assert.Equal(expected.OrderBy(e => e.Day).ThenBy(e => e.On),
                found.Select(f => (f.On, f.Day, f.State)).OrderBy(f => f.Day).ThenBy(f => f.On));
            Assert.Equal(found.Select(f => f.Day).Order(), found.Select(f => f.Day));
        }, iter: 2_000, threads: 2);
    }
}
