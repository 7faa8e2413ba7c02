namespace Tembri.Core.Music;

/// <summary>A major or minor key; it decides how pitches are spelt.</summary>
/// <param name="Tonic">The key note.</param>
/// <param name="IsMinor">True for a minor key.</param>
public readonly record struct Key(Note Tonic, bool IsMinor)
{
    private static readonly int[] MajorTonics = [0, -5, 2, -3, 4, -1, 6, 1, -4, 3, -2, 5];
    private static readonly int[] MinorTonics = [0, 7, 2, -3, 4, -1, 6, 1, 8, 3, -2, 5];

    /// <summary>Sharps (positive) or flats (negative) in the key signature.</summary>
    public int Signature => Tonic.Fifths - (IsMinor ? 3 : 0);

    /// <summary>Spells a pitch class as this key writes it: its own scale first, then the usual chromatic notes.</summary>
    public Note Spell(int pitchClass)
    {
        var low = IsMinor ? Signature - 3 : Signature - 5;
        var fifths = low + Note.Modulo(Note.Modulo(pitchClass, 12) * 7 - low, 12);
        return new Note(Note.C.Fifths).MoveFifths(fifths);
    }

    /// <summary>The key this many semitones higher, with the tonic spelling that needs fewest accidentals.</summary>
    public Key Transpose(int semitones)
    {
        if (Note.Modulo(semitones, 12) == 0) return this;
        var tonic = Note.Modulo(Tonic.PitchClass + semitones, 12);
        return new Key(new Note((IsMinor ? MinorTonics : MajorTonics)[tonic]), IsMinor);
    }

    /// <summary>Steps on the line of fifths from this key to another; adding it to a note moves the note with the key.</summary>
    public int FifthsTo(Key other) => other.Tonic.Fifths - Tonic.Fifths;

    /// <summary>Reads <c>E♭</c>, <c>Eb major</c>, <c>C#m</c>, <c>A minor</c>.</summary>
    public static bool TryParse(string? text, out Key key)
    {
        key = default;
        var trimmed = text?.Trim() ?? "";
        if (!Note.TryRead(trimmed, out var tonic, out var length)) return false;
        var rest = trimmed[length..].Trim();
        var minor = rest is "m" or "-" || rest.StartsWith("min", StringComparison.OrdinalIgnoreCase);
        var major = rest is "" or "M" || rest.StartsWith("maj", StringComparison.OrdinalIgnoreCase);
        key = new Key(tonic, minor);
        return minor || major;
    }

    /// <summary>Short name: <c>E♭</c> or <c>C♯m</c>.</summary>
    public override string ToString() => Tonic + (IsMinor ? "m" : "");
}
