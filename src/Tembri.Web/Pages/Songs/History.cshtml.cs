using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Songs;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>A state of a chart, and what became of it.</summary>
/// <param name="Number">Its number.</param>
/// <param name="LeftAt">When it gave way to another text.</param>
/// <param name="Lines">Its lines; those that the chart of today does not have are told apart.</param>
public sealed record PastChart(int Number, DateTimeOffset LeftAt, IReadOnlyList<(string Text, bool IsGone)> Lines)
{
    /// <summary>Lines the chart of today does not have.</summary>
    public int Gone => Lines.Count(l => l.IsGone);
}

/// <summary>What a song's chart once was: looked at, and brought back.</summary>
[MayBeASecondOld]
internal sealed class HistoryModel(TembriDbContext context, SongHistory history, ArrangingOrders orders,
    TimeProvider clock) : PageModel
{
    private const int Most = 50;

    public Song Song { get; private set; } = null!;
    public IReadOnlyList<PastChart> Past { get; private set; } = [];
    public int InAll { get; private set; }
    public string? Fault { get; private set; }

    /// <summary>The student who stays chosen from tab to tab.</summary>
    [BindProperty(SupportsGet = true)]
    public Guid? Student { get; set; }

    public async Task<IActionResult> OnGetAsync(Guid id)
    {
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        Song = song;
        Student = ChosenStudent.Of(Request, Student) is { } chosen && await context.Students.AnyAsync(s => s.Id == chosen)
            ? chosen
            : null;
        InAll = await context.SongRevisions.CountAsync(r => r.SongId == id);
        var rows = await context.SongRevisions.AsNoTracking().Where(r => r.SongId == id).OrderByDescending(r => r.Number)
            .Take(Most).ToListAsync();
        var today = song.ChartText.Split('\n').Select(l => l.TrimEnd()).ToHashSet();
        Past = [.. rows.Select(r => new PastChart(r.Number, r.LeftAt,
            [.. r.ChartText.Split('\n').Select(l => l.TrimEnd()).Select(l => (l, !today.Contains(l)))]))];
        return Page();
    }

    /// <summary>Brings a state back; what the chart is now becomes a state of the history first.</summary>
    public async Task<IActionResult> OnPostAsync(Guid id, int number, uint version)
    {
        var song = await context.Songs.FirstOrDefaultAsync(s => s.Id == id);
        var past = await context.SongRevisions.AsNoTracking().FirstOrDefaultAsync(r => r.SongId == id && r.Number == number);
        if (song is null || past is null) return NotFound();
        if (song.Version != version) return await ChangedAsync(id);
        await history.KeepAsync(song, past.ChartText, always: true, HttpContext.RequestAborted);
        SongText.Apply(song, past.ChartText, clock.GetUtcNow());
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            context.ChangeTracker.Clear();
            return await ChangedAsync(id);
        }
        await orders.OrderAsync(id, HttpContext.RequestAborted);
        return Redirect(Paths.SavedChart(id, Student));
    }

    private async Task<IActionResult> ChangedAsync(Guid id)
    {
        (Fault,
            Response.StatusCode) =
                ("The chart was changed in another tab or on another device after you opened this page. Look again, then bring "
                    + "back what you want.",
                StatusCodes.Status409Conflict);
        return await OnGetAsync(id);
    }
}
