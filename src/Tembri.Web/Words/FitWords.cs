using System.Globalization;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Students;

namespace Tembri.Web.Words;

/// <summary>Says how a version fits a student.</summary>
internal static class FitWords
{
    /// <summary>The main thing that stands in the way, in one line.</summary>
    public static string Say(FitReason reason, NoteNames names)
    {
        string Name(string chord) =>
            chord.StartsWith("figure of ", StringComparison.Ordinal) ? $"The {chord}"
                : names == NoteNames.AsKey ? chord
                : Chord.Parse(chord).Named(names).Name;
        return reason switch
        {
            StrumIsHard r => $"The strum asks {Whole(r.Load)} of the right hand, the skill is {Whole(r.Skill)}.",
            WithinReach r => $"Every shape and change is within reach at {Whole(r.Tempo)}.",
            ChangeIsLate r =>
                $"The change {Name(r.From)} → {Name(r.To)} needs {Tenths(r.NeededSeconds)} s, there are "
                    + $"{Tenths(r.AvailableSeconds)} s at {Whole(r.Tempo)}.",
            ShapeIsHard { NotCleanYet: true } r =>
                $"{Name(r.Chord)} itself is not clean yet, at any tempo: it asks {Whole(r.Asked)} of {Say(r.Technique)}, the "
                    + $"skill is {Whole(r.Skill)}.",
            ShapeIsHard r => $"{Name(r.Chord)} asks {Whole(r.Asked)} of {Say(r.Technique)}, the skill is {Whole(r.Skill)}.",
            _ => throw new ArgumentOutOfRangeException(nameof(reason), reason, "There are no words for this reason."),
        };
    }

    /// <summary>A verdict in a word; <c>blocked</c> for none.</summary>
    public static string Say(Verdict? verdict) => verdict?.ToString().ToLowerInvariant() ?? "blocked";

    private static string Say(Technique technique) => technique switch
    {
        Technique.Fingers => "the fingers",
        Technique.Stretch => "the stretch",
        Technique.ShortBarre => "the short barre",
        Technique.FullBarre => "the full barre",
        Technique.Muting => "muting",
        Technique.Thumb => "the thumb",
        _ => technique.ToString(),
    };

    private static string Whole(double value) => value.ToString("0", CultureInfo.InvariantCulture);

    private static string Tenths(double value) => value.ToString("0.0", CultureInfo.InvariantCulture);
}
