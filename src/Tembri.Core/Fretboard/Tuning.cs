using Tembri.Core.Music;

namespace Tembri.Core.Fretboard;

/// <summary>The pitches of the open strings as MIDI note numbers (60 is middle C), from the lowest-pitched string to the highest.</summary>
public sealed class Tuning : IEquatable<Tuning>
{
    /// <summary>E A D G B E.</summary>
    public static readonly Tuning Standard = new([40, 45, 50, 55, 59, 64]);

    /// <summary>Standard with the lowest string a tone lower.</summary>
    public static readonly Tuning DropD = new([38, 45, 50, 55, 59, 64]);

    /// <summary>MIDI note numbers, lowest string first.</summary>
    public IReadOnlyList<int> Strings { get; }

    /// <summary>Makes a tuning.</summary>
    /// <param name="strings">Four to eight MIDI note numbers from 16 to 96.</param>
    /// <exception cref="ArgumentException">Too few or too many strings, or a pitch out of range.</exception>
    public Tuning(IReadOnlyList<int> strings)
    {
        if (strings.Count is < 4 or > 8) throw new ArgumentException("A tuning has four to eight strings.", nameof(strings));
        if (strings.Any(s => s is < 16 or > 96)) throw new ArgumentException("A string is tuned to a MIDI note from 16 to 96.", nameof(strings));
        Strings = [.. strings];
    }

    /// <summary>The whole guitar tuned up (positive) or down.</summary>
    /// <param name="semitones">Semitones, −12 to 12.</param>
    public Tuning Shift(int semitones) => semitones == 0 ? this : new Tuning([.. Strings.Select(s => s + semitones)]);

    /// <summary>Pitch class of a string at a fret counted from the nut.</summary>
    public int PitchClass(int stringIndex, int fret) => Note.Modulo(Strings[stringIndex] + fret, 12);

    /// <inheritdoc/>
    public bool Equals(Tuning? other) => other is not null && Strings.SequenceEqual(other.Strings);

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as Tuning);

    /// <inheritdoc/>
    public override int GetHashCode() => Strings.Aggregate(17, HashCode.Combine);
}
