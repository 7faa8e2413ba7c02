using Microsoft.EntityFrameworkCore;
using Tembri.Core.Lessons;
using Tembri.Data;
using Tembri.Data.Lessons;

namespace Tembri.Web.Practice;

/// <summary>The lessons of a studio as they were read.</summary>
/// <param name="Lessons">All of them.</param>
/// <param name="Free">Days without repeated lessons.</param>
internal sealed record LessonsRead(IReadOnlyList<Lesson> Lessons, IReadOnlyList<FreeDays> Free)
{
    private const int DaysAhead = 60;

    /// <summary>The lessons from a day to a day, in order.</summary>
    public List<(Lesson Lesson, LessonOn On)> Between(DateOnly from, DateOnly to) =>
        [.. Lessons.SelectMany(l => l.Between(Free, from, to).Select(on => (l, on))).OrderBy(x => x.on.Day).ThenBy(x => x.on.At)
            .ThenBy(x => x.l.Id)];

    /// <summary>The lessons of a day.</summary>
    public List<(Lesson Lesson, LessonOn On)> On(DateOnly day) => Between(day, day);

    /// <summary>The next day on which a lesson is held; null when there is none soon.</summary>
    public DateOnly? NextAfter(DateOnly day) =>
        Between(day.AddDays(1), day.AddDays(DaysAhead)).Where(x => x.On.State is LessonState.Held or LessonState.Moved)
            .Select(x => (DateOnly?)x.On.Day).FirstOrDefault();

    /// <summary>The next lesson of each student from a day on.</summary>
    public Dictionary<Guid, LessonOn> NextOf(DateOnly day)
    {
        var next = new Dictionary<Guid, LessonOn>();
        foreach (var (lesson, on) in Between(day, day.AddDays(DaysAhead))
            .Where(x => x.On.State is LessonState.Held or LessonState.Moved))
            foreach (var student in lesson.Students) next.TryAdd(student.StudentId, on);
        return next;
    }
}

/// <summary>Reads the lessons of a studio.</summary>
internal sealed class LessonBook(TembriDbContext context)
{
    /// <summary>Everything there is of lessons, in one question: a lesson has few students and few changes.</summary>
    public async Task<LessonsRead> ReadAsync(CancellationToken leaving)
    {
        var lessons = await context.Lessons.AsNoTracking().AsSingleQuery().Include(l => l.Students).Include(l => l.Changes)
            .OrderBy(l => l.Id).ToListAsync(leaving);
        var free = await context.Holidays.AsNoTracking().OrderBy(h => h.From).ToListAsync(leaving);
        return new LessonsRead(lessons, [.. free.Select(h => h.ToFreeDays())]);
    }
}
