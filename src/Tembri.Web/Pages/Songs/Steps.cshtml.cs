using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Ladders;
using Tembri.Data.Ladders;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>The steps of a ladder: what was decided, one after another, each to be brought back.</summary>
[MayBeASecondOld]
internal sealed class StepsModel(LadderDesk desk, LadderSteps steps) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;
    public IReadOnlyList<LadderState> States { get; private set; } = [];
    public string? Fault { get; private set; }
    public int Revision => Open.Choice?.Revision ?? 0;

    /// <summary>The states that lead to the one shown now; others were left when another step was made after going
    /// back.</summary>
    public IReadOnlySet<int> Path { get; private set; } = new HashSet<int>();

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student) => await LoadAsync(id, student) ?? Page();

    public async Task<IActionResult> OnPostAsync(Guid id, Guid student, int number, int? revision, Guid? step)
    {
        if (await LoadAsync(id, student) is { } elsewhere) return elsewhere;
        var (end, why) = await steps.RestoreAsync(id, student, number, revision, step, HttpContext.RequestAborted);
        if (end is StepEnd.Made or StepEnd.Known) return Redirect(Paths.Ladder(id, student));
        if (await LoadAsync(id, student) is { } gone) return gone;
        Response.StatusCode = end == StepEnd.Elsewhere ? StatusCodes.Status409Conflict : StatusCodes.Status200OK;
        Fault = why;
        return Page();
    }

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        States = await steps.StatesAsync(id, student, HttpContext.RequestAborted);
        var (path, byNumber) = (new HashSet<int>(), States.ToDictionary(s => s.Number));
        for (var at = open.Choice?.StateNumber ?? 0; byNumber.TryGetValue(at, out var state) && path.Add(at);) at = state.Before;
        Path = path;
        return null;
    }
}
