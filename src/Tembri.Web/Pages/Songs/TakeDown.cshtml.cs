using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Ladders;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Recordings;
using Tembri.Web.Songs;

namespace Tembri.Web.Pages.Songs;

/// <summary>Take a song down: chart text on one side, what was read of it on the other.</summary>
internal sealed class TakeDownModel(TembriDbContext context, SongKeeper keeper, SongHistory history, ArrangingOrders orders,
    TimeProvider clock, StudioSettings studio) : PageModel
{
    [BindProperty]
    public string? Text { get; set; }

    [BindProperty]
    public uint Version { get; set; }

    /// <summary>Names the form of a new song, so that the same one sent twice makes one.</summary>
    [BindProperty]
    public Guid RequestKey { get; set; }

    /// <summary>The student who stays chosen from tab to tab.</summary>
    [BindProperty(SupportsGet = true)]
    public Guid? Student { get; set; }

    public Guid? Id { get; private set; }
    public bool IsNew => Id is null;
    public string Heading { get; private set; } = "";
    public ReadChart Reading { get; private set; } = ReadChart.Nothing;
    public IReadOnlyList<Student> Students { get; private set; } = [];
    public bool Saved { get; private set; }
    public string? Fault { get; private set; }

    /// <summary>The chart another tab saved meanwhile.</summary>
    public string? Theirs { get; private set; }

    /// <summary>Why no ladder can be made of the chart, when somebody came for one; null when one can.</summary>
    public string? WithoutLadder { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid? id, bool saved = false, string? why = null)
    {
        if (id is { } known)
        {
            if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == known) is not { } song) return NotFound();
            (Text, Version) = (song.ChartText, song.Version);
            Show(song);
        }
        else RequestKey = Guid.CreateVersion7();
        Saved = saved;
        await HearAsync(id);
        Read();
        if (why == "ladder" && Id is not null)
            WithoutLadder = LadderBuilder.Objection(ChartReader.Read(Text ?? "").Chart.Chords.Count);
        await LoadStudentsAsync();
        return Page();
    }

    /// <summary>Reads the text as it stands, without saving.</summary>
    public async Task<IActionResult> OnPostCheckAsync(Guid? id)
    {
        await HearAsync(id);
        Read();
        if (Request.IsFromScript())
        {
            Response.Headers["X-Tembri-Part"] = "reading";
            return Partial("_Reading", Reading);
        }
        if (id is { } known && await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == known) is { } song)
            Show(song);
        await LoadStudentsAsync();
        return Page();
    }

    /// <summary>Saves as the teacher writes. Answers the new version, or, when another tab saved meanwhile, that one's text;
    /// nothing is overwritten.</summary>
    public async Task<IActionResult> OnPostKeepAsync(Guid id)
    {
        if (await context.Songs.FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        if (string.IsNullOrWhiteSpace(Text) || Text.Length > ChartLimits.LongestText)
            return new JsonResult(new { fault = string.IsNullOrWhiteSpace(Text)
                ? "an empty chart is not saved"
                : $"{ChartLimits.LongestText:N0} characters are the most" })
            {
                StatusCode = 422
            };
        var (kept, stored) = await keeper.KeepAsync(song, Text, Version, HttpContext.RequestAborted);
        return kept ? new JsonResult(new { version = song.Version }) : stored is null ? NotFound() : Conflict(stored);
    }

    private static JsonResult Conflict(Song theirs) =>
        new(new { theirs = theirs.ChartText, version = theirs.Version }) { StatusCode = 409 };

    /// <summary>Settles a doubt in the text, for pages without script; it is not saved yet.</summary>
    public async Task<IActionResult> OnPostMendAsync(Guid? id, string? mend, string? of)
    {
        await HearAsync(id);
        if (Text is { Length: > 0 and <= ChartLimits.LongestText } && ReadChart.Of(Text, studio.NoteNames, Heard).Mark == of
            && ReadChart.Apply(Text, mend) is { } mended)
        {
            Text = mended;
            ModelState.Remove(nameof(Text));
        }
        else Fault = "The text has changed since; the place of this doubt is not there any more.";
        return await OnPostCheckAsync(id);
    }

    /// <summary>Writes the chart in another key; like a mend it is not saved yet.</summary>
    public Task<IActionResult> OnPostMoveAsync(Guid? id, string? to) => EditAsync(id, text =>
        Core.Music.Key.TryParse(to, out var key)
            ? new Edited(ChartTextMover.Move(text, key, studio.NoteNames), null)
            : new Edited(null, "Choose a key to move the chart to, such as E♭ or F♯m."));

    /// <summary>Makes a change that was asked for on the drawn chart; it is not saved yet.</summary>
    public Task<IActionResult> OnPostActAsync(Guid? id, ChartAct change) => EditAsync(id, change.On);

    /// <summary>Edits the text in the box. A script gets the text as data, or the fault.</summary>
    private async Task<IActionResult> EditAsync(Guid? id, Func<string, Edited> edit)
    {
        var edited = Text is { Length: > ChartLimits.LongestText }
            ? new Edited(null, $"{ChartLimits.LongestText:N0} characters are the most; shorten the chart.")
            : edit(Text ?? "");
        if (Request.IsFromScript())
            return new JsonResult(new { text = edited.Text, fault = edited.Fault })
            {
                StatusCode = edited.Text is null ? StatusCodes.Status422UnprocessableEntity : StatusCodes.Status200OK
            };
        if (edited.Text is not null)
        {
            Text = edited.Text;
            ModelState.Remove(nameof(Text));
        }
        Fault = edited.Fault;
        return await OnPostCheckAsync(id);
    }

    /// <summary>Keys a chart can be moved to: those of its mode with six signs or fewer, and its own.</summary>
    public static IReadOnlyList<Core.Music.Key> Keys(Core.Music.Key of) =>
        [.. Enumerable.Range(-6, 13)
            .Select(f => new Core.Music.Key(new Core.Music.Note(of.IsMinor ? f + 3 : f), of.IsMinor))
            .Append(of).Distinct().OrderBy(k => k.Tonic.PitchClass).ThenBy(k => k.Tonic.Fifths)];

    public async Task<IActionResult> OnPostAsync(Guid? id)
    {
        Song? song = null;
        if (id is { } known)
        {
            song = await context.Songs.FirstOrDefaultAsync(s => s.Id == known);
            if (song is null) return NotFound();
            Show(song);
        }
        if (string.IsNullOrWhiteSpace(Text))
            return await RefuseAsync("The chart is empty. Write at least one bar, such as | C . G . |, then save.");
        if (Text.Length > ChartLimits.LongestText)
            return await RefuseAsync(
                $"This chart has {Text.Length:N0} characters; {ChartLimits.LongestText:N0} is the most. Shorten it, then save.");
        if (song is not null && song.Version != Version) return await RefuseAsync(song);
        if (song is null) return Redirect(Paths.SavedChart(await AddAsync(Text)));
        await history.KeepAsync(song, Text, always: false, HttpContext.RequestAborted);
        SongText.Apply(song, Text, clock.GetUtcNow());
        try
        {
            await context.SaveChangesAsync();
        }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            context.ChangeTracker.Clear();
            return await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == song.Id) is { } theirs
                ? await RefuseAsync(theirs)
                : NotFound();
        }
        await orders.OrderAsync(song.Id, HttpContext.RequestAborted);
        return Redirect(Paths.SavedChart(song.Id, Student));
    }

    /// <summary>Adds a new song, or finds the one that the same form made before.</summary>
    private async Task<Guid> AddAsync(string text)
    {
        var key = RequestKey == Guid.Empty ? (Guid?)null : RequestKey;
        Task<Song?> Before() => context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.RequestKey == key);
        // The form was sent before and is sent again with another text: that is another song.
        if (key is not null && await Before() is { } known)
        {
            if (known.ChartText == SongText.Storable(text)) return known.Id;
            key = null;
        }
        var song = SongText.New();
        song.RequestKey = key;
        SongText.Apply(song, text, clock.GetUtcNow());
        context.AddOwned(song);
        try
        {
            await context.SaveChangesAsync();
            await orders.OrderAsync(song.Id, HttpContext.RequestAborted);
            return song.Id;
        }
        catch (DbUpdateException e) when (key is not null && DatabaseFaults.IsTwice(e))
        {
            context.ChangeTracker.Clear();
            return (await Before())!.Id;
        }
    }

    public async Task<IActionResult> OnPostRemoveAsync(Guid id, bool sure = false)
    {
        if (await context.Songs.FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        if (!sure) return RedirectToPage("Remove", new { id });
        context.Songs.Remove(song);
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            // Changed or removed at the same moment: what is left goes all the same.
            context.ChangeTracker.Clear();
            await context.Songs.Where(s => s.Id == id).ExecuteDeleteAsync();
        }
        return LocalRedirect("/");
    }

    private void Show(Song song) => (Id, Heading) = (song.Id, song.Title);

    /// <summary>What a recording told of the song, for the doubts.</summary>
    private HeardSong? Heard { get; set; }

    private async Task HearAsync(Guid? id)
    {
        if (id is { } known)
            Heard = HeardSong.Read(await context.SongHearings.AsNoTracking().Where(h => h.SongId == known)
                .Select(h => h.Findings).FirstOrDefaultAsync());
    }

    private void Read()
    {
        if (string.IsNullOrWhiteSpace(Text)) return;
        if (Text.Length <= ChartLimits.LongestText) Reading = ReadChart.Of(Text, studio.NoteNames, Heard);
        else Fault = $"This chart has {Text.Length:N0} characters; {ChartLimits.LongestText:N0} is the most. Shorten it.";
    }

    private async Task LoadStudentsAsync()
    {
        Students = await context.Students.AsNoTracking().OrderBy(s => s.Nickname).ToListAsync();
        // Tabs of a song lead somewhere as soon as there is a student: the one chosen, else the first.
        var chosen = ChosenStudent.Of(Request, Student);
        Student = (Students.FirstOrDefault(s => s.Id == chosen) ?? Students.FirstOrDefault())?.Id;
    }

    private async Task<IActionResult> RefuseAsync(string fault)
    {
        Read();
        Fault = fault;
        await LoadStudentsAsync();
        return Page();
    }

    /// <summary>Another tab saved first: both texts stay in sight, and saving again decides.</summary>
    private Task<IActionResult> RefuseAsync(Song theirs)
    {
        Theirs = theirs.ChartText;
        Version = theirs.Version;
        ModelState.Remove(nameof(Version));
        return RefuseAsync("This chart was saved somewhere else after you opened it. Your text is still in the box; compare the "
            + "two, then save again to keep yours.");
    }
}
