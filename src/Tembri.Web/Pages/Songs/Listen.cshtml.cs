using System.ComponentModel.DataAnnotations;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Recordings;
using Tembri.Web.Sound;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>Listen to a song: the record's chords against a rung, at any tempo, a section or some bars in a loop. Without a
/// student the usual hand plays.</summary>
[MayBeASecondOld]
internal sealed class ListenModel(TembriDbContext context, LadderDesk desk) : PageModel
{
    public Song Song { get; private set; } = null!;
    public Student? Student { get; private set; }
    public Ladder Ladder { get; private set; } = null!;

    /// <summary>The version made by hand that is heard; null for a rung.</summary>
    public Guid? Hand { get; private set; }
    public PlayableRung Rung { get; private set; } = null!;

    /// <summary>The rung's chart at the pitch of its shapes, to name what it plays.</summary>
    public VersionChart Version { get; private set; } = null!;

    /// <summary>Where each bar lies in a recording that was listened to, for the script; null where there is none of this
    /// song.</summary>
    public string? Recorded { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid id, Guid? student, int? rung,
        [Range(0, NeckGeometry.HighestCapo)] int? capo, Guid? hand)
    {
        if (await FindAsync(id, student, rung, capo, hand) is { } instead) return instead;
        if (HeardSong.Read((await context.SongHearings.AsNoTracking()
            .FirstOrDefaultAsync(h => h.SongId == id, HttpContext.RequestAborted))?.Findings) is { Matches: true } heard)
            Recorded = BarsOf(heard);
        return Page();
    }

    /// <summary>Bars that are still in the chart; null when none is.</summary>
    private string? BarsOf(HeardSong heard)
    {
        var sections = Ladder.Chart.Sections.ToList();
        var bars = heard.Bars.Select(b => (section: sections.FindIndex(s => s.Name == b.Section), b.Bar, b.Start, b.End))
            .Where(b => b.section >= 0 && b.Bar < sections[b.section].Bars.Count)
            .Select(b => new { b.section, bar = b.Bar, start = b.Start, end = b.End }).ToList();
        return bars.Count == 0 ? null : JsonSerializer.Serialize(bars);
    }

    /// <summary>What the browser plays.</summary>
    public async Task<IActionResult> OnGetScoreAsync(Guid id, Guid? student, int? rung,
        [Range(0, NeckGeometry.HighestCapo)] int? capo, Guid? hand) =>
        await FindAsync(id, student, rung, capo, hand) ?? new JsonResult(SoundScore.Of(Ladder, Rung));

    private async Task<IActionResult?> FindAsync(Guid id, Guid? student, int? rung, int? capo, Guid? hand)
    {
        if (!ModelState.IsValid) return NotFound();
        int? working;
        Hand = hand;
        if (student is { } who)
        {
            if (await (hand is null
                ? desk.OpenAsync(id, who, capo, HttpContext.RequestAborted)
                : desk.OpenHandAsync(id, who, hand, HttpContext.RequestAborted)) is not { } open)
                return await desk.InsteadAsync(id, who) is { } instead ? Redirect(instead) : NotFound();
            (Song, Student, Ladder, working) = (open.Song, open.Student, open.Ladder, open.WorkingRung);
        }
        else
        {
            if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
            Song = song;
            var chart = ChartReader.Read(song.ChartText).Chart;
            if (LadderBuilder.Objection(chart.Chords.Count) is not null) return Redirect(Paths.ChartWithoutLadder(id, null));
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = capo ?? chart.RecordCapo };
            Ladder = await desk.BuildAsync(song.ChartStamp, request, HttpContext.RequestAborted);
            working = new StudentLadder(Ladder, new Player()).WorkingRung;
        }
        var feasible = Ladder.Playable.ToList();
        if (feasible.Count == 0)
            return Redirect(student is { } owner ? Paths.Ladder(id, owner) : Paths.ChartWithoutLadder(id, null));
        Rung = feasible.FirstOrDefault(r => r.Limits.Number == rung) ?? feasible.FirstOrDefault(r => r.Limits.Number == working)
            ?? feasible[0];
        Version = new VersionChart(Ladder, Rung);
        return null;
    }

    /// <summary>The slots of the rung in a bar.</summary>
    public IReadOnlyList<Slot> Played(int section, int bar) => Version.Chart.Sections[section].Bars[bar].Slots;
}
