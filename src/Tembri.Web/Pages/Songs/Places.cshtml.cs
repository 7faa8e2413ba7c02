using Tembri.Core.Arranging;
using System.ComponentModel.DataAnnotations;
using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data.Ladders;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>Where to play a song: every capo, the tunings of the studio, what each place weighs and what is advised, with the
/// reason.</summary>
[MayBeASecondOld]
internal sealed class PlacesModel(LadderDesk desk, StudioSettings studio) : PageModel
{
    public OpenLadder Open { get; private set; } = null!;

    /// <summary>The ladder over all capos, at the tuning looked at.</summary>
    public Ladder Ladder { get; private set; } = null!;

    /// <summary>The same for the student.</summary>
    public StudentLadder Graded { get; private set; } = null!;

    /// <summary>Semitones the whole guitar is tuned up.</summary>
    public int Shift { get; private set; }

    /// <summary>The tuning of the strings that is looked at, at the pitch it is known by.</summary>
    public Tuning Strings { get; private set; } = Tuning.Standard;

    /// <summary>The tuning of the strings when nothing is decided: as the student's guitar stands, else as the record.</summary>
    public Tuning UsualStrings { get; private set; } = Tuning.Standard;

    public IReadOnlyList<int> Shifts { get; private set; } = [];

    /// <summary>What the song is in the other tunings that are known; null until somebody asks.</summary>
    public IReadOnlyList<TuningComparison>? Others { get; private set; }

    /// <summary>True when the place looked at is the one decided on.</summary>
    public bool IsKept { get; private set; }

    public string Reason { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, [Range(-12, 12)] int? tuning,
        [StringLength(LadderChoice.LongestStrings)] string? strings, [Range(0, NeckGeometry.HighestCapo)] int? capo,
        bool tunings = false)
    {
        if (!ModelState.IsValid) return NotFound();
        if (await desk.OpenAsync(id, student, leaving: HttpContext.RequestAborted) is not { } open)
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        var (played, usual) = (open.Request.TunedChart, (open.Request with { Strings = null, Tuning = null }).TunedChart);
        (Strings, UsualStrings) = (Tuning.Read(strings) ?? played.Strings, usual.Strings);
        var asked = open.Request with { Strings = Strings.Equals(usual.Strings) ? null : Strings,
            Tuning = Strings.Equals(played.Strings) ? open.Request.Tuning : null };
        var here = asked.TunedChart.TuningShift;
        Shifts = [.. studio.Tunings.Append(open.Reading.Chart.TuningShift).Append(here).Distinct().OrderDescending()];
        Shift = tuning is { } wanted && Shifts.Contains(wanted) ? wanted : here;
        var isHere = Shift == here && Strings.Equals(played.Strings);
        asked = asked with
        {
            Tuning = Shift, HighestCapo = NeckGeometry.HighestCapo,
            Capo = capo is >= 0 and <= NeckGeometry.HighestCapo ? capo : isHere ? open.Request.Capo : null,
            Locks = isHere ? open.Request.Locks : [],
        };
        Ladder = await desk.BuildAsync(open.Song.ChartStamp, asked, HttpContext.RequestAborted);
        Graded = new StudentLadder(Ladder, open.Graded.Player);
        IsKept = isHere && open.Choice?.Capo == Ladder.Capo;
        Reason = SayWhy();
        if (tunings) Others = await OthersAsync(asked);
        return Page();
    }

    /// <summary>The song in each tuning that is known and not the one looked at, at capos that nobody minds.</summary>
    private async Task<IReadOnlyList<TuningComparison>> OthersAsync(ArrangementRequest asked)
    {
        var others = new List<(Tuning, Ladder)>();
        asked = asked with { Capo = null, HighestCapo = HighestCapoOfOthers, Locks = [] };
        foreach (var (_, known) in Tuning.Known.Where(k => !k.Tuning.Equals(Strings)))
            others.Add((known,
                await desk.BuildAsync(Open.Song.ChartStamp, asked with { Strings = known }, HttpContext.RequestAborted)));
        return TuningComparison.Of(Ladder, others);
    }

