using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Lessons;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Students;

/// <summary>In which order students stand.</summary>
public enum StudentOrder { Name, Lesson, Practised }

/// <summary>The students of the studio: found by nickname, by a song they work on, or by one of the teacher's words; sorting and
/// page stand in the address.</summary>
[MayBeASecondOld, Kept]
internal sealed class IndexModel(TembriDbContext context, LessonBook lessons, PlanDesk plans) : PageModel
{
    private const int OnAPage = 50, LongestQuery = 60;

    /// <summary>A student in the list.</summary>
    public sealed record Row(Student Student, IReadOnlyList<(Guid Song, string Title, int Rung)> Songs, LessonOn? Next,
        int? DaysSince);

    public string? Q { get; private set; }
    public StudentOrder Sort { get; private set; }
    public IReadOnlyList<Row> Rows { get; private set; } = [];
    public Stretch Shown { get; private set; } = new(0, OnAPage, 0);
    public int All { get; private set; }

    public StretchLinks Links =>
        new(Shown, "students",
            to =>
                $"/students?students={to}{(string.IsNullOrEmpty(Q) ? "" : $"&q={Uri.EscapeDataString(Q)}")}{(Sort == StudentOrder.Name ? "" : $"&sort={Sort}")}");

    public async Task OnGetAsync(string? q, StudentOrder sort, int? students)
    {
        var leaving = HttpContext.RequestAborted;
        (Q, Sort) = (q?.Trim() is { Length: > 0 } asked ? asked[..Math.Min(asked.Length, LongestQuery)] : null, sort);
        var found = context.Students.AsNoTracking();
        if (Q is { } text)
        {
            var like =
                $"%{text.Replace(@"\", @"\\", StringComparison.Ordinal).Replace("%", @"\%", StringComparison.Ordinal).Replace("_", @"\_", StringComparison.Ordinal)}%";
            found =
                found.Where(s => EF.Functions.ILike(s.Nickname, like, @"\") || s.Tags.Any(t => EF.Functions.ILike(t, like, @"\"))
                || context.SongWorks.Any(w => w.StudentId == s.Id && w.EndedAt == null
                    && context.Songs.Any(x => x.Id == w.SongId && EF.Functions.ILike(x.Title, like, @"\"))));
        }
        var next = (await lessons.ReadAsync(leaving)).NextOf(plans.Today);
        var count = await found.CountAsync(leaving);
        All = Q is null ? count : await context.Students.CountAsync(leaving);
        Shown = Stretch.Of(students, OnAPage, count);
        List<Student> page;
        if (sort == StudentOrder.Lesson)
        {
            // When a lesson is next is reckoned, not stored: identities and names are few enough to be put in order here.
            var order = (await found.Select(s => new { s.Id, s.Nickname }).ToListAsync(leaving))
                .OrderBy(s => next.TryGetValue(s.Id, out var on) ? on.Day : DateOnly.MaxValue)
                .ThenBy(s => next.TryGetValue(s.Id, out var on) ? on.At : TimeOnly.MaxValue).ThenBy(s => s.Nickname)
                .Skip(Shown.First).Take(OnAPage).Select(s => s.Id).ToList();
            page = [.. (await context.Students.AsNoTracking().Where(s => order.Contains(s.Id)).ToListAsync(leaving))
                .OrderBy(s => order.IndexOf(s.Id))];
        }
        else
        {
            var ordered = sort == StudentOrder.Practised
                ? found.OrderBy(s => s.Progress!.PractisedAt).ThenBy(s => s.Nickname)
                : found.OrderBy(s => s.Nickname).ThenBy(s => s.Id);
            page = await ordered.Skip(Shown.First).Take(OnAPage).ToListAsync(leaving);
        }
        var ids = page.Select(s => s.Id).ToList();
        var works = (await context.SongWorks.AsNoTracking().Where(w => ids.Contains(w.StudentId) && w.EndedAt == null)
                .Join(context.Songs, w => w.SongId, s => s.Id, (w, s) => new { w.StudentId, s.Id, s.Title, w.Rung })
                .ToListAsync(leaving)).ToLookup(w => w.StudentId);
        Rows = [.. page.Select(s =>
            new Row(s, [.. works[s.Id].OrderBy(w => w.Title).ThenBy(w => w.Id)
                .Select(w => (w.Id, w.Title, w.Rung))], next.GetValueOrDefault(s.Id),
            s.Progress?.PractisedAt is { } last
                ? Math.Max(0, plans.Today.DayNumber - DateOnly.FromDateTime(last.Date).DayNumber)
                : null))];
    }
}
