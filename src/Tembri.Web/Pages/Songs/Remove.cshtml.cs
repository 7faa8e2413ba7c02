using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;

namespace Tembri.Web.Pages.Songs;

/// <summary>Asks once before a song goes.</summary>
internal sealed class RemoveModel(TembriDbContext context) : PageModel
{
    public Guid Id { get; private set; }
    public string SongTitle { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync(Guid id)
    {
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        (Id, SongTitle) = (song.Id, song.Title);
        return Page();
    }
}
