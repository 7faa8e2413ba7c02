using System.ComponentModel.DataAnnotations;
using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Students;
using Tembri.Web.Computing;
using Tembri.Web.Drawings;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>The ladder of a song for a student: five versions, and a bench on which one chord or one number is opened.</summary>
[MayBeASecondOld, Kept]
internal sealed partial class LadderModel(
    TembriDbContext context, LadderDesk desk, LadderBuilder builder, LadderSteps steps, ComputeLanes lanes,
    StudioSettings studio) : PageModel
{
    private const int MostAlternatives = 24;

    public OpenLadder Open { get; private set; } = null!;
    public Ladder Ladder => Open.Ladder;
    public IReadOnlyList<Student> Students { get; private set; } = [];
    public bool CapoIsPreview { get; private set; }
    public int? OpenRung { get; private set; }
    public int? OpenChord { get; private set; }
    public int? WhyRung { get; private set; }
    public string? Fault { get; private set; }

    /// <summary>The rung whose load stands on the neck: the one to work on.</summary>
    public int NeckRung => Open.WorkingRung ?? Ladder.Nearest(3).Number;

    /// <summary>The student's guitar with the ladder's capo, for drawings to scale.</summary>
    public NeckGeometry Neck0 => new(Open.Request.Kind.Guitar, Ladder.Capo);

    public Scene Neck =>
        NeckDrawing.Draw(Ladder, studio.NoteNames, new NeckGeometry(Open.Request.Kind.Guitar, 0), NeckRung,
            capo => capo == Open.Choice?.Capo ? PathHere : $"{PathHere}?capo={capo}");

    public IReadOnlyList<(Candidate Candidate, RungLimit? Objection)> Alternatives { get; private set; } = [];

    /// <summary>The chords that stand side by side.</summary>
    public LadderColumns Columns { get; private set; } = null!;

    private string PathHere => Paths.Ladder(Open.Song.Id, Open.Student.Id);

    public Rung Rung(int number) => Ladder.Nearest(number);

    /// <summary>What the rung on the neck stands or falls with, in one line; empty when it is blocked.</summary>
    public string NeckReason => Open.FitOf(Rung(NeckRung)) is { } fit ? FitWords.Say(fit.Reason, studio.NoteNames) : "";

    public string Address(int? rung = null, int? chord = null) =>
        Here(SectionPart, rung is null ? "" : $"rung={rung}&chord={chord}");

    public string WhyAddress(int rung) => Here(SectionPart, $"why={rung}");

    /// <summary>The ladder with the chords of one section, or of the whole song.</summary>
    public string SectionAddress(int? section) => Here($"section={LadderColumns.NameOf(section)}");

    private string SectionPart => Columns.HasSections ? $"section={Columns.Name}" : "";

    /// <summary>This ladder at the capo looked at, with more in the query.</summary>
    private string Here(params string[] more)
    {
        var query = string.Join('&', more.Prepend(CapoIsPreview ? $"capo={Ladder.Capo}" : "").Where(q => q.Length > 0));
        return query.Length == 0 ? PathHere : $"{PathHere}?{query}";
    }

    /// <summary>What the teacher decided so far, counted; each step says which count it knows.</summary>
    public int Revision => Open.Choice?.Revision ?? 0;

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int? capo, int? rung,
        int? chord, int? why, string? draw, int? from, [Range(0.0, 100.0)] double? between)
    {
        Between = ModelState.IsValid ? between : null;
        if (await LoadAsync(id, student, capo) is { } elsewhere) return elsewhere;
        await ShowAsync(rung, chord, why);
        if (draw is not null) await DrawAsync(draw, from ?? 1);
        if (Request.Headers.ContainsKey("HX-Request")) return Partial("_Bench", this);
        await CompareLiftAsync();
        await FindStepsAsync();
        return Page();
    }

    /// <summary>Where the song's end lies higher and the capo could be moved up, or is; null when it does not.</summary>
    public KeyLift? Lift { get; private set; }

    /// <summary>What the rung on the neck weighs the other way: with the capo moved up, or with one place for all; null when it
    /// cannot be played so.</summary>
    public double? LoadOtherwise { get; private set; }

    private async Task CompareLiftAsync()
    {
        Lift = Ladder.Lift ?? KeyLift.Of(Open.Reading.Chart);
        if (Lift is null) return;
        var other = await desk.BuildAsync(Open.Song.ChartStamp, Open.Request with { CapoUp = Ladder.Lift is null },
            HttpContext.RequestAborted);
        if (other.Lift is null && Ladder.Lift is null) { Lift = null; return; }
        LoadOtherwise = other.Find(NeckRung) is PlayableRung rung ? rung.Load : null;
    }

    /// <summary>What the voice asks for as it stands in the fields: as it was typed and refused, as decided, or as the chart's
    /// header has it.</summary>
    public VoiceForm Voice => Typed ?? VoiceForm.From(Open.Request.Voice ?? VoiceWish.Of(Open.Reading.Chart));

    /// <summary>What was typed and could not be taken; null when all was.</summary>
    public VoiceForm? Typed { get; private set; }

    private async Task<IActionResult> RefuseAsync(int status, string fault, int? rung, int? chord)
    {
        (Response.StatusCode, Fault) = (status, fault);
        return await AnswerAsync(rung, chord);
    }

    private async Task<IActionResult> AnswerAsync(int? rung, int? chord)
    {
        await ShowAsync(rung, chord, null);
        await CompareLiftAsync();
        await FindStepsAsync();
        if (!Request.IsFromScript()) return Page();
        Response.Headers["X-Tembri-Part"] = "ladder";
        return Partial("_LadderBody", this);
    }

    private async Task<IActionResult?> LoadAsync(Guid id, Guid student, int? capo)
    {
        if (await desk.OpenAsync(id, student, capo, HttpContext.RequestAborted) is not { } open)
        {
            // A chart without chords has no ladder yet: go where it can get some.
            return await desk.InsteadAsync(id, student) is { } chart ? Redirect(chart) : NotFound();
        }
        Open = open;
        ChosenStudent.Keep(HttpContext, student);
        CapoIsPreview = capo is not null && capo != open.Choice?.Capo;
        Students = await context.Students.AsNoTracking().OrderBy(s => s.Nickname).ToListAsync();
        return null;
    }

    /// <summary>The load of a point of the trade-off curve that was pressed; null while none was.</summary>
    public double? Between { get; private set; }

    /// <summary>The shape that is drawn for the open chord; null while none is.</summary>
    public ShapeStudy? Drawn { get; private set; }

    /// <summary>The strings of the drawing, also while none of them sounds.</summary>
    public IReadOnlyList<int> DrawnFrets { get; private set; } = [];

    /// <summary>The lowest fret that is seen of the fretboard.</summary>
    public int DrawnFrom { get; private set; } = 1;

    /// <summary>True while a shape is drawn.</summary>
    public bool IsDrawing => DrawnFrets.Count > 0;

    private async Task DrawAsync(string draw, int from)
    {
        if (OpenRung is not { } rung || OpenChord is not { } chord || Rung(rung) is not PlayableRung here) return;
        DrawnFrets = LadderDecisions.Numbers(draw) is { Length: 6 } frets
                && frets.All(f => f is >= -1 and <= Shape.HighestFret) ? frets
            : here.Chords[chord] is PlayedChord held ? held.Choice.Fingering.Shape.Frets
            : [-1, -1, -1, -1, -1, -1];
        DrawnFrom = Math.Clamp(from, 1, Math.Max(1, Neck0.HighestFret - BoardDrawing.Window + 1));
        if (DrawnFrets.Any(f => f >= 0))
            Drawn = await lanes.ForPageAsync(_ => builder.Study(Open.Request, Ladder, chord, new Shape([.. DrawnFrets])),
                HttpContext.RequestAborted);
    }

    /// <summary>The address of the drawing with other strings, or seen from another fret.</summary>
    public string DrawAddress(IReadOnlyList<int> frets, int from) =>
        Here(SectionPart, $"rung={OpenRung}&chord={OpenChord}&draw={string.Join(',', frets)}&from={from}");

    /// <summary>The drawing that begins with the shape that is played.</summary>
    public string DrawHere => Here(SectionPart, $"rung={OpenRung}&chord={OpenChord}&draw=now");

    /// <summary>True when a shape was taken on this ladder, not in every song.</summary>
    public bool IsTakenHere(int rung, int chord)
    {
        var (degree, tonic, strings) = (Degree(chord), Ladder.ShapeKey.Tonic.PitchClass, LadderDesk.StringsOf(Open.Request));
        return Open.Locks.Any(l => l.Rung == rung && l.Chord == degree && l.ShapeTonic == tonic && l.Strings == strings);
    }

    /// <summary>The drawing with one string changed.</summary>
    public string DrawAddress(int s, int fret) => DrawAddress([.. DrawnFrets.Select((f, i) => i == s ? fret : f)], DrawnFrom);

    private string Degree(int chord) => Ladder.Flow.Chords[chord].DegreeIn(Ladder.Chart.Key);

    private bool ChordExists(int rung, int chord) =>
        Ladder.Find(rung) is not null && chord >= 0 && chord < Ladder.Flow.Chords.Count;

    private async Task ShowAsync(int? rung, int? chord, int? why)
    {
        Columns = LadderColumns.Of(Ladder, Request.HasFormContentType ? Request.Form["section"] : Request.Query["section"]);
        if (rung is { } r && chord is { } c && ChordExists(r, c) && Rung(r) is PlayableRung here)
        {
            (OpenRung, OpenChord) = (r, c);
            if (here.Chords[c] is not PlayedChord { Choice: var current }) return;
            var all = await lanes.ForPageAsync(_ => builder.Alternatives(Open.Request, Ladder, c, here.Limits),
                HttpContext.RequestAborted);
            // The shape in use first, then its other fingerings, then one fingering of each other shape.
            Alternatives = [.. new[] { (current, (RungLimit?)null) }
                .Concat(all.Where(
                        a => !a.Candidate.SameAs(current) && a.Candidate.Fingering.Shape.Equals(current.Fingering.Shape))
                    .Take(2))
                .Concat(all.Where(a => !a.Candidate.Fingering.Shape.Equals(current.Fingering.Shape))
                    .DistinctBy(a => a.Candidate.Fingering.Shape)).Take(MostAlternatives)];
        }
        else if (why is { } asked && Ladder.Find(asked) is PlayableRung) WhyRung = why;
    }
}
