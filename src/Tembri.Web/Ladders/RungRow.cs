using System.ComponentModel.DataAnnotations;
using Tembri.Core.Arranging;
using Tembri.Core.Substitutions;
using Tembri.Core.Wishes;

namespace Tembri.Web.Ladders;

/// <summary>A rung as a form has it.</summary>
public sealed class RungRow
{
    public const int LongestName = 30;

    /// <summary>Kinds of substitution a rung may take or not.</summary>
    public static readonly IReadOnlyList<SubstitutionKind> AllKinds =
        [SubstitutionKind.FewerStrings, SubstitutionKind.DropBass, SubstitutionKind.DropExtension,
            SubstitutionKind.ColourRelative, SubstitutionKind.SharedTones, SubstitutionKind.PowerChord];

    public int Number { get; set; }
    [StringLength(LongestName, ErrorMessage = "A rung's name has at most 30 letters.")] public string? Name { get; set; }
    [Range(1, 4, ErrorMessage = "Fingers are 1 to 4.")] public int Fingers { get; set; }
    [Range(1, 6, ErrorMessage = "A barre lies over 2 to 6 strings; 1 is none.")] public int Barre { get; set; }
    public bool Thumb { get; set; }
    [Range(1, 6, ErrorMessage = "Strings are 1 to 6.")] public int Strings { get; set; }
    [Range(1, 12, ErrorMessage = "The highest fret is 1 to 12.")] public int? Fret { get; set; }
    [Range(10, 100, ErrorMessage = "The highest load is 10 to 100.")] public int Load { get; set; }
    [Range(0, 100, ErrorMessage = "The lowest closeness is 0 to 100 %.")] public int Closeness { get; set; }
    public List<SubstitutionKind> Kinds { get; set; } = [];
    [Range(0, 5, ErrorMessage = "The strum is one of rungs 1 to 5, or 0 for a hand that swings freely.")]
    public int RightHand { get; set; }
    public bool LeftOut { get; set; }

    /// <summary>A rung as it is.</summary>
    public static RungRow From(RungLimits limits, bool leftOut = false) => new()
    {
        Number = limits.Number, Name = limits.Name, Fingers = limits.MostFingers, Barre = limits.LongestBarre,
        Thumb = limits.Thumb, Strings = limits.FewestStrings, Fret = limits.HighestFret,
        Load = (int)Math.Round(limits.LoadCeiling), Closeness = (int)Math.Round(100 * limits.ClosenessFloor),
        Kinds = [.. AllKinds.Where(limits.Substitutions.Contains)], RightHand = limits.StrumRung, LeftOut = leftOut,
    };

    /// <summary>What is different from a rung; null when nothing is.</summary>
    /// <param name="usual">The rung without the wish.</param>
    /// <param name="before">The wish that held before: what no field shows stays.</param>
    /// <param name="usuallyLeftOut">True when the rung is left out without the wish.</param>
    public RungWish? ToWish(RungLimits usual, RungWish? before, bool usuallyLeftOut = false)
    {
        var was = From(usual);
        var wish = new RungWish(Number)
        {
            AimsAtLoad = before?.AimsAtLoad, LeftOut = LeftOut == usuallyLeftOut ? null : LeftOut,
            Name = string.IsNullOrWhiteSpace(Name) || Name.Trim() == usual.Name ? null : Name.Trim(),
            MostFingers = Fingers == was.Fingers ? null : Fingers, LongestBarre = Barre == was.Barre ? null : Barre,
            Thumb = Thumb == was.Thumb ? null : Thumb,
            FewestStrings = Strings == was.Strings ? null : Strings, HighestFret = Fret == was.Fret ? null : Fret ?? 12,
            LoadCeiling = Load == was.Load ? null : Load, ClosenessFloor = Closeness == was.Closeness ? null : Closeness / 100.0,
            Substitutions = Kinds.Order().SequenceEqual(was.Kinds.Order())
                ? null
                : [SubstitutionKind.None, SubstitutionKind.OtherFingering, .. AllKinds.Where(Kinds.Contains)],
            RightHand = RightHand == was.RightHand ? null : RightHand,
        };
        return wish == new RungWish(Number) ? null : wish;
    }
}

/// <summary>The fields of a rung on a page.</summary>
/// <param name="Index">Its place in the form.</param>
/// <param name="Row">What stands in the fields.</param>
/// <param name="UsualName">Its name without a wish.</param>
/// <param name="Ladder">The ladder whose chords explain the limits; null where there is none.</param>
/// <param name="Forbidden">What each limit keeps out of the song; null where there is none.</param>
internal sealed record RungFields(int Index, RungRow Row, string UsualName, Core.Ladders.Ladder? Ladder,
    IReadOnlyDictionary<RungLimit, IReadOnlyList<(int Chord, Candidate Shape)>>? Forbidden)
{
    /// <summary>What a limit keeps out, in words; empty when it keeps out nothing.</summary>
    public string Kept(RungLimit limit, Core.Music.NoteNames names)
    {
        if (Ladder is null || Forbidden?.GetValueOrDefault(limit) is not { Count: > 0 } shapes) return "";
        var words = shapes.Take(MostNamed)
            .Select(x =>
                $"{Core.Chords.ChordNaming.Named(Ladder.Flow.Chords[x.Chord].Transpose(Ladder.Chart.Key, Ladder.ShapeKey), names).Name} "
                    + $"{x.Shape.Fingering.Shape}");
        return $"keeps out {string.Join(", ", words)}{(shapes.Count > MostNamed ? $" and {shapes.Count - MostNamed} more" : "")}";
    }

    private const int MostNamed = 3;
}
