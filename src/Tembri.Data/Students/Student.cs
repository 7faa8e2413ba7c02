using Tembri.Core.Arranging;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Practice;
using Tembri.Core.Students;
using Tembri.Data.Studios;

namespace Tembri.Data.Students;

/// <summary>A student. Only a nickname is kept: students may be minors.</summary>
public sealed class Student : IStudioOwned
{
    public const int LongestNickname = 40;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public required string Nickname { get; set; }

    /// <summary>Preset of <see cref="Core.Hands.Hand"/>.</summary>
    public required string HandId { get; set; }

    /// <summary>Spread of the hand as it was measured, mm; null for that of the preset.</summary>
    public double? SpreadMm { get; set; }

    /// <summary>Preset of <see cref="Core.Fretboard.Guitar"/>.</summary>
    public required string GuitarId { get; set; }

    /// <summary>A guitar of the studio's own; null for the preset.</summary>
    public Guid? OwnGuitarId { get; set; }

    /// <summary>The measures of that guitar, as <see cref="GuitarMeasures.ToJson"/> writes them; empty for the
    /// preset's.</summary>
    public string GuitarMeasures { get; set; } = "";

    /// <summary>How the guitar stands, as <see cref="Core.Fretboard.Tuning.Name"/> writes it; null when it is tuned as the song
    /// wants it.</summary>
    public string? GuitarStrings { get; set; }

    public bool LeftHanded { get; set; }
    public bool Thumb { get; set; }
    public BarreGoal Barres { get; set; } = BarreGoal.Neutral;

    /// <summary>Skill by technique as the teacher guessed it, stored as one JSON document.</summary>
    public Skills Skills { get; set; } = new();

    /// <summary>When the teacher guessed: what was practised before is in the guess.</summary>
    public DateTimeOffset GuessedAt { get; set; }

    /// <summary>What came of practice; loaded with the student, null for nothing yet.</summary>
    public StudentProgress? Progress { get; set; }

    /// <summary>False when the teacher's own numbers count, whatever practice says.</summary>
    public bool UsesPractice { get; set; } = true;

    public AgeGroup AgeGroup { get; set; }

    /// <summary>Minutes a day there are for practice.</summary>
    public int MinutesADay { get; set; } = UsualMinutes;

    /// <summary>A song the student wants to play, at a rung, by a day.</summary>
    public Guid? GoalSongId { get; set; }
    public int? GoalRung { get; set; }
    public DateOnly? GoalOn { get; set; }

    /// <summary>True when the student wants to sing along: the right hand and the changes need to spare.</summary>
    public bool SingsAlong { get; set; }

    /// <summary>The teacher's own words, such as <c>Monday group</c>.</summary>
    public string[] Tags { get; set; } = [];

    public const int UsualMinutes = 15;
    public const int MostMinutes = 240;

    /// <summary>What the teacher wants for this student in every song, as <see cref="Core.Wishes.TeacherWishes.ToJson"/> writes
    /// it; empty for nothing.</summary>
    public string Wishes { get; set; } = "";

    public DateTimeOffset ChangedAt { get; set; }

    /// <summary>Names the request that made the row: the same form sent twice makes one. Null for rows that came
    /// otherwise.</summary>
    public Guid? RequestKey { get; set; }

    /// <summary>Changes with every save; a stale one is a conflict.</summary>
    public uint Version { get; set; }

    /// <summary>The hand.</summary>
    public Hand ToHand() => SpreadMm is { } spread ? Hand.Measured(spread) : Hand.Preset(HandId);

    /// <summary>The guitar.</summary>
    public Guitar ToGuitar() =>
        Core.Fretboard.GuitarMeasures.FromJson(GuitarMeasures)?.ToGuitar() ?? Guitar.Preset(GuitarId);

    /// <summary>The student as the model sees one.</summary>
    public Player ToPlayer() => new()
    {
        Hand = ToHand(),
        Guitar = ToGuitar(),
        Strings = Core.Fretboard.Tuning.Read(GuitarStrings),
        Thumb = Thumb,
        Barres = Barres,
        Skills = UsesPractice && Progress?.Read() is { } learnt ? learnt.Skills : Skills,
        ArrangedBy = Skills,
        Measured = UsesPractice ? Progress?.Read()?.ToMeasured() ?? Measured.None : Measured.None,
    };
}
