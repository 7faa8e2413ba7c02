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
    /// <summary>What is done to a chord, in a few words.</summary>
    /// <param name="c">What is played.</param>
    /// <param name="asked">The chord of the record, at the pitch of the shapes; null when it is not to be named.</param>
    public static string Name(Candidate c, Chord? asked = null) => c.Kind switch
    {
        SubstitutionKind.None when c.Origin is null => "your own shape",
        SubstitutionKind.None => "as recorded",
        SubstitutionKind.OtherFingering => "other fingering",
        SubstitutionKind.FewerStrings => HasFewer(c) ? "fewer strings" : "an open string",
        SubstitutionKind.DropBass => "without its bass",
        SubstitutionKind.DropExtension => Without(c.Played, asked),
        SubstitutionKind.ColourRelative => "with an added note",
        SubstitutionKind.Own => "your own",
        var kind => Name(kind),
    };

    /// <summary>A kind of substitution, in a few words.</summary>
    public static string Name(SubstitutionKind kind) => kind switch
    {
        SubstitutionKind.None => "as recorded",
        SubstitutionKind.OtherFingering => "other fingering",
        SubstitutionKind.FewerStrings => "fewer strings",
        SubstitutionKind.DropBass => "without its bass",
        SubstitutionKind.DropExtension => "without extensions",
        SubstitutionKind.ColourRelative => "with an added note",
        SubstitutionKind.SharedTones => "with shared notes",
        SubstitutionKind.PowerChord => "power chord",
        _ => "your own",
    };

    /// <summary>What speaks against a chord that the teacher wants.</summary>
    public static string Against(Chord asked, Chord played, IReadOnlyList<GuardBreak> breaks, NoteNames names)
    {
        var (name, other) = (asked.Named(names).Name, played.Named(names).Name);
        return string.Join(" ", breaks.Select(b => b switch
        {
            GuardBreak.NothingResolves => $"{name} resolves a suspension; {other} would leave it hanging.",
            GuardBreak.NoLeadingTone => $"{name} leads home, and {other} does not have its leading tone.",
            GuardBreak.HomeAsksToGoOn => $"{name} is home; {other} would ask to go on.",
            GuardBreak.BrokenInnerLine => $"An inner line moves through {name} by semitones, and {other} breaks it.",
            GuardBreak.BrokenBassLine => $"The bass moves by step through {name}; {other} breaks the line.",
            _ => $"{other} keeps fewer than half of the notes of {name}.",
        }));
    }

    /// <summary>What a plainer chord leaves off, by the names of its degrees.</summary>
    private static string Without(Chord played, Chord? asked)
    {
        if (asked is null) return "plainer";
        var gone = asked.Degrees.Where(d => d.Number > 5 && played.Degrees.All(p => p.Number != d.Number)).Select(d => d.Number)
            .Distinct().Order()
            .Select(n => n switch
            {
                6 => "the sixth",
                7 => "the seventh",
                9 => "the ninth",
                11 => "the eleventh",
                13 => "the thirteenth",
                _ => "its colour"
            }).Distinct().ToList();
        return gone.Count == 0 ? "plainer" : $"without {Lists.And(gone)}";
    }

    private static bool HasFewer(Candidate c) =>
        c.Origin?.Grip is not { } grip || c.Fingering.Shape.Sounding < grip.Shape.Sounding;

    /// <summary>Why a chord of a rung is played as it is, in one or two sentences.</summary>
    public static string Say(PlayedChord chord, NoteNames names)
    {
        var why = Say(chord.Choice, chord.ShapeChord, chord.Guard, names);
        if (chord.Choice.Wanted)
            why =
                $"{chord.Choice.Played.Named(names).Name} because you want "
                    + $"it{(chord.Reason is { Length: > 0 } reason ? $": {reason.TrimEnd('.')}" : "")}.{Lost(chord.Choice, chord.ShapeChord, names)}{AgainstIt(chord, names)}";
        if (chord.OwnGrip is { } grip) why += chord.SavedSeconds > 0.005
            ? string.Create(System.Globalization.CultureInfo.InvariantCulture,
                $" You usually play {grip.Fingering.Shape}; this saves {chord.SavedSeconds:0.0} s of changing in the song.")
            : $" You usually play {grip.Fingering.Shape}; this one is lighter or closer here.";
        if (!chord.IsSecond) return why;
        return chord.Before is { } next
            ? $"Before {next.Named(names).Name}, because the change is quicker. {why}"
            : $"At the end, because the change is quicker. {why}";
    }

    /// <summary>What the chart says against a chord the teacher wants all the same.</summary>
    private static string AgainstIt(PlayedChord chord, NoteNames names) =>
        GuardBreaks.Of(chord.Guard, chord.ShapeChord, chord.Choice.Played) is { Count: > 0 } breaks
            ? " " + Against(chord.ShapeChord, chord.Choice.Played, breaks, names)
            : "";

    /// <summary>Why a candidate stands for a chord.</summary>
    /// <param name="choice">What is played.</param>
    /// <param name="asked">The chord of the record, at the pitch of the shapes.</param>
    /// <param name="guard">What the chart says about the chord.</param>
    /// <param name="names">Names of notes in use.</param>
    public static string Say(Candidate choice, Chord asked, Guard guard, NoteNames names)
    {
        var (closeness, name, played) = (choice.Closeness, asked.Named(names).Name, choice.Played.Named(names).Name);
        var lost = Lost(choice, asked, names);
        var origin = ShapeWords.Say(choice.Origin, choice.Fingering.Shape, names);
        return choice.Kind switch
        {
            SubstitutionKind.None when choice.Origin is null =>
                "A shape of your own for "
                    + $"{name}.{lost}{(closeness.ForeignMask == 0 ? "" : $" It adds {Added(asked, closeness, names).Replace(" besides", "", StringComparison.Ordinal)}.")}",
            SubstitutionKind.None when lost.Length == 0 => $"{name} as the record has it.",
            SubstitutionKind.None => $"{name} in a usual shape.{lost}",
            SubstitutionKind.OtherFingering => "The same shape with other fingers, for the changes around it.",
            SubstitutionKind.FewerStrings when HasFewer(choice) => $"The same chord on fewer strings: {origin}.{lost}",
            SubstitutionKind.FewerStrings => $"The same chord with an open string: {origin}.{lost}",
            SubstitutionKind.DropBass =>
                $"The bass {asked.Bass?.Named(names)} is left "
                    + $"off.{WithoutBass(guard)}{Lost(choice, asked, names, withBass: false)}",
            SubstitutionKind.DropExtension =>
                $"{played} leaves off what colours "
                    + $"{name}{(Sounds(choice, asked.Root.PitchClass) ? " and keeps its root" : "")}.{lost}",
            SubstitutionKind.ColourRelative when closeness.Missing.Count == 0 =>
                $"{played} has the notes of {name} and {Added(asked, closeness, names)}.{lost}",
            SubstitutionKind.ColourRelative => $"{played} colours {name} with {Added(asked, closeness, names)}.{lost}",
            SubstitutionKind.SharedTones when (choice.Played.PitchClassMask & ~asked.WithoutBass().PitchClassMask) == 0 =>
                $"{played} is the upper part of {name}.{lost}",
            SubstitutionKind.Own => $"{played} stands for {name}, as you have it.{lost}",
            SubstitutionKind.SharedTones => $"{played} shares {Shared(choice.Played, asked, names)} with {name}.{lost}",
            _ => $"Only root and fifth; the record or the voice brings the rest.{lost}",
        };
    }

    /// <summary>What of a chord is not heard, and what is heard besides.</summary>
    public static string Heard(ClosenessReport closeness, Chord asked, NoteNames names)
    {
        var missing = closeness.Missing.Select(d => asked.Root.MoveFifths(d.Fifths).Named(names).ToString()).ToList();
        var words = missing.Count switch
        {
            0 => " All of its notes are heard.",
            1 => $" {missing[0]} is not heard.",
            _ => $" {Lists.And(missing)} are not heard."
        };
        if (closeness.ForeignMask != 0)
            words += $" Foreign: {Added(asked, closeness, names).Replace(" besides", "", StringComparison.Ordinal)}.";
        if (closeness.WrongBass) words += $" {(asked.Bass ?? asked.Root).Named(names)} is not in the bass.";
        return words;
    }

    private static bool Sounds(Candidate choice, int pitchClass) => (choice.Sound & 1 << pitchClass) != 0;

    private static string Lost(Candidate choice, Chord asked, NoteNames names, bool withBass = true)
    {
        var missing = choice.Closeness.Missing;
        var bass = (asked.Bass ?? asked.Root).Named(names).ToString();
        var notes = missing.Select(d => asked.Root.MoveFifths(d.Fifths).Named(names).ToString()).ToList();
        var words =
            notes.Count switch { 0 => "", 1 => $" {notes[0]} is not heard.", _ => $" {Lists.And(notes)} are not heard." };
        return withBass && choice.Closeness.WrongBass && !notes.Contains(bass) ? $"{words} {bass} is not in the bass." : words;
    }

    private static string Shared(Chord played, Chord asked, NoteNames names) =>
        Lists.And(asked.Degrees.Where(d => played.Has((asked.Root.PitchClass + d.Semitones - played.Root.PitchClass + 24) % 12))
            .Select(d => asked.Root.MoveFifths(d.Fifths).Named(names).ToString()));

    private static string WithoutBass(Guard guard) =>
        guard.StepwiseBass
            ? " The bass moves by step here, so the line is lost unless someone else plays it."
            : " Someone else may play it.";

    private static string Added(Chord asked, ClosenessReport closeness, NoteNames names)
    {
        var key = new Key(asked.Root, asked.IsMinor);
        var notes = Enumerable.Range(0, 12).Where(p => (closeness.ForeignMask & 1 << p) != 0)
            .Select(p => key.Spell(p).Named(names).ToString()).ToList();
        return notes.Count == 0 ? "nothing more" : $"{Lists.And(notes)} besides";
    }
}
