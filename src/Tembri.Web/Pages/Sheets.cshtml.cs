using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Lessons;
using Tembri.Data;
using Tembri.Web.Practice;
using Tembri.Web.Sheets;

namespace Tembri.Web.Pages;

/// <summary>Sheets for a whole class or week as one booklet: how far it is, cancelling it, taking it.</summary>
internal sealed class SheetsModel(TembriDbContext context, SheetSets sets, LessonBook lessons, PlanDesk plans) : PageModel
{
    private const int WeekDays = 7;

    /// <summary>How far a booklet is, without the booklet itself.</summary>
    public sealed record Progress(Guid Id, string Name, int Done, int All, bool IsCancelled, bool IsMade, string Left);

    public Progress? Job { get; private set; }
    public IReadOnlyList<(Guid Id, string Nickname, bool InTheWeek)> Students { get; private set; } = [];
    public string? Fault { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid? id)
    {
        if (id is { } job && (Job = await FindAsync(job)) is null) return NotFound();
        if (Request.Headers.ContainsKey("HX-Request")) return Partial("_SheetJob", Job);
        await ListAsync();
        return Page();
    }

    private Task<Progress?> FindAsync(Guid id) =>
        context.SheetJobs.AsNoTracking().Where(j => j.Id == id)
            .Select(j => new Progress(j.Id, j.Name, j.Done, j.All, j.IsCancelled, j.Pdf != null, j.Left)).FirstOrDefaultAsync();

    private async Task ListAsync()
    {
        var week = (await lessons.ReadAsync(HttpContext.RequestAborted)).Between(plans.Today, plans.Today.AddDays(WeekDays - 1))
            .Where(l => l.On.State is LessonState.Held or LessonState.Moved).SelectMany(l => l.Lesson.Students)
            .Select(s => s.StudentId).ToHashSet();
        Students = [.. (await context.Students.AsNoTracking().OrderBy(s => s.Nickname).Select(s => new { s.Id, s.Nickname })
                .ToListAsync()).Select(s => (s.Id, s.Nickname, week.Contains(s.Id)))];
    }

    /// <summary>Orders a booklet of what the students work on.</summary>
    public async Task<IActionResult> OnPostAsync(Guid[] with)
    {
        var wanted = await sets.WorkedOnAsync(with, HttpContext.RequestAborted);
        if (wanted.Count == 0)
        {
            Fault = with.Length == 0
                ? "Tick whose sheets you want."
                : "None of them works on a song yet: choose one on their practice page.";
            await ListAsync();
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return Page();
        }
        return Redirect($"/sheets/{await sets.OrderAsync(wanted.Count == 1 ? "One sheet" : $"{wanted.Count} sheets of {plans.Today:d MMMM yyyy}", wanted, HttpContext.RequestAborted)}");
    }

    /// <summary>Somebody wants it no more.</summary>
    public async Task<IActionResult> OnPostCancelAsync(Guid id) =>
        await context.SheetJobs.Where(j => j.Id == id).ExecuteUpdateAsync(set => set.SetProperty(j => j.IsCancelled, true)) == 0
            ? NotFound()
            : Redirect($"/sheets/{id}");

    /// <summary>The booklet.</summary>
    public async Task<IActionResult> OnGetPdfAsync(Guid id) =>
        await context.SheetJobs.AsNoTracking().Where(j => j.Id == id && j.Pdf != null).Select(j => new { j.Name, j.Pdf })
                .FirstOrDefaultAsync() is { } made
            ? File(made.Pdf!, "application/pdf", $"{made.Name}.pdf")
            : NotFound();
}
