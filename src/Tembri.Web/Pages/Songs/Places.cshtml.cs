using System.ComponentModel.DataAnnotations;
using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>Where to play a song: every capo, the tunings of the studio, what each place weighs and what is advised, with the reason.</summary>
internal sealed class PlacesModel(LadderDesk desk, LadderCache ladders, StudioSettings studio) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;

    /// <summary>The ladder over all capos, at the tuning looked at.</summary>
    public Ladder Ladder { get; private set; } = null!;

    public int Tuning { get; private set; }
    public IReadOnlyList<int> Tunings { get; private set; } = [];
    public string Reason { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, [Range(-12, 12)] int? tuning, [Range(0, NeckGeometry.HighestCapo)] int? capo)
    {
        if (!ModelState.IsValid || await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open) return NotFound();
        Open = open;
        Tunings = [.. studio.Tunings.Append(open.Reading.Chart.TuningShift).Append(open.Request.Chart.TuningShift).Distinct().OrderDescending()];
        Tuning = tuning is { } wanted && Tunings.Contains(wanted) ? wanted : open.Request.Chart.TuningShift;
        Ladder = await ladders.BuildAsync(open.Request with
        {
            Chart = open.Request.Chart with { TuningShift = Tuning }, HighestCapo = NeckGeometry.HighestCapo,
            Capo = capo is >= 0 and <= NeckGeometry.HighestCapo ? capo : Tuning == open.Request.Chart.TuningShift ? open.Request.Capo : null,
            Locks = Tuning == open.Request.Chart.TuningShift ? open.Request.Locks : [],
        }, HttpContext.RequestAborted);
        Reason = SayWhy();
        return Page();
    }

    public static string TuningWords(int tuning) => tuning switch
    {
        0 => "standard tuning",
        1 => "a half step up",
        -1 => "a half step down",
        -2 => "a whole step down",
        < 0 => $"{-tuning} half steps down",
        _ => $"{tuning} half steps up",
    };

    public static string CapoWords(int capo) => capo == 0 ? "no capo" : $"capo {capo}";

    /// <summary>The rung the reason speaks of: the one to work on.</summary>
    public int Rung => Ladder.WorkingRung ?? 3;

    private string SayWhy()
    {
        var best = Ladder.Positions.First(p => p.Capo == Ladder.RecommendedCapo);
        double? Load(Position p) => p.Rungs[Rung - 1]?.Load;
        string Weighs(Position p) => Load(p) is { } load ? load.ToString("0", CultureInfo.InvariantCulture) : "nothing that can be played";
        if (Ladder.Positions.Count == 1) return $"Without a capo, as you chose: {best.ShapeKey} shapes, {Barres(best.Barres)}.";
        if (best.Capo == 0)
        {
            var other = Ladder.Positions.Where(p => p.Capo > 0).MinBy(p => p.Score)!;
            return $"No capo: {best.ShapeKey} shapes serve already, {Barres(best.Barres)}; rung {Rung} weighs {Weighs(best)}, and the best capo, {other.Capo}, would make it {Weighs(other)}.";
        }
        var nut = Ladder.Positions.First(p => p.Capo == 0);
        return $"Capo {best.Capo} turns {nut.ShapeKey} shapes into {best.ShapeKey} shapes: {Barres(best.Barres)} instead of {nut.Barres}, and rung {Rung} weighs {Weighs(best)} instead of {Weighs(nut)}.";
    }

    public static string Barres(int count) => count switch { 0 => "no full barre", 1 => "one full barre", _ => $"{count} full barres" };

    /// <summary>The chords as the shapes of a place name them.</summary>
    public IEnumerable<Core.Chords.Chord> ShapesAt(Position position) => Ladder.Flow.Chords.Select(c => c.Transpose(Ladder.Chart.Key, position.ShapeKey));
}
