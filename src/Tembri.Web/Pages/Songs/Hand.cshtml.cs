using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Web.Computing;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>A version made by hand: typed or begun from a rung, scored against the ladder bar by bar, kept as a rung of its
/// own.</summary>
internal sealed class HandModel(TembriDbContext context, LadderDesk desk, ComputeLanes lanes, ResultCache results,
    TimeProvider clock) : PageModel
{
    private const int MostVersions = 20;

    public sealed class HandForm
    {
        [StringLength(HandVersion.LongestName, ErrorMessage = "A name has at most 60 letters.")]
        public string? Name { get; set; }
        [StringLength(20_000, ErrorMessage = "The version is longer than 20,000 letters.")] public string? Text { get; set; }
        [Range(0, NeckGeometry.HighestCapo, ErrorMessage = "A capo is 0 to 11.")] public int Capo { get; set; }
        [StringLength(4_000, ErrorMessage = "The shapes are longer than 4,000 letters.")] public string? Shapes { get; set; }
        [Range(1, 5, ErrorMessage = "The strum is one of rungs 1 to 5.")] public int RightHand { get; set; } = 3;
        public uint Version { get; set; }
    }

    [BindProperty]
    public HandForm Form { get; set; } = new();

    public OpenLadder Open { get; private set; } = null!;
    public Guid? Version { get; private set; }
    public HandMade? Made { get; private set; }
    public StudentLadder? Graded { get; private set; }
    public VersionFit? Fit => Graded is null || Made is null ? null : Graded.FitOf(Made.Rung);
    public IReadOnlyList<string> Doubts { get; private set; } = [];
    public string? Fault { get; private set; }
    public bool Saved { get; private set; }

    /// <summary>The rungs a version can begin from.</summary>
    public IEnumerable<PlayableRung> Rungs => Open.Ladder.Playable;

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, Guid? version, int? from, bool saved = false)
    {
        if (await LoadAsync(id, student) is { } elsewhere) return elsewhere;
        Saved = saved;
        if (version is { } known)
        {
            if (await RowAsync(known) is not { } row) return NotFound();
            Version = known;
            Form = new HandForm
            {
                Name = row.Name, Text = row.ChartText, Capo = row.Capo, Shapes = row.Shapes, RightHand = row.RightHand,
                Version = row.Version
            };
            await ScoreAsync();
        }
        else
        {
            Form.Capo = Open.Ladder.Capo;
            if (from is { } number && Open.Ladder.Find(number) is PlayableRung rung)
            {
                var written = new VersionChart(Open.Ladder, rung).Chart;
                Form = new HandForm
                {
                    Name = $"{rung.Limits.Name}, my way", Text = ChartWriter.Write(written with { Title = "", Recordings = [] }),
                    Capo = rung.Capo, Shapes = HandReading.Lines(rung), RightHand = Core.Strums.StrumLadder.Top
                };
                await ScoreAsync();
            }
        }
        return Page();
    }

    /// <summary>Scores what is typed without keeping it.</summary>
    public async Task<IActionResult> OnPostScoreAsync(Guid id, Guid student, Guid? version)
    {
        if (await LoadAsync(id, student) is { } elsewhere) return elsewhere;
        Version = version;
        if (Refused() is { } fault) Fault = fault;
        else await ScoreAsync();
        return Page();
    }

    /// <summary>Keeps the version as a rung of its own.</summary>
    public async Task<IActionResult> OnPostAsync(Guid id, Guid student, Guid? version)
    {
        if (await LoadAsync(id, student) is { } elsewhere) return elsewhere;
        Version = version;
        if (Refused() is { } fault) { Fault = fault; return Page(); }
        await ScoreAsync();
        if (Made is null) return Page();
        var row = version is { } known
            ? await context.HandVersions.FirstOrDefaultAsync(v => v.Id == known && v.SongId == id && v.StudentId == student)
            : null;
        if (version is not null && row is null) return NotFound();
        if (row is null)
        {
            if (await context.HandVersions.CountAsync(v => v.SongId == id && v.StudentId == student) >= MostVersions)
            {
                Fault = $"{MostVersions} versions by hand are the most a song has for a student. Remove one first.";
                return Page();
            }
            context.AddOwned(row = new HandVersion { SongId = id, StudentId = student, Name = "", ChartText = "" });
        }
        else if (row.Version != Form.Version) return Conflict(row.Version);
        (row.Name, row.ChartText, row.Capo, row.Strings, row.Shapes, row.RightHand,
            row.ChangedAt) = (NameOf(), Form.Text ?? "", Form.Capo, LadderDesk.StringsOf(Open.Request), Form.Shapes ?? "",
                Form.RightHand, clock.GetUtcNow());
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateConcurrencyException) { return Conflict((await RowAsync(row.Id))?.Version ?? 0); }
        return Redirect($"{Paths.Hand(id, student, row.Id)}?saved=true");
    }

    /// <summary>Removes the version.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(Guid id, Guid student, Guid version)
    {
        if (await LoadAsync(id, student) is { } elsewhere) return elsewhere;
        await context.HandVersions.Where(v => v.Id == version && v.SongId == id && v.StudentId == student).ExecuteDeleteAsync();
        return Redirect(Paths.Ladder(id, student));
    }

    private PageResult Conflict(uint version)
    {
        Form.Version = version;
        ModelState.Clear();
        Response.StatusCode = StatusCodes.Status409Conflict;
        Fault =
            "This version was changed in another tab or on another device. What you typed still stands below and is not kept; "
                + "keep it again to have it.";
        return Page();
    }

    private string NameOf() => PlainText.OneLine(Form.Name ?? "") is { Length: > 0 } name ? name : "By hand";

    private string? Refused() =>
        ModelState.IsValid ? null : string.Join(" ", ModelState.Values.SelectMany(v => v.Errors).Select(e => e.ErrorMessage));

    private Task<HandVersion?> RowAsync(Guid version) =>
        context.HandVersions.AsNoTracking()
            .FirstOrDefaultAsync(v => v.Id == version && v.SongId == Open.Song.Id && v.StudentId == Open.Student.Id);

    private async Task ScoreAsync()
    {
        (Made, Fault,
            Doubts) = await lanes.ForPageAsync(
                _ => HandReading.Read(NameOf(), Form.Text ?? "", Form.Capo, Form.Shapes ?? "", Form.RightHand, Open, results),
                HttpContext.RequestAborted);
        if (Made is not null) Graded = new StudentLadder(Made.Ladder, Open.Graded.Player);
    }

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        if (!open.Ladder.Playable.Any()) return Redirect(Paths.Ladder(id, student));
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        return null;
    }
}
