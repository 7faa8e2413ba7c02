using Tembri.Core.Arranging;
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

    /// <summary>Preset of <see cref="Core.Fretboard.Guitar"/>.</summary>
    public required string GuitarId { get; set; }

    public bool LeftHanded { get; set; }
    public bool Thumb { get; set; }
    public BarreGoal Barres { get; set; } = BarreGoal.Neutral;

    /// <summary>Skill by technique, stored as one JSON document.</summary>
    public Skills Skills { get; set; } = new();

    /// <summary>What the teacher wants for this student in every song, as <see cref="Core.Wishes.TeacherWishes.ToJson"/> writes it; empty for nothing.</summary>
    public string Wishes { get; set; } = "";

    public DateTimeOffset ChangedAt { get; set; }

    /// <summary>Names the request that made the row: the same form sent twice makes one. Null for rows that came otherwise.</summary>
    public Guid? RequestKey { get; set; }

    /// <summary>Changes with every save; a stale one is a conflict.</summary>
    public uint Version { get; set; }

    /// <summary>The student as the model sees one.</summary>
    public Player ToPlayer() => new()
    {
        Hand = Core.Hands.Hand.Preset(HandId),
        Guitar = Core.Fretboard.Guitar.Preset(GuitarId),
        Thumb = Thumb,
        Barres = Barres,
        Skills = Skills,
    };
}
