using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Arranging;
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

/// <summary>What the student's form holds.</summary>
public sealed class StudentForm
{
    private const string SkillRange = "A skill is a number from 0 to 100.";

    [Required(ErrorMessage = "Give a nickname."),
        StringLength(Student.LongestNickname, ErrorMessage = "A nickname has at most 40 letters.")]
    public string Nickname { get; set; } = "";

    [Required]
    public string HandId { get; set; } = "medium";

    [Required]
    public string GuitarId { get; set; } = "steel";

    /// <summary>How the guitar stands; empty when it is tuned as the song wants it.</summary>
    [StringLength(LadderChoice.LongestStrings, ErrorMessage = "A tuning is a name, or six strings such as D A D G B E.")]
    public string? GuitarStrings { get; set; }

    /// <summary>Spread as measured, mm; null for the preset's.</summary>
    [Range(Hand.SmallestSpread, Hand.LargestSpread,
        ErrorMessage = "A measured spread is 70 to 170 mm; leave it empty for that of the list.")]
    public double? SpreadMm { get; set; }

    /// <summary>True when practice counts; false for the numbers of this form alone.</summary>
    public bool UsesPractice { get; set; } = true;

    public bool Thumb { get; set; }
    public bool LeftHanded { get; set; }
    [EnumDataType(typeof(BarreGoal), ErrorMessage = "Choose what barres are to be.")]
    public BarreGoal Barres { get; set; } = BarreGoal.Neutral;

    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double Fingers { get; set; } = 30;
    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double Stretch { get; set; } = 28;
    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double ShortBarre { get; set; } = 12;
    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double FullBarre { get; set; }
    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double Muting { get; set; } = 22;
    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double ThumbSkill { get; set; }
    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double Changes { get; set; } = 26;
    [Range(0.0, 100.0, ErrorMessage = SkillRange)] public double RightHand { get; set; } = 28;

    public uint Version { get; set; }

    public double Skill(Technique technique) => ToSkills()[technique];

    public Skills ToSkills() => new()
    {
        Fingers = Fingers, Stretch = Stretch, ShortBarre = ShortBarre, FullBarre = FullBarre, Muting = Muting,
        Thumb = ThumbSkill, Changes = Changes, RightHand = RightHand,
    };

    public static StudentForm From(Student s) => new()
    {
        Nickname = s.Nickname, HandId = s.HandId, GuitarId = s.OwnGuitarId is { } own ? $"{Own}{own}" : s.GuitarId,
        SpreadMm = s.SpreadMm, UsesPractice = s.UsesPractice, Thumb = s.Thumb, LeftHanded = s.LeftHanded, Barres = s.Barres,
        GuitarStrings = s.GuitarStrings, Version = s.Version,
        Fingers = s.Skills.Fingers, Stretch = s.Skills.Stretch, ShortBarre = s.Skills.ShortBarre, FullBarre = s.Skills.FullBarre,
        Muting = s.Skills.Muting,
        ThumbSkill = s.Skills.Thumb, Changes = s.Skills.Changes, RightHand = s.Skills.RightHand,
    };

    /// <summary>True when both say the same, versions aside.</summary>
    public bool SameAs(StudentForm other) =>
        (Nickname, HandId, GuitarId, SpreadMm, UsesPractice, Thumb, LeftHanded, Barres, Stands)
            == (other.Nickname, other.HandId, other.GuitarId, other.SpreadMm, other.UsesPractice, other.Thumb, other.LeftHanded,
                other.Barres, other.Stands)
        && Enum.GetValues<Technique>().All(t => Skill(t) == other.Skill(t));

    /// <summary>What a guitar of the studio's own begins with in the list.</summary>
    public const string Own = "own:";

    public Guid? OwnGuitarId =>
        GuitarId is not null && GuitarId.StartsWith(Own, StringComparison.Ordinal)
                && Guid.TryParse(GuitarId[Own.Length..], out var id)
            ? id
            : null;

    private string? Stands => Tuning.Read(GuitarStrings)?.Name;

    public void ApplyTo(Student s, StudioGuitar? own, DateTimeOffset now)
    {
        (s.Nickname, s.HandId, s.SpreadMm, s.UsesPractice, s.Thumb, s.LeftHanded, s.Barres) =
            (Nickname.Trim(), HandId, SpreadMm, UsesPractice, Thumb, LeftHanded, Barres);
        (s.OwnGuitarId, s.GuitarMeasures,
            s.GuitarId) = (own?.Id, own?.Measures ?? "",
                own is null ? GuitarId : GuitarMeasures.FromJson(own.Measures)?.Preset ?? Guitar.Steel.Id);
        s.GuitarStrings = Stands;
        var skills = ToSkills();
        // Numbers the teacher sets anew say what is there today: what was practised before is in them.
        if (s.Skills != skills || s.GuessedAt == default) s.GuessedAt = now;
        s.Skills = skills;
    }
}

/// <summary>A song in a student's list; the outline is null while it is still to be made.</summary>
/// <param name="Song">The song.</param>
/// <param name="Student">The student.</param>
/// <param name="Outline">The song's versions for the student's kind.</param>
/// <param name="IsWaiting">True while the outline may still come.</param>
public sealed record FitRow(SongLine Song, Student Student, LadderOutline? Outline, bool IsWaiting)
{
    /// <summary>The rung to work on and how it fits; null when none can be played.</summary>
    public (int Number, VersionFit Fit)? Working
    {
        get
        {
            if (Outline is null) return null;
            var player = Student.ToPlayer();
            return Outline.Grade(player).WorkingRung is { } number
                ? (number, new VersionFit(Outline.Find(number)!, player))
                : null;
        }
    }
}

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
        return Partial("_FitRow", new FitRow(SongLine.From(row), student, made.GetValueOrDefault(id), IsWaiting: false));
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
        Fits = [.. songs.Select(s => new FitRow(s, student, found.GetValueOrDefault((s.Id, student.Id)), IsWaiting: true))];
    }
}
