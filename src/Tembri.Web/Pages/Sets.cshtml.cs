using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Playing;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Archive;
using Tembri.Web.Computing;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Sheets;

namespace Tembri.Web.Pages;

/// <summary>Songs in an order: for a lesson group, a concert, a season.</summary>
[MayBeASecondOld]
internal sealed class SetsModel(TembriDbContext context, SetDesk desk, LadderDesk ladders, Booklet booklet,
    StudioArchive archive, ComputeLanes lanes, StudioSettings studio, TimeProvider clock) : PageModel
{
    private const int MostSets = 200;

    public IReadOnlyList<SongSet> All { get; private set; } = [];
    public OpenSet? Open { get; private set; }
    public IReadOnlyList<(Guid Id, string Title)> Songs { get; private set; } = [];
    public IReadOnlyList<(Guid Id, string Nickname)> Students { get; private set; } = [];
    public string? Fault { get; private set; }
    public Guid RequestKey { get; } = Guid.CreateVersion7();

    public static string Address(Guid set) => $"/sets/{set}";

    public async Task<IActionResult> OnGetAsync(Guid? id)
    {
        if (id is { } set && (Open = await desk.OpenAsync(set, HttpContext.RequestAborted)) is null) return NotFound();
        await ListAsync();
        return Page();
    }

    private async Task ListAsync()
    {
        All = await context.SongSets.AsNoTracking().OrderBy(s => s.On == null).ThenByDescending(s => s.On).ThenBy(s => s.Name)
            .ToListAsync();
        Songs = [.. (await context.Songs.AsNoTracking().OrderBy(s => s.Title).ThenBy(s => s.Id)
            .Select(s => new { s.Id, s.Title }).ToListAsync())
            .Select(s => (s.Id, s.Title))];
        Students = [.. (await context.Students.AsNoTracking().OrderBy(s => s.Nickname).Select(s => new { s.Id, s.Nickname })
                .ToListAsync()).Select(s => (s.Id, s.Nickname))];
    }

    /// <summary>Makes a set.</summary>
    public async Task<IActionResult> OnPostNewAsync(string? name, Guid key)
    {
        var called = PlainText.Cut(PlainText.Clean(name ?? "").Trim(), SongSet.LongestName);
        if (called.Length == 0 || await context.SongSets.CountAsync() >= MostSets)
        {
            Fault = called.Length == 0 ? "Give the set a name." : $"There are {MostSets} sets; remove one first.";
            await ListAsync();
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return Page();
        }
        if (await context.SongSets.AsNoTracking().FirstOrDefaultAsync(s => s.RequestKey == key) is { } there)
            return Redirect(Address(there.Id));
        var set = new SongSet { Name = called, ChangedAt = clock.GetUtcNow(), RequestKey = key };
        context.AddOwned(set);
        await context.SaveChangesAsync();
        return Redirect(Address(set.Id));
    }

    /// <summary>Changes a set: its name, its day, who plays it, its songs and their order.</summary>
    public async Task<IActionResult> OnPostAsync(Guid id, string? act, string? name, DateOnly? on, Guid? student, Guid? song,
        int? at, int? rung, uint version)
    {
        if (await context.SongSets.FirstOrDefaultAsync(s => s.Id == id) is not { } set) return NotFound();
        // A set that was changed in another tab is shown as it is now, and nothing is lost.
        if (set.Version != version)
            return await RefuseAsync(id,
                "This set was changed in another tab meanwhile; here is the newest. Make your change again.");
        var songs = set.Read().ToList();
        if (at is { } place && (place < 0 || place >= songs.Count))
            return await RefuseAsync(id, "There is no such place in the set; nothing was changed.");
        switch (act)
        {
            case "name":
                if (PlainText.Cut(PlainText.Clean(name ?? "").Trim(), SongSet.LongestName) is { Length: > 0 } called)
                    set.Name = called;
                if (!ModelState.IsValid) return await RefuseAsync(id, "The day could not be read; nothing was changed.");
                if (student is { } who && !await context.Students.AnyAsync(s => s.Id == who)) return NotFound();
                (set.On, set.StudentId) = (on, student);
                break;
            case "add" when song is { } added:
                if (!await context.Songs.AnyAsync(s => s.Id == added)) return NotFound();
                if (songs.Count >= SongSet.MostSongs)
                    return await RefuseAsync(id, $"A set has at most {SongSet.MostSongs} songs.");
                songs.Add(new SetSong(added));
                break;
            case "up" when at is > 0 and { } up: (songs[up - 1], songs[up]) = (songs[up], songs[up - 1]); break;
            case "down" when at is { } down && down + 1 < songs.Count:
                (songs[down + 1], songs[down]) = (songs[down], songs[down + 1]); break;
            case "out" when at is { } gone: songs.RemoveAt(gone); break;
            case "rung" when at is { } ruled && rung is null or (>= 1 and <= 5):
                songs[ruled] = songs[ruled] with { Rung = rung }; break;
            case "order" when await desk.OpenAsync(id, HttpContext.RequestAborted) is { } open:
                var known = open.Items.Select(i => i.Song.Id).ToList();
                songs = [.. songs.Where(s => known.Contains(s.Song))];
                songs = [.. SetOrder.FewestMoves([.. open.Items.Select(i => i.Capo)]).Select(i => songs[i])];
                break;
        }
        set.Write(songs);
        set.ChangedAt = clock.GetUtcNow();
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            context.ChangeTracker.Clear();
            return await RefuseAsync(id,
                "This set was changed in another tab meanwhile; here is the newest. Make your change again.");
        }
        return Redirect(Address(id));
    }

    private async Task<IActionResult> RefuseAsync(Guid id, string fault)
    {
        context.ChangeTracker.Clear();
        Open = await desk.OpenAsync(id, HttpContext.RequestAborted);
        await ListAsync();
        Fault = fault;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }

    /// <summary>Takes a set away; its songs stay.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(Guid id) =>
        await context.SongSets.Where(s => s.Id == id).ExecuteDeleteAsync() == 0 ? NotFound() : Redirect("/sets");

    /// <summary>The set and its songs as a file for another teacher.</summary>
    public async Task<IActionResult> OnGetArchiveAsync(Guid id) =>
        await archive.WriteSetAsync(id, HttpContext.RequestAborted) is var (file, name)
            ? File(file, "application/zip", $"{name}.zip")
            : NotFound();

    /// <summary>All of it as one booklet: a page with the order, then each song's sheet, for a student's own versions or as
    /// recorded.</summary>
    public async Task<IActionResult> OnGetPdfAsync(Guid id)
    {
        var leaving = HttpContext.RequestAborted;
        if (await desk.OpenAsync(id, leaving) is not { } open) return NotFound();
        var asked = new SheetAsked(studio.Sheets.Kind, studio.Sheets.IsLetter, studio.Sheets.Large, true, studio.FretsFromNut,
            studio.NoteNames);
        var sheets = new List<PaperSheet> { SetSheet.Write(open) };
        foreach (var item in open.Items)
        {
            if (open.Student is { } student && await ladders.OpenAsync(item.Song.Id, student.Id, leaving: leaving) is { } ladder
                && ladder.Ladder.Find(item.Rung) is PlayableRung rung)
                sheets.Add(new RungSheet(new SheetOf(item.Song.Title, student.Nickname, student.LeftHanded, ladder.Ladder, rung,
                            null, ladder.FitOf(rung)!), asked).Write());
            else sheets.Add(SetSheet.Chart(item, studio.NoteNames));
        }
        var pdf =
            await lanes.ForPageAsync(work => booklet.Write(open.Set.Name, sheets, asked.IsLetter, cancel: work.Cancel), leaving);
        return File(pdf, "application/pdf", $"{open.Set.Name}.pdf");
    }
}
