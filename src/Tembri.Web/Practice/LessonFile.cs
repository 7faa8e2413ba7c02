using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Tembri.Core.Lessons;
using Tembri.Data.Lessons;

namespace Tembri.Web.Practice;

/// <summary>What a calendar gave: lessons with their students, and what is to be said of each event.</summary>
internal sealed record LessonsBrought(IReadOnlyList<(Lesson Lesson, IReadOnlyList<Guid> Students, string What)> Lessons,
    IReadOnlyList<string> Said);

/// <summary>Lessons as a calendar (RFC 5545): an event a lesson with its rule, days that are left out, and events of their own
/// for those that were moved. Times have no zone: a lesson is at the studio's clock.</summary>
internal static class LessonFile
{
    /// <summary>Writes all lessons.</summary>
    /// <param name="read">The lessons.</param>
    /// <param name="names">Who has a lesson.</param>
    /// <param name="now">When it is written.</param>
    public static string Write(LessonsRead read, Func<Lesson, string> names, DateTimeOffset now)
    {
        var calendar = new Calendar { ProductId = "-//Tembri//Lessons//EN" };
        var stamp = new CalDateTime(now.UtcDateTime, "UTC");
        foreach (var lesson in read.Lessons)
        {
            CalendarEvent Event(DateOnly day, TimeOnly at) => new()
            {
                Uid = $"{lesson.Id:N}@tembri", DtStamp = stamp, Start = new CalDateTime(day.ToDateTime(at)),
                End = new CalDateTime(day.ToDateTime(at).AddMinutes(lesson.Minutes)), Summary = $"Guitar: {names(lesson)}",
            };
            var main = Event(lesson.Day, lesson.At);
            if (lesson.EveryWeeks > 0)
            {
                var rule = new RecurrencePattern(FrequencyType.Weekly, lesson.EveryWeeks);
                if (lesson.Until is { } until) rule.Until = new CalDateTime(until.ToDateTime(new TimeOnly(23, 59)));
                main.RecurrenceRule = rule;
                var changed = lesson.Changes.Select(c => c.On).ToHashSet();
                // Free days are left out of the rule, as far as they are known.
                foreach (var off in lesson.Changes.Where(c => c.MovedTo is null).Select(c => c.On)
                    .Concat(read.Free.SelectMany(f => LessonCalendar.Between(lesson.ToRule(), [], [], f.From, f.To))
                        .Select(l => l.On).Where(on => !changed.Contains(on))).Distinct().Order())
                    main.ExceptionDates.Add(new CalDateTime(off.ToDateTime(lesson.At)));
            }
            else if (lesson.Changes.Find(c => c.On == lesson.Day) is { } single)
            {
                if (single.MovedTo is not { } other) continue;
                main = Event(other, single.MovedAt ?? lesson.At);
            }
            calendar.Events.Add(main);
            if (lesson.EveryWeeks == 0) continue;
            foreach (var moved in lesson.Changes.Where(c => c.MovedTo is not null))
            {
                var instead = Event(moved.MovedTo!.Value, moved.MovedAt ?? lesson.At);
                instead.RecurrenceIdentifier = new RecurrenceIdentifier(new CalDateTime(moved.On.ToDateTime(lesson.At)));
                calendar.Events.Add(instead);
            }
        }
        return new CalendarSerializer().SerializeToString(calendar)!;
    }

