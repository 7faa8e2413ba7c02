using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Practice;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Students;

/// <summary>A student's page: hand, guitar, goals and skill, and what they mean for every song. It only shows what is graded
/// already; the rest is asked for row by row, those in sight first.</summary>
internal sealed class EditModel(TembriDbContext context, SongGrades grades, ArrangingOrders orders, Logbook log,
    TimeProvider clock) : PageModel
{
    private const string ChangedElsewhere =
        "This student was changed in another tab or on another device after you opened the page. The page shows the newest; "
            + "make your change again.";

    [BindProperty]
    public StudentForm Form { get; set; } = new();

    /// <summary>Names the form of a new student, so that the same one sent twice adds one.</summary>
    [BindProperty]
    public Guid RequestKey { get; set; }

    public Guid? Id { get; private set; }
    public bool IsNew => Id is null;

    /// <summary>The studio's own guitars.</summary>
    public IReadOnlyList<StudioGuitar> OwnGuitars { get; private set; } = [];

    /// <summary>What practice says, when it says something.</summary>
    public Learnt? Learnt { get; private set; }
    public string? Fault { get; private set; }
    public IReadOnlyList<FitRow> Fits { get; private set; } = [];

    public Stretch SongStretch { get; private set; } = new(0, MostSongs, 0);
    public StretchLinks SongLinks => new(SongStretch, "songs", to => $"{Paths.Student(Id)}?songs={to}");
    private const int MostSongs = 50;

    /// <summary>Which page of the songs is shown, from 1.</summary>
    [BindProperty(SupportsGet = true, Name = "songs")]
    public int? SongPage { get; set; }

    /// <summary>Takes what practice says over as the teacher's own numbers; ladders are arranged for them.</summary>
    public async Task<IActionResult> OnPostTakeLearntAsync(Guid id)
    {
        if (await context.Students.FirstOrDefaultAsync(s => s.Id == id) is not { } student) return NotFound();
        if (student.Progress?.Read() is { } learnt)
        {
            (student.Skills, student.GuessedAt, student.ChangedAt) =
                (Skills.Each(t => Math.Round(learnt.Skills[t])), clock.GetUtcNow(), clock.GetUtcNow());
            await context.SaveChangesAsync();
            await orders.OrderForAsync([student], HttpContext.RequestAborted);
            context.ChangeTracker.Clear();
            await log.LearnAsync(id, HttpContext.RequestAborted);
        }
        return Redirect(Paths.Student(id));
    }

    public async Task<IActionResult> OnGetAsync(Guid? id)
    {
        await ListGuitarsAsync();
        if (id is not { } known)
        {
            RequestKey = Guid.CreateVersion7();
            return Page();
        }
        if (await FindAsync(known) is not { } student) return NotFound();
        Form = StudentForm.From(student);
        await ListFitsAsync(student);
        return Page();
    }

    /// <summary>What the student can play now, as far as it is known.</summary>
    public async Task<IActionResult> OnGetFitsAsync(Guid id)
    {
        if (await FindAsync(id) is not { } student) return NotFound();
        Form.Nickname = student.Nickname;
        await ListFitsAsync(student);
        return Partial("_Fits", this);
    }

    /// <summary>One song's row, graded now.</summary>
    public async Task<IActionResult> OnGetFitAsync(Guid id, Guid song)
    {
        if (await FindAsync(id) is not { } student
            || await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == song) is not { } row)
            return NotFound();
        var made = await grades.MakeAsync(row, [student], inBackground: false, HttpContext.RequestAborted);
        var outline = made.GetValueOrDefault(id);
        return Partial("_FitRow", new FitRow(SongLine.From(row), student, student.ToPlayer(), outline, IsWaiting: false));
    }

    /// <summary>Adds or saves, then shows the page.</summary>
    public async Task<IActionResult> OnPostAsync(Guid? id)
    {
        var (student, outcome) = await SaveAsync(id);
        switch (outcome)
        {
            case Outcome.Saved: return Redirect(Paths.Student(student!.Id));
            case Outcome.Gone: return NotFound();
            case Outcome.Conflict:
                Fault = ChangedElsewhere;
                Form = StudentForm.From(student!);
                ModelState.Clear();
                Response.StatusCode = StatusCodes.Status409Conflict;
                break;
        }
        await ListGuitarsAsync();
        if (student is not null) await ListFitsAsync(student);
        return Page();
    }

    /// <summary>Saves a change as it is made. Answers the new version; or why not, and with a conflict what is stored.</summary>
    public async Task<IActionResult> OnPostKeepAsync(Guid id)
    {
        var (student, outcome) = await SaveAsync(id);
        return outcome switch
        {
            Outcome.Saved => new JsonResult(new { version = student!.Version }),
            Outcome.Gone => NotFound(),
            Outcome.Conflict => new JsonResult(new { fault = ChangedElsewhere, version = student!.Version })
            {
                StatusCode = StatusCodes.Status409Conflict
            },
            _ => new JsonResult(
                new { fault = string.Join(" ", ModelState.Values.SelectMany(v => v.Errors).Select(e => e.ErrorMessage)) })
            {
                StatusCode = StatusCodes.Status422UnprocessableEntity
            },
        };
    }

    private enum Outcome { Saved, Refused, Conflict, Gone }

    private Task<Student?> FindAsync(Guid id) => context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id);

    private async Task<(Student? Student, Outcome Outcome)> SaveAsync(Guid? id)
    {
        var student = id is { } known ? await context.Students.FirstOrDefaultAsync(s => s.Id == known)
            : RequestKey != Guid.Empty ? await context.Students.FirstOrDefaultAsync(s => s.RequestKey == RequestKey) : null;
        if (id is not null && student is null) return (null, Outcome.Gone);
        // The form of a new student that was sent before.
        if (id is null && student is not null) return (student, Outcome.Saved);
        Form.Nickname = PlainText.OneLine(Form.Nickname ?? "");
        if (Form.Nickname.Length == 0 && !ModelState.ContainsKey("Form.Nickname"))
            ModelState.AddModelError("Form.Nickname", "Give a nickname.");
        if (Hand.Presets.All(h => h.Id != Form.HandId))
            ModelState.AddModelError("Form.HandId", "Choose one of the hands in the list.");
        var own = Form.OwnGuitarId is { } guitar
            ? await context.StudioGuitars.AsNoTracking().FirstOrDefaultAsync(g => g.Id == guitar)
            : null;
        if (own is null && Guitar.Presets.All(g => g.Id != Form.GuitarId))
            ModelState.AddModelError("Form.GuitarId", "Choose one of the guitars in the list.");
        if (!string.IsNullOrWhiteSpace(Form.GuitarStrings) && Tuning.Read(Form.GuitarStrings) is null)
            ModelState.AddModelError("Form.GuitarStrings",
                $"“{Form.GuitarStrings}” is not a tuning. Give a name of the list, or the six strings from the lowest, such as "
                    + "D A D G B E.");
        if (!ModelState.IsValid) return (student, Outcome.Refused);
        if (student is not null && student.Version != Form.Version)
            // What is stored already needs no saving: an answer that was lost on its way is asked for again.
            return (student, StudentForm.From(student).SameAs(Form) ? Outcome.Saved : Outcome.Conflict);
        var before = student?.ToPlayer().Kind;
        if (student is null)
        {
            student = new Student
            {
                Nickname = "", HandId = "medium", GuitarId = "steel", RequestKey = RequestKey == Guid.Empty ? null : RequestKey
            };
            context.AddOwned(student);
        }
        Form.ApplyTo(student, own, clock.GetUtcNow());
        student.ChangedAt = clock.GetUtcNow();
        try
        {
            await context.SaveChangesAsync();
            if (before != student.ToPlayer().Kind) await orders.OrderForAsync([student], HttpContext.RequestAborted);
            context.ChangeTracker.Clear();
            // Another hand, another guitar, other numbers: what the log tells is reckoned anew.
            if (id is not null) await log.LearnAsync(student.Id, HttpContext.RequestAborted);
            return (student, Outcome.Saved);
        }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e))
        {
            context.ChangeTracker.Clear();
            if (id is null) return (await context.Students.FirstAsync(s => s.RequestKey == RequestKey), Outcome.Saved);
            return await FindAsync(id.Value) is { } theirs ? (theirs, Outcome.Conflict) : (null, Outcome.Gone);
        }
    }

    private async Task ListGuitarsAsync() =>
        OwnGuitars = await context.StudioGuitars.AsNoTracking().OrderBy(g => g.Name).ToListAsync();

    private async Task ListFitsAsync(Student student)
    {
        Id = student.Id;
        Learnt = student.Progress?.Read();
        var all = context.Songs.Where(s => s.ChordCount > 0);
        SongStretch = Stretch.Of(SongPage, MostSongs, await all.CountAsync());
        var songs = await all.OrderBy(s => s.Title).ThenBy(s => s.Id).Skip(SongStretch.First).Take(MostSongs).Select(SongLine.Of)
            .ToListAsync();
        var found = await grades.FindAsync([.. songs.Select(s => new SongGrades.SongKey(s.Id, s.ChartStamp))], [student],
            HttpContext.RequestAborted);
        var player = student.ToPlayer();
        Fits = [.. songs.Select(
            s => new FitRow(s, student, player, found.GetValueOrDefault((s.Id, student.Id)), IsWaiting: true))];
    }
}
