using Tembri.Core.Music;

namespace Tembri.Core.Chords;

/// <summary>A chord: a root, an ordered set of degrees, and a bass note when it is not the root.</summary>
/// <remarks>Two chords are equal when they are written the same, spelling included, and looked at in the same section.</remarks>
public sealed class Chord : IEquatable<Chord>
{
    /// <summary>The root.</summary>
    public Note Root { get; }

    /// <summary>The kind as written after the root, with real accidentals: <c>""</c>, <c>m7♭5</c>, <c>maj9</c>.</summary>
    public string Kind { get; }

    /// <summary>The degrees from the root upward.</summary>
    public IReadOnlyList<Degree> Degrees { get; }

    /// <summary>The bass note, when the symbol names one.</summary>
    public Note? Bass { get; }

    /// <summary>Bit n is set when pitch class n belongs to the chord, the bass included.</summary>
    public int PitchClassMask { get; }

    /// <summary>Makes a chord.</summary>
    /// <exception cref="ArgumentException">No degrees are given.</exception>
    public Chord(Note root, string kind, IReadOnlyList<Degree> degrees,
        Note? bass = null) : this(root, kind, degrees, bass, null)
    {
    }

    private Chord(Note root, string kind, IReadOnlyList<Degree> degrees, Note? bass, string? section)
    {
        if (degrees.Count == 0) throw new ArgumentException("A chord has at least one degree.", nameof(degrees));
        Root = root;
        Kind = kind;
        Degrees = degrees;
        Bass = bass is { } b && b.PitchClass == root.PitchClass ? null : bass;
        Section = section;
        Name = Bass is { } under ? $"{Root}{Kind}/{under}" : $"{Root}{Kind}";
        PitchClassMask = degrees.Aggregate(0, (mask, d) => mask | 1 << (root.PitchClass + d.Semitones) % 12);
        if (Bass is { } bassNote) PitchClassMask |= 1 << bassNote.PitchClass;
    }

    /// <summary>Pitch classes of the degrees, in their order, 0 to 11 from C.</summary>
    public IReadOnlyList<int> PitchClasses => [.. Degrees.Select(d => (Root.PitchClass + d.Semitones) % 12)];

    /// <summary>The pitch class that should sound lowest.</summary>
    public int BassPitchClass => (Bass ?? Root).PitchClass;

    /// <summary>The chord on the record's name: <c>F♯m7♭5/C</c>.</summary>
    public string Name { get; }

    /// <summary>The section in which the chord is looked at by itself, apart from where else the song plays it; null for the
    /// chord wherever it comes.</summary>
    public string? Section { get; }

    /// <summary>The same chord, looked at by itself in a section.</summary>
    public Chord ApartIn(string? section) => section == Section ? this : new Chord(Root, Kind, Degrees, Bass, section);

    /// <summary>The chord as a degree of a key, spelling aside: the same text for the same chord when song and key are moved
    /// together, such as <c>7:m7</c> or <c>0:/4</c>.</summary>
    /// <remarks>Semitones of the root above the tonic, the kind, semitones of a slash bass above the tonic, and after an @ the
    /// section it is looked at in.</remarks>
    public string DegreeIn(Key key)
    {
        int Above(Note note) => Note.Modulo(note.PitchClass - key.Tonic.PitchClass, 12);
        return string.Create(System.Globalization.CultureInfo.InvariantCulture,
            $"{Above(Root)}:{Kind}{(Bass is { } bass ? $"/{Above(bass)}" : "")}{(Section is null ? "" : $"@{Section}")}");
    }

    /// <summary>The chord a degree stands for in a key; the other direction of <see cref="DegreeIn"/>. Null when the text is no
    /// degree.</summary>
    public static Chord? OfDegree(string degree, Key key)
    {
        var at = degree.IndexOf('@', StringComparison.Ordinal);
        var section = at < 0 ? null : degree[(at + 1)..];
        var (text, colon) = (at < 0 ? degree : degree[..at], degree.IndexOf(':', StringComparison.Ordinal));
        if (colon < 0 || colon > text.Length || !int.TryParse(text.AsSpan(0, colon), out var root)) return null;
        var kind = text[(colon + 1)..];
        Note? bass = null;
        if (kind.LastIndexOf('/') is >= 0 and var slash && int.TryParse(kind.AsSpan(slash + 1), out var under)
            && !(TryParse($"C{kind}", out var whole) && whole!.Kind == kind && whole.Bass is null))
            (kind, bass) = (kind[..slash], key.Spell(Note.Modulo(key.Tonic.PitchClass + under, 12)));
        if (!TryParse($"C{kind}", out var model)) return null;
        return new Chord(key.Spell(Note.Modulo(key.Tonic.PitchClass + root, 12)), kind, model!.Degrees, bass, section);
    }

    /// <summary>The degree a pitch class has in this chord, or null when it is foreign to it.</summary>
    public Degree? DegreeOf(int pitchClass)
    {
        foreach (var degree in Degrees)
            if ((Root.PitchClass + degree.Semitones) % 12 == pitchClass) return degree;
        return null;
    }

    /// <summary>True when the chord has a minor third and no major third.</summary>
    public bool IsMinor => Has(3) && !Has(4);

    /// <summary>True when the chord is a dominant: major third (or suspended fourth) with a minor seventh.</summary>
    public bool IsDominant => Has(10) && (Has(4) || Has(5) && !Has(3));

    /// <summary>True for a diminished seventh, whose four tones divide the octave evenly: it is the same chord on each of
    /// them.</summary>
    public bool IsDiminishedSeventh => Degrees.Count == 4 && Has(3) && Has(6) && Has(9);

    /// <summary>True when a second or fourth stands in for the third.</summary>
    public bool IsSuspended => !Has(3) && !Has(4) && Degrees.Any(d => d.Role == DegreeRole.ThirdOrSuspension);

    /// <summary>True when the tone this many semitones above the root belongs to the chord.</summary>
    public bool Has(int semitones)
    {
        for (var i = 0; i < Degrees.Count; i++) if (Degrees[i].Semitones == semitones) return true;
        return false;
    }

    /// <summary>The same chord moved along the line of fifths, bass included.</summary>
    public Chord MoveFifths(int fifths) =>
        fifths == 0 ? this : new Chord(Root.MoveFifths(fifths), Kind, Degrees, Bass?.MoveFifths(fifths), Section);

    /// <summary>The same chord moved from one key to another, spelt as the new key asks.</summary>
    public Chord Transpose(Key from, Key to) => MoveFifths(from.FifthsTo(to));

    /// <summary>The chord without its slash bass.</summary>
    public Chord WithoutBass() => Bass is null ? this : new Chord(Root, Kind, Degrees);

    /// <inheritdoc/>
    public bool Equals(Chord? other) => other is not null && Name == other.Name && Section == other.Section;

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as Chord);

    /// <inheritdoc/>
    public override int GetHashCode() => Name.GetHashCode(StringComparison.Ordinal);

    /// <inheritdoc/>
    public override string ToString() => Name;

    /// <summary>Reads a symbol; see <see cref="ChordReader"/>.</summary>
    /// <exception cref="FormatException">The text is not a chord symbol.</exception>
    public static Chord Parse(string text) =>
        ChordReader.Read(text) is { Chord: { } chord } ? chord : throw new FormatException(ChordReader.Read(text).Error);

    /// <summary>Reads a symbol; false when it is not one.</summary>
    public static bool TryParse(string text, out Chord? chord)
    {
        chord = ChordReader.Read(text).Chord;
        return chord is not null;
    }
}
