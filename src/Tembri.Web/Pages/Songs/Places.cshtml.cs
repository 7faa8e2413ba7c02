using Tembri.Core.Arranging;
using System.ComponentModel.DataAnnotations;
using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>Where to play a song: every capo, the tunings of the studio, what each place weighs and what is advised, with the reason.</summary>
[MayBeASecondOld]
internal sealed class PlacesModel(LadderDesk desk, StudioSettings studio) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;

    /// <summary>The ladder over all capos, at the tuning looked at.</summary>
    public Ladder Ladder { get; private set; } = null!;

    /// <summary>The same for the student.</summary>
    public StudentLadder Graded { get; private set; } = null!;

    public int Tuning { get; private set; }
    public IReadOnlyList<int> Tunings { get; private set; } = [];
    public string Reason { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, [Range(-12, 12)] int? tuning, [Range(0, NeckGeometry.HighestCapo)] int? capo)
    {
        if (!ModelState.IsValid) return NotFound();
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open) return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var here = open.Request.Tuning ?? open.Reading.Chart.TuningShift;
        Tunings = [.. studio.Tunings.Append(open.Reading.Chart.TuningShift).Append(here).Distinct().OrderDescending()];
        Tuning = tuning is { } wanted && Tunings.Contains(wanted) ? wanted : here;
        Ladder = await desk.BuildAsync(open.Song.ChartStamp, open.Request with
        {
            Tuning = Tuning, HighestCapo = NeckGeometry.HighestCapo,
            Capo = capo is >= 0 and <= NeckGeometry.HighestCapo ? capo : Tuning == here ? open.Request.Capo : null,
        }, HttpContext.RequestAborted);
        Graded = new StudentLadder(Ladder, open.Graded.Player);
        Reason = SayWhy();
        return Page();
    }

    public static string TuningWords(int tuning) => tuning switch
    {
        0 => "standard tuning",
        1 => "a semitone up",
        -1 => "a semitone down",
        < 0 => $"{-tuning} semitones down",
        _ => $"{tuning} semitones up",
    };

    public static string CapoWords(int capo) => capo == 0 ? "no capo" : $"capo {capo}";

    /// <summary>The rung the reason speaks of: the one to work on.</summary>
    public int Rung => Graded.WorkingRung ?? Ladder.Rungs[Ladder.Rungs.Count / 2].Number;

    private string SayWhy()
    {
        var best = Ladder.Places.First(p => p.Capo == Ladder.RecommendedCapo);
        double? Load(Place p) => p.Rungs[Ladder.IndexOf(Rung)]?.Load;
        string Weighs(Place p) => Load(p) is { } load ? load.ToString("0", CultureInfo.InvariantCulture) : "nothing that can be played";
        if (Ladder.Places.Count == 1) return $"Without a capo, as you chose: {best.ShapeKey} shapes, {Barres(best.Barres)}.";
        if (best.Capo == 0)
        {
            var other = Ladder.Places.Where(p => p.Capo > 0).MinBy(p => p.Score)!;
            return $"No capo: {best.ShapeKey} shapes serve already, {Barres(best.Barres)}; rung {RungLimits.LabelOf(Rung)} weighs {Weighs(best)}, and the best capo, {other.Capo}, {(Weighs(other) == Weighs(best) ? "would not change that" : $"would make it {Weighs(other)}")}.";
        }
        var nut = Ladder.Places.First(p => p.Capo == 0);
        return $"Capo {best.Capo} turns {nut.ShapeKey} shapes into {best.ShapeKey} shapes: {Barres(best.Barres)} instead of {nut.Barres}, and rung {RungLimits.LabelOf(Rung)} weighs {Weighs(best)} instead of {Weighs(nut)}.";
    }

    public static string Barres(int count) => count switch { 0 => "no full barre", 1 => "one full barre", _ => $"{count} full barres" };

    /// <summary>The chords as the shapes of a place name them.</summary>
    public IEnumerable<Core.Chords.Chord> ShapesAt(Place position) => Ladder.Flow.Chords.Select(c => c.Transpose(Ladder.Chart.Key, position.ShapeKey));

    /// <summary>What blocks a rung, counted from 0, at a place.</summary>
    public string BlockedWords(Place place, int rung)
    {
        if (place.Blocked[rung] is not { } blocked) return "";
        var shape = Ladder.Flow.Chords[blocked.ChordIndex].Transpose(Ladder.Chart.Key, place.ShapeKey).Named(studio.NoteNames).Name;
        return ShapeWords.Blocked(shape, blocked.Nearest, Ladder.Rungs[rung].Limits);
    }
}
