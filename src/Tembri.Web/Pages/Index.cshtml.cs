using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Ladders;

namespace Tembri.Web.Pages;

/// <summary>A song on the desk; grades are null while they are still to be computed.</summary>
public sealed record DeskRow(Song Song, IReadOnlyList<Student> Students, IReadOnlyDictionary<Guid, Grade>? Grades);

/// <summary>The desk: songs and students of the studio, with what is ready for whom.</summary>
internal sealed class IndexModel(TembriDbContext context, LadderDesk desk) : PageModel
{
    public string StudioName { get; private set; } = "";
    public IReadOnlyList<Student> Students { get; private set; } = [];
    public IReadOnlyList<DeskRow> Songs { get; private set; } = [];

    public async Task OnGetAsync()
    {
        StudioName = await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Name).FirstOrDefaultAsync() ?? "";
        Students = await context.Students.AsNoTracking().OrderBy(s => s.Nickname).ToListAsync();
        var songs = await context.Songs.AsNoTracking().OrderBy(s => s.Title).ToListAsync();
        var kept = await desk.KeptGradesAsync(songs, Students, HttpContext.RequestAborted);
        IReadOnlyDictionary<Guid, Grade>? Known(Song song) => Students.All(s => kept.ContainsKey((song.Id, s.Id))) ? Students.ToDictionary(s => s.Id, s => kept[(song.Id, s.Id)]) : null;
        Songs = [.. songs.Select(s => new DeskRow(s, Students, Known(s)))];
    }

    /// <summary>One row, its grades computed now; asked for by the page for rows that were not graded yet.</summary>
    public async Task<IActionResult> OnGetRowAsync(Guid song)
    {
        var row = await context.Songs.FirstOrDefaultAsync(s => s.Id == song);
        if (row is null) return NotFound();
        var students = await context.Students.OrderBy(s => s.Nickname).ToListAsync();
        return Partial("_DeskRow", new DeskRow(row, students, await desk.GradeSongAsync(row, students, HttpContext.RequestAborted)));
    }
}
