using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Roads;
using Tembri.Data;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Students;

/// <summary>Which songs come next for a student, or lead to a goal; what is asked stands in the address.</summary>
[MayBeASecondOld]
internal sealed class RoadModel(TembriDbContext context, RoadDesk desk) : PageModel
{
    public RoadAsked Asked { get; private set; } = new();
    public OpenRoad Open { get; private set; } = null!;
    public IReadOnlyList<(Guid Id, string Title)> Songs { get; private set; } = [];
    public IReadOnlyList<string> Tags { get; private set; } = [];

    /// <summary>What stands between the student and the song that was asked for, and which songs have it; empty without
    /// one.</summary>
    public IReadOnlyList<(RoadThing Thing, double Weight, IReadOnlyList<int> Versions)> InTheWay { get; private set; } = [];

    /// <summary>The version that was asked for; −1 for none.</summary>
    public int GoalAt { get; private set; } = -1;

    public async Task<IActionResult> OnGetAsync(Guid id, RoadAsked asked)
    {
        Asked = ModelState.IsValid ? asked : new RoadAsked();
        if (await desk.OpenAsync(id, Asked, HttpContext.RequestAborted) is not { } open) return NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, id);
        Songs = [.. (await context.Songs.AsNoTracking().Where(s => s.ChordCount > 0).OrderBy(s => s.Title).ThenBy(s => s.Id)
                .Take(RoadDesk.MostSongs).Select(s => new { s.Id, s.Title }).ToListAsync()).Select(s => (s.Id, s.Title))];
        Tags = await context.Songs.SelectMany(s => s.Tags).Distinct().OrderBy(t => t).Take(60).ToListAsync();
        if (Asked.Song is { } song)
        {
            GoalAt = open.Map.Request.Versions.Select((v, i) => (v, i))
                .Where(x => x.v.Song == song.ToString() && x.v.Rung == Asked.RungOrTop).Select(x => x.i).DefaultIfEmpty(-1)
                .First();
            if (GoalAt >= 0) InTheWay = open.Map.LeadingTo(GoalAt);
        }
        return Page();
    }
}