    private const int HighestCapoOfOthers = 5;

    /// <summary>Which tuning pays, in one line.</summary>
    public string SayOthers()
    {
        if (Others is not [{ } best, ..]) return "";
        if (!best.Pays)
            return $"No other tuning makes it lighter by more than the tuning itself costs; {best.Tuning.Name} comes nearest.";
        var now = Ladder.Places.First(p => p.Capo == Ladder.RecommendedCapo);
        var barres = best.Place.Barres == now.Barres
            ? $"{Barres(now.Barres)} as now"
            : $"{Barres(best.Place.Barres)} instead of {now.Barres}";
        return $"In {best.Tuning.Name}, {CapoWords(best.Place.Capo)}: rung {RungLimits.LabelOf(Rung)} weighs "
            + $"{Weighs(best.Place)} instead of {Weighs(now)}, {barres}.";
    }

    /// <summary>One of the ways to tune the whole guitar, in the tuning of its strings that is looked at.</summary>
    public string ShiftWords(int shift)
    {
        var (record, isStandard) = (Open.Reading.Chart, Strings.Equals(Tuning.Standard));
        var words = isStandard ? TuningWords(shift) : shift == 0 ? Strings.Name : $"{Strings.Name}, {TuningWords(shift)}";
        return shift == record.TuningShift && Strings.Equals(record.Strings) ? $"{words}, as the record" : words;
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

    private string Weighs(Place place) =>
        place.Rungs[Ladder.IndexOf(Rung)] is { } rung
            ? rung.Load.ToString("0", CultureInfo.InvariantCulture)
            : "nothing that can be played";

    private string SayWhy()
    {
        var best = Ladder.Places.First(p => p.Capo == Ladder.RecommendedCapo);
        if (Ladder.Places.Count == 1) return $"Without a capo, as you chose: {best.ShapeKey} shapes, {Barres(best.Barres)}.";
        if (best.Capo == 0)
        {
            var other = Ladder.Places.Where(p => p.Capo > 0).MinBy(p => p.Score)!;
            return $"No capo: {best.ShapeKey} shapes serve already, {Barres(best.Barres)}; rung {RungLimits.LabelOf(Rung)} "
                + $"weighs {Weighs(best)}, and the best capo, {other.Capo}, "
                + $"{(Weighs(other) == Weighs(best) ? "would not change that" : $"would make it {Weighs(other)}")}.";
        }
        var nut = Ladder.Places.First(p => p.Capo == 0);
        return $"Capo {best.Capo} turns {nut.ShapeKey} shapes into {best.ShapeKey} shapes: {Barres(best.Barres)} instead of "
            + $"{nut.Barres}, and rung {RungLimits.LabelOf(Rung)} weighs {Weighs(best)} instead of {Weighs(nut)}.";
    }

    public static string Barres(int count) =>
        count switch { 0 => "no full barre", 1 => "one full barre", _ => $"{count} full barres" };

    /// <summary>The chords as the shapes of a place name them.</summary>
    public IEnumerable<Core.Chords.Chord> ShapesAt(Place position) =>
        Ladder.Flow.Chords.Select(c => c.Transpose(Ladder.Chart.Key, position.ShapeKey));

    /// <summary>What blocks a rung, counted from 0, at a place.</summary>
    public string BlockedWords(Place place, int rung)
    {
        if (place.Blocked[rung] is not { } blocked) return "";
        var shape =
            Ladder.Flow.Chords[blocked.ChordIndex].Transpose(Ladder.Chart.Key, place.ShapeKey).Named(studio.NoteNames).Name;
        return ShapeWords.Blocked(shape, blocked.Nearest, Ladder.Rungs[rung].Limits);
    }
}
