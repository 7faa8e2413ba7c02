using System.ComponentModel.DataAnnotations;
using Tembri.Core.Arranging;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Students;
using Tembri.Data.Ladders;
using Tembri.Data.Students;

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

    /// <summary>A skill as the page shows it: within the range even when something else was sent.</summary>
    public double Skill(Technique technique) => ToSkills()[technique] is var skill and >= 0 ? Math.Min(skill, 100) : 0;

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
        (s.OwnGuitarId, s.GuitarMeasures, s.GuitarId) = (own?.Id, own?.Measures ?? "",
            own is null ? GuitarId : GuitarMeasures.FromJson(own.Measures)?.Preset ?? Guitar.Steel.Id);
        s.GuitarStrings = Stands;
        var skills = ToSkills();
        // Numbers the teacher sets anew say what is there today: what was practised before is in them.
        if (s.Skills != skills || s.GuessedAt == default) s.GuessedAt = now;
        s.Skills = skills;
    }
}
