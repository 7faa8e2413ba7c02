using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages;

/// <summary>The studio's own guitars, measured: students who play one are arranged for it.</summary>
[MayBeASecondOld]
internal sealed class GuitarsModel(TembriDbContext context, ArrangingOrders orders, Logbook log, TimeProvider clock) : PageModel
{
    private const int Most = 60;

    public sealed record Row(Guid Id, string Name, GuitarMeasures Measures, int Players);

    public IReadOnlyList<Row> Guitars { get; private set; } = [];
    public string? Fault { get; private set; }

    [BindProperty] public string? Name { get; set; }
    [BindProperty] public string Preset { get; set; } = "steel";
    [BindProperty] public double Scale { get; set; } = Guitar.Steel.ScaleLength;
    [BindProperty] public double Nut { get; set; } = Guitar.Steel.NutWidth;
    [BindProperty] public double Action { get; set; } = Guitar.Steel.ActionAtFret12;
    [BindProperty] public Guid RequestKey { get; set; }

    /// <summary>The guitar that is changed; null for a new one.</summary>
    public Guid? Changing { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid? id)
    {
        await ListAsync();
        RequestKey = Guid.CreateVersion7();
        if (id is not { } which) return Page();
        if (Guitars.FirstOrDefault(g => g.Id == which) is not { } row) return NotFound();
        (Changing, Name, Preset, Scale, Nut, Action) =
            (which, row.Name, row.Measures.Preset, row.Measures.ScaleLength, row.Measures.NutWidth, row.Measures.ActionAtFret12);
        return Page();
    }

    public async Task<IActionResult> OnPostAsync(Guid? id)
    {
        var measures = new GuitarMeasures(Preset ?? "", Scale, Nut, Action);
        var name = PlainText.OneLine(Name ?? "");
        Fault = !ModelState.IsValid ? "A length could not be read; write millimetres, such as 650."
            : name.Length is 0 or > StudioGuitar.LongestName
                ? $"Give the guitar a name of 1 to {StudioGuitar.LongestName} letters."
            : measures.Fault;
        var row = id is { } which ? await context.StudioGuitars.FirstOrDefaultAsync(g => g.Id == which) : null;
        if (id is not null && row is null) return NotFound();
        if (row is null && Fault is null && await context.StudioGuitars.CountAsync() >= Most)
            Fault = $"{Most} guitars are the most; remove one that is not there any more.";
        if (Fault is not null)
        {
            await ListAsync();
            Changing = id;
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        if (row is null)
            context.AddOwned(row = new StudioGuitar
            {
                Name = name, Measures = "", RequestKey = RequestKey == Guid.Empty ? null : RequestKey
            });
        (row.Name, row.Measures, row.ChangedAt) = (name, measures.ToJson(), clock.GetUtcNow());
        // Who plays it plays it with its new measures.
        var players = await context.Students.Where(s => s.OwnGuitarId == row.Id).ToListAsync();
        foreach (var player in players) (player.GuitarMeasures, player.GuitarId) = (row.Measures, measures.Preset);
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e)) { return Redirect("/studio/guitars"); }
        context.ChangeTracker.Clear();
        foreach (var player in players) await log.LearnAsync(player.Id, HttpContext.RequestAborted);
        if (players.Count > 0) await orders.OrderForAsync(players, HttpContext.RequestAborted);
        return Redirect("/studio/guitars");
    }

    public async Task<IActionResult> OnPostRemoveAsync(Guid id)
    {
        if (await context.Students.AnyAsync(s => s.OwnGuitarId == id))
        {
            Fault = "Somebody plays this guitar; choose another one for that student first.";
            await ListAsync();
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        await context.StudioGuitars.Where(g => g.Id == id).ExecuteDeleteAsync();
        return Redirect("/studio/guitars");
    }

    private async Task ListAsync()
    {
        var players = (await context.Students.Where(s => s.OwnGuitarId != null).GroupBy(s => s.OwnGuitarId!.Value)
                .Select(g => new { g.Key, Count = g.Count() }).ToListAsync()).ToDictionary(g => g.Key, g => g.Count);
        Guitars = [.. (await context.StudioGuitars.AsNoTracking().OrderBy(g => g.Name).ToListAsync())
            .Select(g => new Row(g.Id, g.Name, GuitarMeasures.FromJson(g.Measures) ?? GuitarMeasures.Of(Guitar.Steel),
                players.GetValueOrDefault(g.Id)))];
    }
}
