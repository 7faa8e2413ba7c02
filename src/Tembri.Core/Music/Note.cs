namespace Tembri.Core.Music;

/// <summary>A note name: a letter and an accidental, without an octave. F♯ and G♭ are different notes with the same pitch
/// class.</summary>
/// <remarks>Held as a position on the line of fifths (F = −1, C = 0, G = 1 … B = 5, F♯ = 6 …), which makes transposing an
/// addition.</remarks>
public readonly record struct Note : IComparable<Note>
{
    private static readonly char[] LettersByFifths = ['F', 'C', 'G', 'D', 'A', 'E', 'B'];

    /// <summary>The note C.</summary>
    public static readonly Note C = new(0);

    /// <summary>Place on the line of fifths, −15 (F♭♭) to 19 (B♯♯).</summary>
    public int Fifths { get; }

    /// <summary>Makes the note at a position on the line of fifths.</summary>
    /// <exception cref="ArgumentOutOfRangeException">More than two accidentals would be needed.</exception>
    public Note(int fifths)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(fifths, -15);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(fifths, 19);
        Fifths = fifths;
    }

    /// <summary>The letter, A to G.</summary>
    public char Letter => LettersByFifths[Modulo(Fifths + 1, 7)];

    /// <summary>Semitones the accidental moves the letter: −2 (𝄫) to 2 (𝄪).</summary>
    public int Accidental => (int)Math.Floor((Fifths + 1) / 7.0);

    /// <summary>Pitch class, 0 (C) to 11 (B).</summary>
    public int PitchClass => Modulo(Fifths * 7, 12);

    /// <summary>The note <paramref name="fifths"/> steps along the line of fifths, respelt enharmonically when it would need a
    /// double accidental.</summary>
    public Note MoveFifths(int fifths)
    {
        var moved = Fifths + fifths;
        while (moved > 12) moved -= 12;
        while (moved < -8) moved += 12;
        return new Note(moved);
    }

    /// <summary>The plain spelling of a pitch class: naturals, then B♭ E♭ A♭ D♭ and F♯.</summary>
    /// <param name="pitchClass">Any integer; taken modulo 12.</param>
    public static Note FromPitchClass(int pitchClass)
    {
        var fifths = Modulo(Modulo(pitchClass, 12) * 7, 12);
        return new Note(fifths > 6 ? fifths - 12 : fifths);
    }

    /// <summary>Makes a note from a letter and an accidental.</summary>
    /// <param name="letter">A to G, any case.</param>
    /// <param name="accidental">−2 to 2 semitones.</param>
    /// <exception cref="ArgumentException">The letter is none of A to G.</exception>
    public static Note Of(char letter, int accidental = 0)
    {
        var index = Array.IndexOf(LettersByFifths, char.ToUpperInvariant(letter));
        if (index < 0) throw new ArgumentException($"'{letter}' is not a note letter; use A to G.", nameof(letter));
        return new Note(index - 1 + 7 * accidental);
    }

    /// <summary>Reads a note at the start of a text, such as <c>F#</c>, <c>B♭</c> or <c>e</c>.</summary>
    /// <param name="text">The text to read from.</param>
    /// <param name="note">The note read.</param>
    /// <param name="length">How many characters it took.</param>
    public static bool TryRead(ReadOnlySpan<char> text, out Note note, out int length)
    {
        note = default;
        length = 0;
        if (text.IsEmpty || !"ABCDEFG".Contains(char.ToUpperInvariant(text[0]))) return false;
        length = 1;
        var accidental = 0;
        if (text.Length > 1 && text[1] is '#' or '♯') { accidental = 1; length = 2; }
        else if (text.Length > 1 && text[1] is 'b' or '♭') { accidental = -1; length = 2; }
        note = Of(text[0], accidental);
        return true;
    }

    /// <summary>The note with real accidentals, such as <c>F♯</c>.</summary>
    public override string ToString() => Letter + Accidental switch { -2 => "♭♭", -1 => "♭", 1 => "♯", 2 => "♯♯", _ => "" };

    /// <summary>The note with keyboard accidentals, such as <c>F#</c>.</summary>
    public string ToAscii() => ToString().Replace('♯', '#').Replace('♭', 'b');

    /// <summary>Orders notes along the line of fifths.</summary>
    public int CompareTo(Note other) => Fifths.CompareTo(other.Fifths);

    internal static int Modulo(int value, int modulus) => (value % modulus + modulus) % modulus;
}
