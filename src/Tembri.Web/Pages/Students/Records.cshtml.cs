using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Practice;

namespace Tembri.Web.Pages.Students;

/// <summary>What is kept about a student: how much of it, who looked, taking all of it out, erasing it.</summary>
internal sealed class RecordsModel(TembriDbContext context, StudentExport export, PlanDesk plans) : PageModel
{
    private const int Shown = 60;

    public Student Student { get; private set; } = null!;
    public int Entries { get; private set; }
    public int TakenBack { get; private set; }
    public int? KeepsMonths { get; private set; }
    public IReadOnlyList<StudentSight> Sights { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync(Guid id)
    {
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } student) return NotFound();
        Student = student;
        Entries = await context.PracticeEntries.CountAsync(e => e.StudentId == id && e.EndedAt == null);
        TakenBack = await context.PracticeEntries.CountAsync(e => e.StudentId == id && e.EndedAt != null);
        KeepsMonths =
            await context.Studios.Where(s => s.Id == student.StudioId).Select(s => s.KeepsMonths).FirstOrDefaultAsync();
        Sights = await context.StudentSights.AsNoTracking().Where(s => s.StudentId == id).OrderByDescending(s => s.Day)
            .ThenBy(s => s.Who).ThenBy(s => s.What).Take(Shown).ToListAsync();
        return Page();
    }

    /// <summary>All of it as one archive.</summary>
    public async Task<IActionResult> OnGetArchiveAsync(Guid id)
    {
        if (await export.MakeAsync(id, HttpContext.RequestAborted) is not { } archive) return NotFound();
        await plans.NoteSightAsync(id, User.Identity?.Name ?? "the teacher", "everything, taken out",
            HttpContext.RequestAborted);
        return File(archive, "application/zip", "student.zip");
    }
}
