using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Recordings;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>A recording of a song held against its chart, and what it told.</summary>
internal sealed class RecordModel(TembriDbContext context) : PageModel
{
    public Song Song { get; private set; } = null!;
    public Chart Chart { get; private set; } = null!;
    public HeardSong? Heard { get; private set; }
    public DateTimeOffset? HeardAt { get; private set; }
    public Guid? Student { get; private set; }

    public async Task<IActionResult> OnGetAsync(Guid id, Guid? student)
    {
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        Song = song;
        Chart = ChartReader.Read(song.ChartText, HttpContext.RequestAborted).Chart;
        Student = ChosenStudent.Of(Request, student) is { } chosen && await context.Students.AnyAsync(s => s.Id == chosen)
            ? chosen
            : null;
        if (await context.SongHearings.AsNoTracking().FirstOrDefaultAsync(h => h.SongId == id) is { } row)
            (Heard, HeardAt) = (HeardSong.Read(row.Findings), row.HeardAt);
        return Page();
    }

    /// <summary>True when the chart still has what was written at a place.</summary>
    public bool IsStill(HeardSlot place) =>
        Chart.SectionNamed(place.Section)?.Bars.ElementAtOrDefault(place.Bar)?.Slots.ElementAtOrDefault(place.Slot)?.Symbol
            == place.Written;

    /// <summary>Where a place lies in its bar.</summary>
    public (double From, double To, double Beats) PlaceOf(HeardSlot place) =>
        Chart.SectionNamed(place.Section)?.Bars.ElementAtOrDefault(place.Bar) is { } bar
            ? place.PlaceIn(bar)
            : (0, Chart.Meter.Beats, Chart.Meter.Beats);

    /// <summary>Forgets what was heard.</summary>
    public async Task<IActionResult> OnPostForgetAsync(Guid id)
    {
        if (!await context.Songs.AnyAsync(s => s.Id == id)) return NotFound();
        await context.SongHearings.Where(h => h.SongId == id).ExecuteDeleteAsync();
        return Redirect(Paths.Record(id));
    }
}
