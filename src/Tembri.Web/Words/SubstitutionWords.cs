using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Web.Words;

/// <summary>Says what is done to a chord and why, under the names of notes in use.</summary>
internal static class SubstitutionWords
{
    /// <summary>The name of a kind of substitution.</summary>
    public static string Name(SubstitutionKind kind) => kind switch
    {
        SubstitutionKind.None => "as recorded",
        SubstitutionKind.OtherFingering => "other fingering",
        SubstitutionKind.FewerStrings => "fewer strings",
        SubstitutionKind.DropBass => "drop slash bass",
        SubstitutionKind.DropExtension => "drop extension",
        SubstitutionKind.ColourRelative => "colour relative",
        SubstitutionKind.SharedTones => "shared tones",
        _ => "power chord",
    };

    /// <summary>Why a chord of a rung is played as it is, in one or two sentences.</summary>
    public static string Say(RungChord chord, NoteNames names)
    {
        var why = Say(chord.Choice, chord.ShapeChord, chord.Guard, names);
        if (!chord.IsSecond) return why;
        return chord.Before is { } next
            ? $"Before {next.Named(names).Name}, because the change is quicker. {why}"
            : $"At the end, because the change is quicker. {why}";
    }

    /// <summary>Why a candidate stands for a chord.</summary>
    /// <param name="choice">What is played.</param>
    /// <param name="asked">The chord of the record, at the pitch of the shapes.</param>
    /// <param name="guard">What the chart says about the chord.</param>
    /// <param name="names">Names of notes in use.</param>
    public static string Say(Candidate choice, Chord asked, Guard guard, NoteNames names)
    {
        var (closeness, name, played) = (choice.Closeness, asked.Named(names).Name, choice.Played.Named(names).Name);
        var lost = Lost(closeness, asked, names);
        return choice.Kind switch
        {
            SubstitutionKind.None when closeness.Missing.Count == 0 => $"{name} as the record has it.",
            SubstitutionKind.None => $"{name} in its usual shape.{lost}",
            SubstitutionKind.OtherFingering => "The same shape with other fingers, for the changes around it.",
            SubstitutionKind.FewerStrings => $"The same chord on fewer strings: {ShapeWords.Say(choice.Origin, names)}.{lost}",
            SubstitutionKind.DropBass => $"The bass {asked.Bass?.Named(names)} is left off.{WithoutBass(guard, closeness)}",
            SubstitutionKind.DropExtension => $"{played} leaves off what colours {name} and keeps its root.{lost}",
            SubstitutionKind.ColourRelative => $"{played} has the notes of {name} and {Added(asked, closeness, names)}.{lost}",
            SubstitutionKind.SharedTones => $"{played} is the upper part of {name}.{lost}",
            _ => $"Only root and fifth; the record or the voice brings the rest.{lost}",
        };
    }

    private static string Lost(ClosenessReport closeness, Chord asked, NoteNames names) => closeness.Missing.Count switch
    {
        0 => "",
        1 => $" {Notes(closeness.Missing, asked, names)} is not heard.",
        _ => $" {Notes(closeness.Missing, asked, names)} are not heard.",
    };

    private static string Notes(IEnumerable<Degree> degrees, Chord chord, NoteNames names) =>
        Lists.And(degrees.Select(d => chord.Root.MoveFifths(d.Fifths).Named(names).ToString()));

    private static string WithoutBass(Guard guard, ClosenessReport closeness)
    {
        if (guard.StepwiseBass) return " The bass moves by step here, so the line is lost unless someone else plays it.";
        return closeness.WrongBass ? " Someone else may play it." : "";
    }

    private static string Added(Chord asked, ClosenessReport closeness, NoteNames names)
    {
        var key = new Key(asked.Root, asked.IsMinor);
        var notes = Enumerable.Range(0, 12).Where(p => (closeness.ForeignMask & 1 << p) != 0).Select(p => key.Spell(p).Named(names).ToString()).ToList();
        return notes.Count == 0 ? "nothing more" : $"{Lists.And(notes)} besides";
    }
}
