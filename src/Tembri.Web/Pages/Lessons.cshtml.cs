using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Lessons;
using Tembri.Data;
using Tembri.Data.Lessons;
using Tembri.Web.Faults;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages;

/// <summary>When who has lessons: weekly times, single dates, several together, who is away, what is moved, free days; as a
/// calendar in and out.</summary>
[MayBeASecondOld]
[RequestSizeLimit(LargestFile + 100_000)]
internal sealed class LessonsModel(TembriDbContext context, LessonBook book, PlanDesk plans, TimeProvider clock) : PageModel
{
    private const int DaysShown = 28, MostStudents = 12, MostLessons = 500;

    /// <summary>The largest calendar that is read.</summary>
    public const int LargestFile = 1_000_000;

    public LessonsRead Read { get; private set; } = new([], []);
    public IReadOnlyList<(Guid Id, string Nickname)> Students { get; private set; } = [];
    public IReadOnlyList<Holiday> Holidays { get; private set; } = [];
    public IReadOnlyList<(Lesson Lesson, LessonOn On)> Coming { get; private set; } = [];

    /// <summary>The one lesson that is to be changed.</summary>
    public (Lesson Lesson, LessonOn On)? Chosen { get; private set; }
    public string? Fault { get; private set; }

    /// <summary>What came of a calendar that was brought, line by line.</summary>
    public IReadOnlyList<string> Brought { get; private set; } = [];
    public DateOnly Today => plans.Today;
    public Guid RequestKey { get; } = Guid.CreateVersion7();

    public string NamesOf(Lesson lesson) =>
        string.Join(", ",
            lesson.Students.Select(s => Students.FirstOrDefault(x => x.Id == s.StudentId).Nickname).OrderBy(n => n));

    public async Task<IActionResult> OnGetAsync(Guid? lesson, DateOnly? on)
    {
        await ReadAsync();
        if (lesson is { } id)
        {
            if (Read.Lessons.FirstOrDefault(l => l.Id == id) is not { } found) return NotFound();
            var day = ModelState.IsValid && on is { } asked ? asked : Today;
            // The lesson of that day, wherever it was moved to; else its next one.
            var times = found.Between(Read.Free, day.AddDays(-DaysShown), day.AddDays(DaysShown)).ToList();
            if ((times.Find(t => t.On == day) ?? times.Find(t => t.Day >= day) ?? times.LastOrDefault()) is { } time)
                Chosen = (found, time);
        }
        return Page();
    }

    private async Task ReadAsync()
    {
        var leaving = HttpContext.RequestAborted;
        Read = await book.ReadAsync(leaving);
        Students = [.. (await context.Students.AsNoTracking().OrderBy(s => s.Nickname).Select(s => new { s.Id, s.Nickname })
                .ToListAsync(leaving)).Select(s => (s.Id, s.Nickname))];
        Holidays = await context.Holidays.AsNoTracking().OrderBy(h => h.From).ToListAsync(leaving);
        Coming = Read.Between(Today, Today.AddDays(DaysShown));
    }

