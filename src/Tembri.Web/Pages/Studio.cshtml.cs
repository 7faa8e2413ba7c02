using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Faults;
using Tembri.Web.Setup;
using Tembri.Web.Sheets;
using Tembri.Web.Songs;

namespace Tembri.Web.Pages;

/// <summary>What a teacher settles once for the whole studio.</summary>
internal sealed class StudioModel(TembriDbContext context, Ladders.ArrangingOrders orders, TimeProvider clock) : PageModel
{
    public static readonly IReadOnlyList<int> AllTunings = [1, 0, -1, -2, -3, -4, -5];

    public sealed class StudioForm
    {
        [Required(ErrorMessage = "Give the studio a name."),
            StringLength(80, ErrorMessage = "80 letters are the most for a name.")]
        public string Name { get; set; } = "";
        [EnumDataType(typeof(NoteNames), ErrorMessage = "Choose how notes are named.")]
        public NoteNames NoteNames { get; set; }
        public bool FretsFromNut { get; set; }
        public List<int> Tunings { get; set; } = [];
        public int? KeepsMonths { get; set; }
        [EnumDataType(typeof(SheetKind), ErrorMessage = "Choose what stands on sheets.")]
        public SheetKind SheetKind { get; set; }
        public bool Letter { get; set; }
        public bool Large { get; set; }
        internal SheetHabits Sheets => new(SheetKind, Letter, Large);
        public uint Version { get; set; }
    }

    /// <summary>Months after which entries of logbooks go by themselves.</summary>
    public static readonly IReadOnlyList<int> AllMonths = [6, 12, 24, 36];

    [BindProperty]
    public StudioForm Form { get; set; } = new();

    public bool Saved { get; private set; }

    public async Task OnGetAsync(bool saved = false)
    {
        var studio = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId);
        var habits = SheetHabits.FromJson(studio.Sheets);
        Form = new StudioForm
        {
            Name = studio.Name, NoteNames = studio.NoteNames, FretsFromNut = studio.FretsFromNut, Tunings = [.. studio.Tunings],
            KeepsMonths = studio.KeepsMonths, SheetKind = habits.Kind, Letter = habits.IsLetter, Large = habits.Large,
            Version = studio.Version
        };
        Saved = saved;
    }

    public async Task<IActionResult> OnPostAsync()
    {
        Form.Tunings = [.. AllTunings.Where(Form.Tunings.Contains)];
        if (Form.Tunings.Count == 0) ModelState.AddModelError("", "Choose at least one tuning.");
        Form.Name = PlainText.OneLine(Form.Name ?? "");
        if (Form.Name.Length == 0 && ModelState.IsValid) ModelState.AddModelError("", "Give the studio a name.");
        if (!ModelState.IsValid)
            return Answer(StatusCodes.Status422UnprocessableEntity,
                string.Join(" ", ModelState.Values.SelectMany(v => v.Errors).Select(e => e.ErrorMessage)));
        var studio = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId);
        // What is stored already needs no saving: an answer that was lost on its way is asked for again.
        if (studio.Version != Form.Version)
            return SameAs(studio) ? Answer(StatusCodes.Status200OK, null, studio.Version) : Conflict(studio.Version);
        if (Form.KeepsMonths is { } months && !AllMonths.Contains(months)) Form.KeepsMonths = null;
        (studio.Name, studio.NoteNames, studio.FretsFromNut, studio.Tunings, studio.KeepsMonths, studio.Sheets) =
            (Form.Name, Form.NoteNames, Form.FretsFromNut, [.. Form.Tunings], Form.KeepsMonths, Form.Sheets.ToJson());
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateConcurrencyException)
        {
            context.ChangeTracker.Clear();
            return Conflict(
                await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Version).SingleAsync());
        }
        return Answer(StatusCodes.Status200OK, null, studio.Version);
    }

    /// <summary>Brings a few songs that ship with Tembri, to be tried; those that are there already are not brought
    /// again.</summary>
    public async Task<IActionResult> OnPostExamplesAsync()
    {
        var there = await context.Songs.Where(s => s.IsExample).Select(s => s.Title).ToListAsync();
        foreach (var text in ExampleSongs.Texts)
        {
            var song = SongText.New();
            SongText.Apply(song, text, clock.GetUtcNow());
            song.IsExample = true;
            if (!there.Contains(song.Title)) context.AddOwned(song);
        }
        await context.SaveChangesAsync();
        await orders.OrderAllAsync(HttpContext.RequestAborted);
        return Redirect("/");
    }

    /// <summary>Clears the examples away, those that were written on as well; own songs stay.</summary>
    public async Task<IActionResult> OnPostClearExamplesAsync()
    {
        await context.Songs.Where(s => s.IsExample).ExecuteDeleteAsync();
        return Redirect("/");
    }

    private bool SameAs(Studio studio) =>
        SheetHabits.FromJson(studio.Sheets) == Form.Sheets
            && (studio.Name, studio.NoteNames, studio.FretsFromNut, studio.KeepsMonths)
                == (Form.Name, Form.NoteNames, Form.FretsFromNut, Form.KeepsMonths)
            && studio.Tunings.SequenceEqual(Form.Tunings);

    private IActionResult Conflict(uint version)
    {
        Form.Version = version;
        ModelState.Remove("Form.Version");
        return Answer(StatusCodes.Status409Conflict,
            "The studio was changed in another tab or on another device after you opened this page. What you chose still stands "
                + "below and is not saved; save again to keep it.",
            version);
    }

    /// <summary>A script gets data, a person the page.</summary>
    private IActionResult Answer(int status, string? fault, uint? version = null)
    {
        if (Request.IsFromScript()) return new JsonResult(new { fault, version }) { StatusCode = status };
        if (fault is null) return Redirect("/studio?saved=true");
        ModelState.Clear();
        ModelState.AddModelError("", fault);
        Response.StatusCode = status == StatusCodes.Status409Conflict ? status : StatusCodes.Status200OK;
        return Page();
    }
}
