using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Arranging;
using Tembri.Core.Ladders;
using Tembri.Core.Wishes;
using Tembri.Web.Computing;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>The rungs of one ladder: names, limits, strums, which are left out; each limit explained by what it keeps out of the
/// song.</summary>
internal sealed class RungsModel(LadderDesk desk, LadderBuilder builder, LadderSteps steps, ComputeLanes lanes) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;

    [BindProperty]
    public List<RungRow> Rows { get; set; } = [];

    /// <summary>The rungs before this ladder's own wishes.</summary>
    public IReadOnlyList<RungLimits> Usual { get; private set; } = [];

    /// <summary>What each limit keeps out of the song, by the rung's number.</summary>
    public IReadOnlyDictionary<
        int, IReadOnlyDictionary<RungLimit, IReadOnlyList<(int Chord, Candidate Shape)>>> Forbidden
    { get; private set; } = null!;

    public string? Fault { get; private set; }

    private HashSet<int> _leftOut = [];   // by what holds for the student and the studio

    public int Revision => Open.Choice?.Revision ?? 0;

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student)
    {
        if (await LoadAsync(id, student) is { } elsewhere) return elsewhere;
        Rows = RowsNow();
        return Page();
    }

    public async Task<IActionResult> OnPostAsync(Guid id, Guid student, int? revision, Guid? step)
    {
        if (await LoadAsync(id, student) is { } elsewhere) return elsewhere;
        if (!ModelState.IsValid)
            return Refuse(string.Join(" ", ModelState.Values.SelectMany(v => v.Errors).Select(e => e.ErrorMessage).Distinct()));
        if (Rows.Count > 0 && Rows.TrueForAll(r => r.LeftOut)) return Refuse("One rung is the least a ladder has.");
        var own = TeacherWishes.Read(Open.Choice?.Wishes);
        var wishes = new List<RungWish>();
        foreach (var usual in Usual)
        {
            var before = own.Rungs.FirstOrDefault(r => r.Number == usual.Number);
            if (Rows.Find(r => r.Number == usual.Number) is { } row)
            {
                if (row.ToWish(usual, before, _leftOut.Contains(usual.Number)) is { } wish) wishes.Add(wish);
            }
            else if (before is not null) wishes.Add(before);
        }
        var (end, why) = await steps.MakeAsync(id, student, revision, step, decision =>
        {
            decision.Wishes = decision.Wishes with { Rungs = wishes };
            decision.What =
                wishes.Count == 0 ? "the usual rungs" : $"rungs: {string.Join("; ", wishes.Select(Words.RungWords.Say))}";
            return Task.FromResult<string?>(null);
        }, HttpContext.RequestAborted);
        if (end is StepEnd.Made or StepEnd.Known) return Redirect(Paths.Ladder(id, student));
        Response.StatusCode = end == StepEnd.Elsewhere ? StatusCodes.Status409Conflict : StatusCodes.Status200OK;
        return Refuse(why!);
    }

    private PageResult Refuse(string why)
    {
        Fault = why;
        ModelState.Clear();
        return Page();
    }

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        var wider = LadderDesk.WishesFor(open.StudioWishes, open.Student).Rungs.ToList();
        var between = TeacherWishes.Read(open.Choice?.Wishes).Rungs.Where(r => r.AimsAtLoad is not null)
            .Select(r => new RungWish(r.Number) { AimsAtLoad = r.AimsAtLoad });
        _leftOut = [.. wider.Where(w => w.LeftOut == true).Select(w => w.Number)];
        Usual = OwnRungs.Of(RungLimits.Defaults, [.. wider.Select(r => r with { LeftOut = null }), .. between]);
        Forbidden = await lanes.ForPageAsync(
            _ => open.Ladder.Rungs.ToDictionary(r => r.Number, r => builder.Forbidden(open.Request, open.Ladder, r.Limits)),
            HttpContext.RequestAborted);
        return null;
    }

    private List<RungRow> RowsNow()
    {
        var now = Open.Ladder.Rungs.ToDictionary(r => r.Number, r => r.Limits);
        var wishes = Open.Request.Wishes.Rungs;
        return [.. Usual.Select(u => RungRow.From(now.GetValueOrDefault(u.Number)
                ?? (wishes.FirstOrDefault(w => w.Number == u.Number) is { } wish ? OwnRungs.Changed(u, wish) : u),
            !now.ContainsKey(u.Number)))];
    }
}