    private async Task<IActionResult> RefuseAsync(string fault)
    {
        await ReadAsync();
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>Writes a lesson down.</summary>
    public async Task<IActionResult> OnPostAddAsync(DateOnly? day, TimeOnly? at, int minutes, int everyWeeks, DateOnly? until,
        Guid[] with, Guid key)
    {
        if (!ModelState.IsValid || day is not { } first || at is not { } time)
            return await RefuseAsync("Give the day and the time of the lesson.");
        if (minutes is < 5 or > LessonRule.LongestMinutes)
            return await RefuseAsync($"A lesson lasts 5 to {LessonRule.LongestMinutes} minutes.");
        if (everyWeeks is < 0 or > LessonRule.MostWeeks)
            return await RefuseAsync("A lesson is single, or comes every 1 to 8 weeks.");
        if (first.Year is < 2000 or > 2200 || until is { } end && (end < first || end.Year > 2200))
            return await RefuseAsync("The last day lies before the first, or too far away.");
        var students = await context.Students.Where(s => with.Contains(s.Id)).Select(s => s.Id).ToListAsync();
        if (students.Count < with.Distinct().Count()) return NotFound();
        if (students.Count == 0) return await RefuseAsync("Tick whose lesson it is.");
        if (students.Count > MostStudents) return await RefuseAsync($"A lesson has at most {MostStudents} students.");
        if (await context.Lessons.CountAsync() >= MostLessons)
            return await RefuseAsync($"There are {MostLessons} lessons written down; remove old ones first.");
        if (!await context.Lessons.AnyAsync(l => l.RequestKey == key))
            await AddAsync(new Lesson
            {
                Day = first, At = time, Minutes = minutes, EveryWeeks = everyWeeks, Until = everyWeeks == 0 ? null : until,
                RequestKey = key
            }, students);
        return Redirect("/lessons");
    }

    private async Task AddAsync(Lesson lesson, IEnumerable<Guid> students)
    {
        context.AddOwned(lesson);
        foreach (var change in lesson.Changes) (change.StudioId, change.LessonId) = (lesson.StudioId, lesson.Id);
        lesson.Students = [.. students.Distinct()
            .Select(s => new LessonStudent { StudioId = lesson.StudioId, LessonId = lesson.Id, StudentId = s })];
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e)) { context.ChangeTracker.Clear(); }
    }

    /// <summary>Takes a lesson away, from now on or as if it had never been.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(Guid lesson)
    {
        if (await context.Lessons.FirstOrDefaultAsync(l => l.Id == lesson) is not { } row) return NotFound();
        // What was held stays in the calendar; what is to come goes.
        if (row.EveryWeeks > 0 && row.Day < Today) row.Until = Today.AddDays(-1);
        else context.Remove(row);
        await context.SaveChangesAsync();
        return Redirect("/lessons");
    }

    /// <summary>Moves one lesson, says that it is not held, or takes that back.</summary>
    public async Task<IActionResult> OnPostChangeAsync(Guid lesson, DateOnly? on, string? act, DateOnly? to, TimeOnly? at)
    {
        if (await context.Lessons.Include(l => l.Changes).Include(l => l.Students)
            .FirstOrDefaultAsync(l => l.Id == lesson) is not { } row)
            return NotFound();
        if (!ModelState.IsValid || on is not { } day || !LessonCalendar.IsOf(row.ToRule(), day))
            return await RefuseAsync("This lesson has no such day; nothing was changed.");
        if (act == "move" && (to is null || to.Value.Year is < 2000 or > 2200))
            return await RefuseAsync("Give the day the lesson is moved to.");
        var known = row.Changes.Find(c => c.On == day);
        if (act == "back")
        {
            if (known is not null) context.Remove(known);
        }
        else
        {
            if (known is null)
                row.Changes.Add(known = new LessonException { StudioId = row.StudioId, LessonId = row.Id, On = day });
            (known.MovedTo, known.MovedAt) = act == "move" ? (to, at) : (null, null);
        }
        await context.SaveChangesAsync();
        return Redirect($"/?day={(act == "move" ? to!.Value : day):yyyy-MM-dd}");
    }

    /// <summary>Writes free days down.</summary>
    public async Task<IActionResult> OnPostFreeAsync(DateOnly? from, DateOnly? to, string? name)
    {
        if (!ModelState.IsValid || from is not { } first) return await RefuseAsync("Give the first free day.");
        var last = to ?? first;
        if (last < first || last.DayNumber - first.DayNumber > 366 || first.Year is < 2000 or > 2200)
            return await RefuseAsync("Free days end on their first day or later, within a year.");
        context.AddOwned(new Holiday
        {
            From = first, To = last, Name = PlainText.Cut(PlainText.Clean(name ?? "").Trim(), Holiday.LongestName)
        });
        await context.SaveChangesAsync();
        return Redirect("/lessons#free");
    }

    /// <summary>Takes free days away.</summary>
    public async Task<IActionResult> OnPostUnfreeAsync(Guid id) =>
        await context.Holidays.Where(h => h.Id == id).ExecuteDeleteAsync() == 0 ? NotFound() : Redirect("/lessons#free");

    /// <summary>All lessons as a calendar.</summary>
    public async Task<IActionResult> OnGetIcsAsync()
    {
        await ReadAsync();
        return File(System.Text.Encoding.UTF8.GetBytes(LessonFile.Write(Read, NamesOf, clock.GetUtcNow())), "text/calendar",
            "lessons.ics");
    }

    /// <summary>Reads a calendar: events that name students become lessons; what could not be used is said.</summary>
    public async Task<IActionResult> OnPostBringAsync(IFormFile? file)
    {
        if (file is null || file.Length == 0) return await RefuseAsync("Choose a calendar, a file that ends in .ics.");
        if (file.Length > LargestFile) return await RefuseAsync("This calendar is larger than 1 MB; export the lessons alone.");
        using var reader = new StreamReader(file.OpenReadStream());
        var names = await context.Students.Select(s => new { s.Id, s.Nickname }).ToListAsync();
        LessonsBrought brought;
        try
        {
            brought = LessonFile.Read(await reader.ReadToEndAsync(), [.. names.Select(n => (n.Id, n.Nickname))], MostLessons);
        }
        catch (FormatException e) { return await RefuseAsync(e.Message); }
        var there = await context.Lessons.Include(l => l.Students).AsNoTracking().ToListAsync();
        var said = new List<string>(brought.Said);
        foreach (var (lesson, students, what) in brought.Lessons)
        {
            if (there.Exists(l => l.Day == lesson.Day && l.At == lesson.At && l.EveryWeeks == lesson.EveryWeeks
                && l.Students.Select(s => s.StudentId).ToHashSet().SetEquals(students)))
            {
                said.Add($"{what}: was there already.");
                continue;
            }
            await AddAsync(lesson, students);
            said.Add($"{what}: taken.");
        }
        await ReadAsync();
        Brought = said;
        return Page();
    }
}
