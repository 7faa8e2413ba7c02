using System.Text.Json;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Wishes;

namespace Tembri.Data.Ladders;

/// <summary>Everything decided on a ladder at one moment: what going back brings back.</summary>
public sealed record LadderSnapshot
{
    /// <summary>A shape that was taken.</summary>
    public sealed record Taken(int Rung, string Chord, int? ShapeTonic, int Capo, int? Tuning, int[] Frets, int[] Fingers,
        string? Strings = null);

    public int? Capo { get; init; }
    public int? Tuning { get; init; }
    public string? Strings { get; init; }
    public bool CapoUp { get; init; }
    public bool CapoIsOfShapes { get; init; }
    public int? CapoBefore { get; init; }
    public string? Voice { get; init; }
    public string? Tune { get; init; }
    public Aim Aim { get; init; } = Aim.Record;
    public Accompaniment Accompaniment { get; init; } = Accompaniment.Record;
    public string Wishes { get; init; } = "";
    public IReadOnlyList<Taken> Shapes { get; init; } = [];

    /// <summary>The ladder as nobody touched it.</summary>
    public static readonly LadderSnapshot Untouched = new();

    /// <summary>Takes down what the rows hold.</summary>
    public static LadderSnapshot Of(LadderChoice choice, IEnumerable<LockedShape> locks) => new()
    {
        Capo = choice.Capo, Tuning = choice.Tuning, Strings = choice.Strings, CapoUp = choice.CapoUp,
        CapoIsOfShapes = choice.CapoIsOfShapes, CapoBefore = choice.CapoBefore, Voice = choice.Voice, Tune = choice.Tune,
        Aim = choice.Aim, Accompaniment = choice.Accompaniment, Wishes = choice.Wishes,
        Shapes = [.. locks.OrderBy(l => l.Rung).ThenBy(l => l.Chord, StringComparer.Ordinal)
            .Select(l => new Taken(l.Rung, l.Chord, l.ShapeTonic, l.Capo, l.Tuning, l.Frets, l.Fingers, l.Strings))],
    };

    /// <summary>Writes the decisions back into a row.</summary>
    public void PutInto(LadderChoice choice)
    {
        (choice.Capo, choice.Tuning, choice.Strings, choice.CapoUp, choice.CapoIsOfShapes, choice.CapoBefore) =
            (Capo, Tuning, Strings, CapoUp, CapoIsOfShapes, CapoBefore);
        (choice.Voice, choice.Tune, choice.Aim, choice.Accompaniment, choice.Wishes) = (Voice, Tune, Aim, Accompaniment, Wishes);
    }

    /// <summary>The shapes as rows of a ladder.</summary>
    public IEnumerable<LockedShape> Rows(Guid song, Guid student) => Shapes.Select(s => new LockedShape
    {
        SongId = song, StudentId = student, Rung = s.Rung, Chord = s.Chord, ShapeTonic = s.ShapeTonic, Capo = s.Capo,
        Tuning = s.Tuning, Strings = s.Strings, Frets = s.Frets, Fingers = s.Fingers,
    });

    public string ToJson() => JsonSerializer.Serialize(this);

    public static LadderSnapshot Read(string json) => JsonSerializer.Deserialize<LadderSnapshot>(json) ?? Untouched;
}

/// <summary>What a step on a ladder changed beyond it: what came to, and went from, the wishes for the student or for the
/// studio.</summary>
/// <param name="ForStudio">True for the studio, false for the student.</param>
/// <param name="Came">Wishes that came.</param>
/// <param name="Went">Wishes that went.</param>
public sealed record WiderChange(bool ForStudio, TeacherWishes Came, TeacherWishes Went)
{
    public string ToJson() => JsonSerializer.Serialize(new[] { ForStudio ? "studio" : "student", Came.ToJson(), Went.ToJson() });

    /// <summary>Reads what <see cref="ToJson"/> wrote; null for an empty text.</summary>
    public static WiderChange? Read(string json) =>
        json.Length > 0 && JsonSerializer.Deserialize<string[]>(json) is [var scope, var came, var went]
            ? new WiderChange(scope == "studio", TeacherWishes.Read(came), TeacherWishes.Read(went))
            : null;

    /// <summary>The part of the change that changes anything: what comes and is not there yet, and what goes and is there. Going
    /// back then leaves what was there before.</summary>
    public WiderChange On(TeacherWishes now) =>
        this with { Came = Came.Without(now.Without(Went)), Went = Went.Without(Went.Without(now)) };

    /// <summary>True when nothing comes and nothing goes.</summary>
    public bool IsEmpty => Came.IsEmpty && Went.IsEmpty;

    /// <summary>The wishes after the step.</summary>
    public TeacherWishes Do(TeacherWishes wishes) => wishes.Without(Went).With(Came);

    /// <summary>The wishes as they were before the step, whatever else was wished for meanwhile.</summary>
    public TeacherWishes Undo(TeacherWishes wishes) => wishes.Without(Came).With(Went);
}
