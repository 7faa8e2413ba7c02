using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Web.Ladders;
using Tembri.Web.Sound;

namespace Tembri.Web.Pages.Songs;

/// <summary>Listen to a song: the record's chords against a rung, at any tempo, a section or some bars in a loop.</summary>
internal sealed class ListenModel(LadderDesk desk) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;
    public Rung Rung { get; private set; } = null!;

    /// <summary>The rung's chart at the pitch of its shapes, to name what it plays.</summary>
    public VersionChart Version { get; private set; } = null!;

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? rung, int? capo) => await FindAsync(id, student, rung, capo) ?? Page();

    /// <summary>What the browser plays.</summary>
    public async Task<IActionResult> OnGetScoreAsync(Guid id, Guid student, int? rung, int? capo) =>
        await FindAsync(id, student, rung, capo) ?? new JsonResult(SoundScore.Of(Open.Ladder, Rung));

    private async Task<IActionResult?> FindAsync(Guid id, Guid student, int? rung, int? capo)
    {
        if (!ModelState.IsValid || await desk.OpenAsync(id, student, capo) is not { } open) return NotFound();
        var feasible = open.Ladder.Rungs.Where(r => r.IsFeasible).ToList();
        if (feasible.Count == 0) return Redirect($"/songs/{id}/ladder/{student}");
        Open = open;
        Rung = feasible.FirstOrDefault(r => r.Limits.Number == rung) ?? feasible.FirstOrDefault(r => r.Limits.Number == open.Ladder.WorkingRung) ?? feasible[0];
        Version = new VersionChart(open.Ladder, Rung);
        return null;
    }

    /// <summary>The slots of the rung in a bar.</summary>
    public IReadOnlyList<Slot> Played(int section, int bar) => Version.Chart.Sections[section].Bars[bar].Slots;
}
