using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Ladders;

namespace Tembri.Web.Pages.Students;

/// <summary>What the student's form holds.</summary>
public sealed class StudentForm
{
    private const string SkillRange = "A skill is a number from 0 to 100.";

    [Required(ErrorMessage = "Give a nickname."), StringLength(Student.LongestNickname, ErrorMessage = "A nickname has at most 40 letters.")]
    public string Nickname { get; set; } = "";

    [Required]
    public string HandId { get; set; } = "medium";

    [Required]
    public string GuitarId { get; set; } = "steel";

    public bool Thumb { get; set; }
    public bool LeftHanded { get; set; }
    public BarreGoal Barres { get; set; } = BarreGoal.Neutral;

    [Range(0, 100, ErrorMessage = SkillRange)] public double Fingers { get; set; } = 30;
    [Range(0, 100, ErrorMessage = SkillRange)] public double Stretch { get; set; } = 28;
    [Range(0, 100, ErrorMessage = SkillRange)] public double ShortBarre { get; set; } = 12;
    [Range(0, 100, ErrorMessage = SkillRange)] public double FullBarre { get; set; }
    [Range(0, 100, ErrorMessage = SkillRange)] public double Muting { get; set; } = 22;
    [Range(0, 100, ErrorMessage = SkillRange)] public double ThumbSkill { get; set; }
    [Range(0, 100, ErrorMessage = SkillRange)] public double Changes { get; set; } = 26;
    [Range(0, 100, ErrorMessage = SkillRange)] public double RightHand { get; set; } = 28;

    public uint Version { get; set; }

    public double Skill(Technique technique) => ToSkills()[technique];

    public Skills ToSkills() => new()
    {
        Fingers = Fingers, Stretch = Stretch, ShortBarre = ShortBarre, FullBarre = FullBarre, Muting = Muting, Thumb = ThumbSkill, Changes = Changes, RightHand = RightHand,
    };

    public static StudentForm From(Student s) => new()
    {
        Nickname = s.Nickname, HandId = s.HandId, GuitarId = s.GuitarId, Thumb = s.Thumb, LeftHanded = s.LeftHanded, Barres = s.Barres, Version = s.Version,
        Fingers = s.Skills.Fingers, Stretch = s.Skills.Stretch, ShortBarre = s.Skills.ShortBarre, FullBarre = s.Skills.FullBarre, Muting = s.Skills.Muting,
        ThumbSkill = s.Skills.Thumb, Changes = s.Skills.Changes, RightHand = s.Skills.RightHand,
    };

    public void ApplyTo(Student s) =>
        (s.Nickname, s.HandId, s.GuitarId, s.Thumb, s.LeftHanded, s.Barres, s.Skills) = (Nickname.Trim(), HandId, GuitarId, Thumb, LeftHanded, Barres, ToSkills());
}

/// <summary>A student's page: hand, guitar, goals and skill, and at once what they mean for every song.</summary>
internal sealed class EditModel(TembriDbContext context, LadderDesk desk, TimeProvider clock) : PageModel
{
    [BindProperty]
    public StudentForm Form { get; set; } = new();

    public Guid? Id { get; private set; }
    public bool IsNew => Id is null;
    public bool IsPartial { get; private set; }
    public string? Fault { get; private set; }
    public IReadOnlyList<(Song Song, Ladder Ladder)> Fits { get; private set; } = [];

    public string Words(Technique technique) => technique switch
    {
        Technique.Fingers => "Placing fingers",
        Technique.Stretch => "Reaching across frets",
        Technique.ShortBarre => "Short barre",
        Technique.FullBarre => "Full barre",
        Technique.Muting => "Keeping strings silent",
        Technique.Thumb => "Thumb over the neck",
        Technique.Changes => "Changing in time",
        _ => "Strumming",
    };

    public async Task<IActionResult> OnGetAsync(Guid? id)
    {
        if (id is { } known)
        {
            if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == known) is not { } student) return NotFound();
            Form = StudentForm.From(student);
            await ShowFitsAsync(student);
        }
        return Page();
    }

    /// <summary>Adds or saves, then shows the page.</summary>
    public async Task<IActionResult> OnPostAsync(Guid? id)
    {
        var (student, refused) = await SaveAsync(id);
        if (refused is not null) return refused;
        return student is not null && Fault is null && ModelState.IsValid ? Redirect($"/students/{student.Id}") : Page();
    }

    /// <summary>Saves a change as it is made and answers with the new fits.</summary>
    public async Task<IActionResult> OnPostKeepAsync(Guid id)
    {
        IsPartial = true;
        var (_, refused) = await SaveAsync(id);
        if (refused is not null) return refused;
        if (!ModelState.IsValid) Fault = string.Join(" ", ModelState.Values.SelectMany(v => v.Errors).Select(e => e.ErrorMessage)) + " Not saved yet.";
        return Partial("_Fits", this);
    }

    private async Task<(Student? Student, IActionResult? Refused)> SaveAsync(Guid? id)
    {
        Student? student = null;
        if (id is { } known)
        {
            student = await context.Students.FirstOrDefaultAsync(s => s.Id == known);
            if (student is null) return (null, NotFound());
            await ShowFitsAsync(student);
        }
        if (Hand.Presets.All(h => h.Id != Form.HandId)) ModelState.AddModelError("Form.HandId", "Choose one of the hands in the list.");
        if (Guitar.Presets.All(g => g.Id != Form.GuitarId)) ModelState.AddModelError("Form.GuitarId", "Choose one of the guitars in the list.");
        if (!ModelState.IsValid) return (student, null);
        if (student is not null && student.Version != Form.Version)
        {
            Fault = "This student was changed in another tab after you opened the page. The page below shows the newest; make your change again.";
            Form = StudentForm.From(student);
            ModelState.Clear();
            return (student, null);
        }
        var isNew = student is null;
        student ??= new Student { Nickname = "", HandId = "medium", GuitarId = "steel" };
        Form.ApplyTo(student);
        student.ChangedAt = clock.GetUtcNow();
        if (isNew) context.Students.Add(student);
        await context.SaveChangesAsync();
        Form.Version = student.Version;
        ModelState.Remove("Form.Version");
        await ShowFitsAsync(student);
        return (student, null);
    }

    private async Task ShowFitsAsync(Student student)
    {
        Id = student.Id;
        var songs = await context.Songs.AsNoTracking().OrderBy(s => s.Title).ToListAsync();
        var choices = await context.LadderChoices.AsNoTracking().Where(c => c.StudentId == student.Id).ToDictionaryAsync(c => c.SongId);
        var locks = (await context.LockedShapes.AsNoTracking().Where(l => l.StudentId == student.Id).ToListAsync()).ToLookup(l => l.SongId);
        Fits = [.. songs.Select(s => (s, desk.Open(s, student, choices.GetValueOrDefault(s.Id), [.. locks[s.Id]])?.Ladder)).Where(x => x.Ladder is not null).Select(x => (x.s, x.Ladder!))];
    }
}
