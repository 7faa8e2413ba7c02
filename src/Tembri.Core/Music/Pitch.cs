using System.Collections.Frozen;
using System.Globalization;

namespace Tembri.Core.Music;

/// <summary>A note in an octave, such as E4; C4 is middle C.</summary>
/// <param name="Note">The note name.</param>
/// <param name="Octave">The octave its letter belongs to, −1 to 9.</param>
public readonly record struct Pitch(Note Note, int Octave)
{
    private static readonly FrozenDictionary<char, int> Semitones = new Dictionary<char, int>
    {
        ['C'] = 0, ['D'] = 2, ['E'] = 4, ['F'] = 5, ['G'] = 7, ['A'] = 9, ['B'] = 11
    }.ToFrozenDictionary();

    /// <summary>The MIDI number, 60 for C4.</summary>
    public int Midi => 12 * (Octave + 1) + Semitones[Note.Letter] + Note.Accidental;

    /// <summary>The pitch of a MIDI number, spelt as a key asks.</summary>
    /// <param name="midi">0 to 127.</param>
    /// <param name="key">The key.</param>
    public static Pitch FromMidi(int midi, Key key)
    {
        var note = key.Spell(midi % 12);
        return new Pitch(note, (midi - Semitones[note.Letter] - note.Accidental) / 12 - 1);
    }

    /// <summary>The pitch some steps along the line of fifths and some semitones away.</summary>
    /// <param name="fifths">Steps along the line of fifths, which decide the spelling.</param>
    /// <param name="semitones">Semitones, positive for up; the same pitch class as the fifths.</param>
    public Pitch Move(int fifths, int semitones)
    {
        var note = Note.MoveFifths(fifths);
        return new Pitch(note, (Midi + semitones - Semitones[note.Letter] - note.Accidental) / 12 - 1);
    }

    /// <summary>Reads a pitch such as <c>E4</c> or <c>Bb3</c>.</summary>
    public static bool TryParse(string text, out Pitch pitch)
    {
        pitch = default;
        if (!Note.TryRead(text, out var note, out var length)
            || !int.TryParse(text.AsSpan(length), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var octave)
            || octave is < -1 or > 9)
            return false;
        pitch = new Pitch(note, octave);
        return true;
    }

    /// <inheritdoc/>
    public override string ToString() => Note + Octave.ToString(CultureInfo.InvariantCulture);
}

/// <summary>From the lowest to the highest pitch of a melody or a singer.</summary>
/// <param name="Low">The lowest.</param>
/// <param name="High">The highest, not below the lowest.</param>
public readonly record struct PitchRange(Pitch Low, Pitch High)
{
    /// <summary>Reads a range such as <c>A2 to E4</c> or <c>A2–E4</c>.</summary>
    public static bool TryParse(string text, out PitchRange range)
    {
        range = default;
        var parts = text.Split(["to", "–", "-", " "], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (parts.Length != 2 || !Pitch.TryParse(parts[0], out var low) || !Pitch.TryParse(parts[1], out var high)
            || low.Midi > high.Midi)
            return false;
        range = new PitchRange(low, high);
        return true;
    }

    /// <inheritdoc/>
    public override string ToString() => $"{Low} to {High}";
}
