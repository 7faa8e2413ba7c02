using System.Collections.Frozen;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Substitutions;

/// <summary>Finds the chords that can stand in for a chord.</summary>
public static class SubstitutionFinder
{
    private static readonly string[] MajorRelatives = ["maj7", "add9", "6", "sus2", "sus4", "7"];
    private static readonly string[] MinorRelatives = ["m7", "m(add9)"];

    // The kinds that stand in for others, on C.
    private static readonly FrozenDictionary<string, Chord> Models = new[]
    {
        "", "5", "6", "7", "9", "maj7", "maj9", "add9", "sus2", "sus4", "7sus4", "+", "7#5", "m", "m6", "m7", "m9", "m(add9)",
        "m(maj7)", "dim", "dim7", "m7b5",
    }.ToFrozenDictionary(k => k, OnC);

    /// <summary>The chord itself and every chord that can stand in for it, the least intrusive first; each chord once.</summary>
    public static IReadOnlyList<Substitution> For(Chord chord)
    {
        var substitutions = new List<Substitution> { new(SubstitutionKind.None, chord) };
        void Add(SubstitutionKind kind, Chord other)
        {
            if (substitutions.All(s => !SameSound(s.Chord, other))) substitutions.Add(new(kind, other));
        }
        var plain = chord.WithoutBass();
        if (chord.Bass is not null) Add(SubstitutionKind.DropBass, plain);
        foreach (var simpler in Simpler(plain))
        {
            if (chord.Bass is { } bass)
                Add(SubstitutionKind.DropExtension, new Chord(simpler.Root, simpler.Kind, simpler.Degrees, bass));
            Add(SubstitutionKind.DropExtension, simpler);
        }
        foreach (var kind in Relatives(plain))
        {
            if (chord.Bass is { } bass) Add(SubstitutionKind.ColourRelative, Make(chord.Root, kind, bass));
            Add(SubstitutionKind.ColourRelative, Make(chord.Root, kind));
        }
        if (SharedTones(plain) is { } shared) Add(SubstitutionKind.SharedTones, shared);
        if (plain.Has(7)) Add(SubstitutionKind.PowerChord, Make(chord.Root, "5"));
        return substitutions;
    }

    private static bool SameSound(Chord a, Chord b) =>
        a.PitchClassMask == b.PitchClassMask && a.BassPitchClass == b.BassPitchClass && a.Root.PitchClass == b.Root.PitchClass;

    private static Chord Make(Note root, string kind, Note? bass = null)
    {
        var model = Models.GetValueOrDefault(kind) ?? OnC(kind);
        return new Chord(root, model.Kind, model.Degrees, bass);
    }

    private static Chord OnC(string kind) => Chord.Parse("C" + kind);

    /// <summary>The chord without its colours, then without its seventh as well.</summary>
    private static IEnumerable<Chord> Simpler(Chord chord)
    {
        var degrees = chord.Degrees;
        if (degrees.Any(d => d.Role == DegreeRole.Colour) && degrees.Any(d => d.Role == DegreeRole.Seventh))
            yield return Named(chord.Root, [.. degrees.Where(d => d.Role != DegreeRole.Colour)]);
        if (degrees.Any(d => d.Role is DegreeRole.Colour or DegreeRole.Seventh))
            yield return Named(chord.Root, [.. degrees.Where(d => d.Role is not (DegreeRole.Colour or DegreeRole.Seventh))]);
        if (chord.IsDominant && degrees.Any(d => d.Role == DegreeRole.AlteredFifth)) yield return Make(chord.Root, "7");
        // An augmented chord is heard as its plain triad with a fifth on its way.
        if (chord.Has(4) && chord.Has(8) && !chord.Has(7)) yield return Make(chord.Root, "");
    }

    private static Chord Named(Note root, IReadOnlyList<Degree> degrees)
    {
        bool Has(int semitones) => degrees.Any(d => d.Semitones == semitones);
        var minor = Has(3) && !Has(4);
        var kind = minor ? Has(6) && !Has(7) ? "dim" : "m"
            : Has(4) ? Has(8) && !Has(7) ? "+" : ""
            : Has(5) ? "sus4"
            : Has(2) ? "sus2"
            : "5";
        if (degrees.Any(d => d.Role == DegreeRole.Seventh))
        {
            var seventh = degrees.First(d => d.Role == DegreeRole.Seventh).Semitones;
            kind = (kind, seventh) switch
            {
                ("m", 11) => "m(maj7)",
                ("", 11) => "maj7",
                ("dim", 10) => "m7b5",
                ("dim", 9) => "dim7",
                ("sus4", 10) => "7sus4",
                ("+", 10) => "7#5",
                (_, 9) => kind + "6",
                (_, 10) => kind + "7",
                _ => "maj7",
            };
        }
        return Make(root, kind);
    }

    private static string[] Relatives(Chord chord)
    {
        var triad = chord.Degrees.Count == 3;
        if (chord.Has(4) && triad && chord.Has(7)) return MajorRelatives;
        if (chord.Has(3) && triad && chord.Has(7)) return MinorRelatives;
        if (chord.IsDominant && chord.Has(4)) return chord.Has(2) ? ["6"] : ["9", "7sus4", "6"];
        if (chord.Has(4) && chord.Has(11)) return ["6", "add9", "maj9"];
        if (chord.IsSuspended) return chord.Has(5) ? ["7sus4", "sus2"] : ["add9", "sus4"];
        if (chord.Has(3) && chord.Has(10) && chord.Has(7)) return ["m(add9)", "m9"];
        if (chord.Has(3) && chord.Has(6) && !chord.Has(7)) return ["dim7", "m7b5"];
        return [];
    }

    /// <summary>The chord on the third: its notes are the upper notes of the first.</summary>
    private static Chord? SharedTones(Chord chord)
    {
        // A diminished chord is the upper part of the dominant a major third below.
        if (chord.IsMinor && chord.Has(6) && !chord.Has(7)) return Make(chord.Root.MoveFifths(-4), "7");
        if (chord.IsMinor && chord.Has(7)) return Make(chord.Root.MoveFifths(-3), "");
        if (chord.Has(4) && chord.Has(11)) return Make(chord.Root.MoveFifths(4), "m");
        if (chord.Has(4) && chord.Has(7) && chord.Has(9) && !chord.Has(10)) return Make(chord.Root.MoveFifths(3), "m");
        if (chord.IsDominant && chord.Has(4)) return Make(chord.Root.MoveFifths(4), "dim");
        return null;
    }
}