    /// <summary>Reads a calendar. An event is a lesson of the students its summary names.</summary>
    /// <param name="text">The file.</param>
    /// <param name="students">Who there is.</param>
    /// <param name="most">Events that are read at most.</param>
    /// <exception cref="FormatException">It is no calendar.</exception>
    public static LessonsBrought Read(string text, IReadOnlyList<(Guid Id, string Nickname)> students, int most)
    {
        if (!text.Contains("BEGIN:VCALENDAR", StringComparison.OrdinalIgnoreCase))
            throw new FormatException("This is no calendar; a calendar begins with BEGIN:VCALENDAR.");
        Calendar calendar;
        try { calendar = Calendar.Load(text) ?? throw new FormatException("This calendar is empty."); }
        catch (Exception e) when (e is not FormatException)
        {
            throw new FormatException("This calendar cannot be read. Export it again, and bring that file.");
        }
        var (lessons, said) = (new List<(Lesson, IReadOnlyList<Guid>, string)>(), new List<string>());
        List<IGrouping<string, CalendarEvent>> groups;
        try { groups = [.. calendar.Events.Take(most).GroupBy(e => e.Uid ?? Guid.NewGuid().ToString())]; }
        catch (Exception e) when (e is ArgumentException or InvalidOperationException)
        {
            throw new FormatException("This calendar cannot be read. Export it again, and bring that file.");
        }
        foreach (var group in groups)
        {
            try { Take(group); }
            catch (Exception e) when (e is ArgumentException or InvalidOperationException)
            {
                said.Add("An event holds a day or a time that does not exist.");
            }
        }
        if (lessons.Count == 0 && said.Count == 0) said.Add("This calendar has no events.");
        return new LessonsBrought(lessons, said);

        void Take(IGrouping<string, CalendarEvent> group)
        {
            var main = group.FirstOrDefault(e => e.RecurrenceIdentifier is null);
            var what = (main ?? group.First()).Summary?.Trim() is { Length: > 0 } summary
                ? $"“{(summary.Length > 60 ? summary[..60] : summary)}”"
                : "An event without a name";
            if (main?.Start is not { HasTime: true } start)
            {
                said.Add($"{what}: has no time of day, so it is no lesson.");
                return;
            }
            var who = NamedIn(main.Summary ?? "", students);
            if (who.Count == 0) { said.Add($"{what}: names no student of yours; write the nickname into its name."); return; }
            var weeks = 0;
            DateOnly? until = null;
            if (main.RecurrenceRule is { } rule)
            {
                if (rule.Frequency != FrequencyType.Weekly || rule.Interval > LessonRule.MostWeeks || rule.ByDay.Count > 1)
                {
                    said.Add($"{what}: repeats otherwise than every so many weeks on one day; write it down by hand.");
                    return;
                }
                weeks = Math.Max(1, rule.Interval);
                until = rule.Until is { } last ? DateOnly.FromDateTime(last.Value)
                    : rule.Count is > 0 and <= MostTimes and { } count ? DateOnly.FromDateTime(start.Value)
                        .AddDays(7 * weeks * (count - 1))
                    : null;
            }
            var minutes = main.End is { } end ? (int)Math.Round((end.Value - start.Value).TotalMinutes) : Lesson.UsualMinutes;
            if (minutes is < 5 or > LessonRule.LongestMinutes)
            {
                said.Add($"{what}: lasts {minutes} minutes; a lesson lasts 5 to {LessonRule.LongestMinutes}.");
                return;
            }
            var lesson = new Lesson
            {
                Day = DateOnly.FromDateTime(start.Value), At = TimeOnly.FromDateTime(start.Value), Minutes = minutes,
                EveryWeeks = weeks, Until = until
            };
            foreach (var off in main.ExceptionDates.GetAllDates()) Change(lesson, DateOnly.FromDateTime(off.Value), null);
            foreach (var moved in group.Where(e => e.RecurrenceIdentifier is not null && e.Start is not null))
                Change(lesson, DateOnly.FromDateTime(moved.RecurrenceIdentifier!.StartTime.Value), moved.Start!.Value);
            lessons.Add((lesson, who, what));
        }
    }

    private const int MostTimes = 2_000;   // beyond that it has no end

    private static void Change(Lesson lesson, DateOnly on, DateTime? instead)
    {
        if (!LessonCalendar.IsOf(lesson.ToRule(), on) || lesson.Changes.Exists(c => c.On == on)) return;
        lesson.Changes.Add(new LessonException
        {
            On = on, MovedTo = instead is { } to ? DateOnly.FromDateTime(to) : null,
            MovedAt = instead is { } at ? TimeOnly.FromDateTime(at) : null
        });
    }

    /// <summary>The students whose nicknames stand in a text as words.</summary>
    private static List<Guid> NamedIn(string text, IReadOnlyList<(Guid Id, string Nickname)> students)
    {
        bool Stands(string name)
        {
            for (var at = text.IndexOf(name, StringComparison.OrdinalIgnoreCase); at >= 0;
                at = text.IndexOf(name, at + 1, StringComparison.OrdinalIgnoreCase))
                if ((at == 0 || !char.IsLetterOrDigit(text[at - 1]))
                    && (at + name.Length == text.Length || !char.IsLetterOrDigit(text[at + name.Length])))
                    return true;
            return false;
        }
        return [.. students.Where(s => s.Nickname.Length > 0 && Stands(s.Nickname)).Select(s => s.Id)];
    }
}
