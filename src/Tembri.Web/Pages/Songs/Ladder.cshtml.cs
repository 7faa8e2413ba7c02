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
internal sealed class LadderModel(
    TembriDbContext context, LadderDesk desk, LadderBuilder builder, ResultCache results, ArrangingOrders orders, ComputeLanes lanes, StudioSettings studio) : PageModel
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
    public int NeckRung => Open.WorkingRung ?? 3;

    /// <summary>The student's guitar with the ladder's capo, for drawings to scale.</summary>
    public NeckGeometry Neck0 => new(Open.Request.Kind.Guitar, Ladder.Capo);

    public Scene Neck => NeckDrawing.Draw(Ladder, studio.NoteNames, new NeckGeometry(Open.Request.Kind.Guitar, 0), NeckRung, capo => capo == Open.Choice?.Capo ? PathHere : $"{PathHere}?capo={capo}");

    public IReadOnlyList<(Candidate Candidate, RungLimit? Objection)> Alternatives { get; private set; } = [];

    /// <summary>The chords that stand side by side.</summary>
    public LadderColumns Columns { get; private set; } = null!;

    private string PathHere => Paths.Ladder(Open.Song.Id, Open.Student.Id);

    public Rung Rung(int number) => Ladder.Rungs[number - 1];

    /// <summary>What the rung on the neck stands or falls with, in one line; empty when it is blocked.</summary>
    public string NeckReason => Open.FitOf(Rung(NeckRung)) is { } fit ? FitWords.Say(fit.Reason, studio.NoteNames) : "";

    public string Address(int? rung = null, int? chord = null) => Here(SectionPart, rung is null ? "" : $"rung={rung}&chord={chord}");

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

    public string HandlerAddress(string handler) => $"{PathHere}?handler={handler}";

    /// <summary>What the teacher decided so far, counted; each step says which count it knows.</summary>
    public int Revision => Open.Choice?.Revision ?? 0;

    public async Task<IActionResult> OnGetAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int? capo, int? rung, int? chord, int? why)
    {
        if (await LoadAsync(id, student, capo) is { } elsewhere) return elsewhere;
        await ShowAsync(rung, chord, why);
        if (Request.Headers.ContainsKey("HX-Request")) return Partial("_Bench", this);
        await CompareLiftAsync();
        return Page();
    }

    /// <summary>Takes a shape for a chord; it stays while the rest is arranged around it.</summary>
    public Task<IActionResult> OnPostTakeAsync(Guid id, Guid student, int rung, int chord, [Range(0, NeckGeometry.HighestCapo)] int capo, string? frets, string? fingers, int? revision, Guid? step) =>
        StepAsync(id, student, capo, revision, step, rung, chord, async choice =>
        {
            if (!ChordExists(rung, chord) || Read(frets, fingers) is not { } taken)
                return "That shape could not be taken: it does not fit this hand and guitar, or the chart was changed meanwhile. The ladder below is up to date; choose again.";
            var locked = await LocksOf(id, student, rung, chord).FirstOrDefaultAsync();
            if (locked is null)
                context.AddOwned(locked = new LockedShape { SongId = id, StudentId = student, Rung = rung, Chord = Degree(chord), Frets = [], Fingers = [] });
            (locked.Capo, locked.Tuning, locked.ShapeTonic) = (Ladder.Capo, choice.Tuning, Ladder.ShapeKey.Tonic.PitchClass);
            (locked.Frets, locked.Fingers) = ([.. taken.Shape.Frets], [.. taken.Fingers.Select(f => (int)f)]);
            choice.BringCapo(Ladder.Capo);
            return null;
        });

    /// <summary>Frees a shape that was taken.</summary>
    public Task<IActionResult> OnPostFreeAsync(Guid id, Guid student, int rung, int chord, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, rung, chord, async choice =>
        {
            if (!ChordExists(rung, chord)) return "This chord is not in the song any more. The ladder below is up to date.";
            var freed = await LocksOf(id, student, rung, chord).ToListAsync();
            context.LockedShapes.RemoveRange(freed);
            if (await context.LockedShapes.CountAsync(l => l.SongId == id && l.StudentId == student) == freed.Count) choice.GiveCapoBack();
            return null;
        });

    /// <summary>Keeps a capo, or with none given lets the arranger choose.</summary>
    public Task<IActionResult> OnPostCapoAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int? capo, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, choice =>
        {
            choice.DecideCapo(capo);
            if (capo is null) choice.Tuning = null;
            return Done;
        });

    /// <summary>Keeps a place: a capo and a tuning of the guitar.</summary>
    public Task<IActionResult> OnPostPlaceAsync(Guid id, Guid student, [Range(0, NeckGeometry.HighestCapo)] int capo, [Range(-7, 7)] int tuning, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, choice =>
        {
            choice.DecideCapo(capo);
            choice.Tuning = tuning == Open.Reading.Chart.TuningShift ? null : tuning;
            return Done;
        });

    /// <summary>Sets what the place is for and who plays along; the place is chosen anew.</summary>
    public Task<IActionResult> OnPostAimAsync(Guid id, Guid student, [EnumDataType(typeof(Aim))] Aim aim, [EnumDataType(typeof(Accompaniment))] Accompaniment company, VoiceForm voice, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, choice =>
        {
            (choice.Aim, choice.Accompaniment) = (aim, company);
            choice.DecideCapo(null);
            if (aim != Aim.Voice) return Done;
            if (voice.Fault(Open.Reading.Chart) is { } fault)
            {
                Typed = voice;
                return Task.FromResult<string?>(fault);
            }
            (choice.Voice, choice.Tune) = voice.Written(Open.Reading.Chart);
            return Done;
        });

    /// <summary>Moves the capo up where the song's end lies higher, or plays all of it at one place.</summary>
    public Task<IActionResult> OnPostLiftAsync(Guid id, Guid student, bool up, int? revision, Guid? step) =>
        StepAsync(id, student, null, revision, step, null, null, choice =>
        {
            choice.CapoUp = up;
            return Done;
        });

    /// <summary>Where the song's end lies higher and the capo could be moved up, or is; null when it does not.</summary>
    public KeyLift? Lift { get; private set; }

    /// <summary>What the rung on the neck weighs the other way: with the capo moved up, or with one place for all; null when it cannot be played so.</summary>
    public double? LoadOtherwise { get; private set; }

    private async Task CompareLiftAsync()
    {
        Lift = Ladder.Lift ?? KeyLift.Of(Open.Reading.Chart);
        if (Lift is null) return;
        var other = await desk.BuildAsync(Open.Song.ChartStamp, Open.Request with { CapoUp = Ladder.Lift is null }, HttpContext.RequestAborted);
        if (other.Lift is null && Ladder.Lift is null) { Lift = null; return; }
        LoadOtherwise = other.Rungs[NeckRung - 1] is PlayableRung rung ? rung.Load : null;
    }

    /// <summary>What the voice asks for as it stands in the fields: as it was typed and refused, as decided, or as the chart's header has it.</summary>
    public VoiceForm Voice => Typed ?? VoiceForm.From(Open.Request.Voice ?? VoiceWish.Of(Open.Reading.Chart));

    /// <summary>What was typed and could not be taken; null when all was.</summary>
    public VoiceForm? Typed { get; private set; }

    private static readonly Task<string?> Done = Task.FromResult<string?>(null);

    /// <summary>One decision of the teacher: made on the ladder she saw, once, or refused with the reason.</summary>
    /// <param name="id">The song.</param>
    /// <param name="student">The student.</param>
    /// <param name="capo">A capo that is only looked at, at which the step is made.</param>
    /// <param name="revision">The count of decisions that was on the page.</param>
    /// <param name="step">Names the step, so that the same one sent again is not refused; null without script.</param>
    /// <param name="rung">The rung whose chord is open afterwards.</param>
    /// <param name="chord">That chord.</param>
    /// <param name="decide">Writes the decision into the rows; answers why it cannot be, or null.</param>
    private async Task<IActionResult> StepAsync(Guid id, Guid student, int? capo, int? revision, Guid? step, int? rung, int? chord, Func<LadderChoice, Task<string?>> decide)
    {
        if (!ModelState.IsValid) capo = null;
        if (await LoadAsync(id, student, capo) is { } elsewhere) return elsewhere;
        if (!ModelState.IsValid) return await RefuseAsync(StatusCodes.Status400BadRequest, "What was sent is not something this ladder has: a capo is 0 to 11, a tuning −7 to 7. Nothing was changed.", rung, chord);
        var choice = Open.Choice;
        if (step is not null && choice?.LastStep == step) return await AnswerAsync(rung, chord);
        if (Revision != (revision ?? 0)) return await RefuseAsync(StatusCodes.Status409Conflict, ChangedElsewhere, rung, chord);
        if (choice is null) context.AddOwned(choice = new LadderChoice { SongId = id, StudentId = student });
        (choice.Revision, choice.LastStep) = (choice.Revision + 1, step);
        if (await decide(choice) is { } fault)
        {
            context.ChangeTracker.Clear();
            if (await LoadAsync(id, student, null) is { } gone) return gone;
            return await RefuseAsync(StatusCodes.Status200OK, fault, null, null);
        }
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            context.ChangeTracker.Clear();
            if (await LoadAsync(id, student, null) is { } gone) return gone;
            return await RefuseAsync(StatusCodes.Status409Conflict, ChangedElsewhere, rung, chord);
        }
        await orders.OrderAsync(id, HttpContext.RequestAborted);
        if (!Request.IsFromScript()) return Redirect(rung is null ? PathHere : $"{PathHere}?rung={rung}&chord={chord}#bench");
        return await LoadAsync(id, student, null) ?? await AnswerAsync(rung, chord);
    }

    private const string ChangedElsewhere = "This ladder was changed in another tab or on another device. What you see is the newest; do your step again if it is missing.";

    private async Task<IActionResult> RefuseAsync(int status, string fault, int? rung, int? chord)
    {
        (Response.StatusCode, Fault) = (status, fault);
        return await AnswerAsync(rung, chord);
    }

    private async Task<IActionResult> AnswerAsync(int? rung, int? chord)
    {
        await ShowAsync(rung, chord, null);
        await CompareLiftAsync();
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

    /// <summary>The shapes taken for a chord on a rung among the shapes of this place.</summary>
    private IQueryable<LockedShape> LocksOf(Guid song, Guid student, int rung, int chord)
    {
        var (degree, tonic) = (Degree(chord), Ladder.ShapeKey.Tonic.PitchClass);
        return context.LockedShapes.Where(l => l.SongId == song && l.StudentId == student && l.Rung == rung && l.Chord == degree && l.ShapeTonic == tonic);
    }

    private string Degree(int chord) => Ladder.Flow.Chords[chord].DegreeIn(Ladder.Chart.Key);

    private bool ChordExists(int rung, int chord) => rung is >= 1 and <= 5 && chord >= 0 && chord < Ladder.Flow.Chords.Count;

    private async Task ShowAsync(int? rung, int? chord, int? why)
    {
        Columns = LadderColumns.Of(Ladder, Request.HasFormContentType ? Request.Form["section"] : Request.Query["section"]);
        if (rung is { } r && chord is { } c && ChordExists(r, c) && Rung(r) is PlayableRung here)
        {
            (OpenRung, OpenChord) = (r, c);
            if (here.Chords[c].IsLeftOut) return;
            var current = here.Chords[c].Choice;
            var all = await lanes.ForPageAsync(_ => builder.Alternatives(Open.Request, Ladder, c, here.Limits), HttpContext.RequestAborted);
            // The shape in use first, then its other fingerings, then one fingering of each other shape.
            Alternatives = [.. new[] { (current, (RungLimit?)null) }
                .Concat(all.Where(a => !a.Candidate.SameAs(current) && a.Candidate.Fingering.Shape.Equals(current.Fingering.Shape)).Take(2))
                .Concat(all.Where(a => !a.Candidate.Fingering.Shape.Equals(current.Fingering.Shape)).DistinctBy(a => a.Candidate.Fingering.Shape)).Take(MostAlternatives)];
        }
        else if (why is >= 1 and <= 5 && Rung(why.Value) is PlayableRung) WhyRung = why;
    }

    private Fingering? Read(string? frets, string? fingers)
    {
        static int[]? Numbers(string? text)
        {
            var parts = (text ?? "").Split(',');
            var numbers = new int[parts.Length];
            for (var i = 0; i < parts.Length; i++)
                if (!int.TryParse(parts[i], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out numbers[i])) return null;
            return numbers;
        }
        if (Numbers(frets) is not { Length: 6 } f || Numbers(fingers) is not { Length: 6 } g || g.Any(n => n is < 0 or > 5) || f.Any(n => n is < -1 or > Shape.HighestFret) || f.All(n => n < 0)) return null;
        var kind = Open.Request.Kind;
        return new FingeringBook(results, kind.Guitar, kind.Hand, kind.Thumb, Ladder.Capo).Finder.Weigh(new Shape(f), [.. g.Select(n => (Finger)n)]);
    }
}
