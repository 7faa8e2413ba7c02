using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>A sheet to hand out: one rung for one student.</summary>
internal sealed class SheetModel(LadderDesk desk, StudioSettings studio) : PageModel
{
    public const int BarsInALine = 4;

    public OpenLadder Open { get; private set; } = null!;
    public PlayableRung Rung { get; private set; } = null!;
    public PlayableRung? Below { get; private set; }
    public string Paper { get; private set; } = "a4";
    public bool Words { get; private set; } = true;
    public bool FretsFromNut { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, int? rung, string? paper, string? frets, bool words = true)
    {
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open) return NotFound();
        Open = open;
        var feasible = open.Ladder.Playable.ToList();
        if (feasible.Count == 0) return Redirect(Paths.Ladder(id, student));
        Rung = feasible.FirstOrDefault(r => r.Limits.Number == rung) ?? feasible.FirstOrDefault(r => r.Limits.Number == open.WorkingRung) ?? feasible[0];
        Below = feasible.LastOrDefault(r => r.Limits.Number < Rung.Limits.Number);
        Paper = paper == "letter" ? "letter" : "a4";
        Words = words;
        FretsFromNut = frets switch { "nut" => true, "capo" => false, _ => studio.FretsFromNut };
        return Page();
    }

    /// <summary>How the rung fits the student.</summary>
    public VersionFit Fit => Open.FitOf(Rung)!;

    /// <summary>True when a bar of the chart shows how long its chords last.</summary>
    public bool ShowsBeats => Rung.Song.Chart.Sections.Any(s => s.Bars.Any(BeatDots.IsUneven));

    /// <summary>The chord as the shapes name it.</summary>
    public Chord AsShape(Chord sounding) => sounding.Transpose(Open.Ladder.Chart.Key, Open.Ladder.ShapeKey);

    /// <summary>The change that takes this student longest against the time there is, as chords; null when all are in time.</summary>
    public (RungChord From, RungChord To)? HardestChange =>
        Fit.Changes.OrderBy(c => c.InTime).FirstOrDefault() is { InTime: < 0.9 } change ? (Rung.Chords[change.From], Rung.Chords[change.To]) : null;

    public string CountWords(int count, string thing) => count == 1 ? $"one {thing}" : $"{count} {thing}s";
}
