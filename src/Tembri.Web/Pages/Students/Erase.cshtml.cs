using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;

namespace Tembri.Web.Pages.Students;

/// <summary>Asks once, then erases all that is kept about a student.</summary>
internal sealed class EraseModel(TembriDbContext context) : PageModel
{
    public Guid Id { get; private set; }
    public string Nickname { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync(Guid id)
    {
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } student) return NotFound();
        (Id, Nickname) = (student.Id, student.Nickname);
        return Page();
    }

    public async Task<IActionResult> OnPostAsync(Guid id)
    {
        if (await context.Students.FirstOrDefaultAsync(s => s.Id == id) is not { } student) return NotFound();
        context.MayTakeLong();
        context.Students.Remove(student);
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateConcurrencyException)
        {
            // Changed or erased at the same moment: what is left goes all the same.
            context.ChangeTracker.Clear();
            await context.Students.Where(s => s.Id == id).ExecuteDeleteAsync();
        }
        return LocalRedirect("/");
    }
}
