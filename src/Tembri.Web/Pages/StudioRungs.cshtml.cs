using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Arranging;
using Tembri.Core.Ladders;
using Tembri.Core.Wishes;
using Tembri.Data;
using Tembri.Web.Ladders;

namespace Tembri.Web.Pages;

/// <summary>The rungs of every ladder of the studio.</summary>
internal sealed class StudioRungsModel(TembriDbContext context, ArrangingOrders orders) : PageModel
{
    [BindProperty]
    public List<RungRow> Rows { get; set; } = [];

    [BindProperty]
    public uint Version { get; set; }

    public string? Fault { get; private set; }
    public bool Saved { get; private set; }

    public async Task OnGetAsync(bool saved = false)
    {
        var studio = await context.Studios.AsNoTracking().SingleAsync(s => s.Id == context.CurrentStudioId);
        var wishes = TeacherWishes.Read(studio.Wishes).Rungs;
        Rows = [.. RungLimits.Defaults.Select(d => wishes.FirstOrDefault(w => w.Number == d.Number) is { } wish
            ? RungRow.From(OwnRungs.Changed(d, wish), wish.LeftOut == true)
            : RungRow.From(d))];
        (Version, Saved) = (studio.Version, saved);
    }

    public async Task<IActionResult> OnPostAsync()
    {
        if (!ModelState.IsValid)
            return Refuse(string.Join(" ", ModelState.Values.SelectMany(v => v.Errors).Select(e => e.ErrorMessage).Distinct()));
        if (Rows.Count > 0 && Rows.TrueForAll(r => r.LeftOut)) return Refuse("One rung is the least a ladder has.");
        var studio = await context.Studios.SingleAsync(s => s.Id == context.CurrentStudioId);
        var wishes = TeacherWishes.Read(studio.Wishes);
        var next = wishes with { Rungs = [
            .. RungLimits.Defaults.Select(d => Rows.Find(r => r.Number == d.Number)?.ToWish(d, null)).OfType<RungWish>()] };
        var text = next.IsEmpty ? "" : next.ToJson();
        if (text == studio.Wishes) return Redirect("/studio/rungs?saved=true");
        if (studio.Version != Version) return Conflict(studio.Version);
        studio.Wishes = text;
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateConcurrencyException)
        {
            return Conflict(
                await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Version).SingleAsync());
        }
        await orders.OrderAllAsync(HttpContext.RequestAborted);
        return Redirect("/studio/rungs?saved=true");
    }

    private PageResult Conflict(uint version)
    {
        Version = version;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Refuse("The studio was changed in another tab or on another device after you opened this page. What you chose "
            + "still stands below and is not saved; save again to keep it.");
    }

    private PageResult Refuse(string why)
    {
        Fault = why;
        ModelState.Clear();
        return Page();
    }
}
