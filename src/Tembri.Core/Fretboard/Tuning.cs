using Tembri.Core.Music;

namespace Tembri.Core.Fretboard;

/// <summary>The pitches of the open strings as MIDI note numbers (60 is middle C), from the lowest-pitched string to the
/// highest.</summary>
public sealed class Tuning : IEquatable<Tuning>
{
    /// <summary>E A D G B E.</summary>
    public static readonly Tuning Standard = new([40, 45, 50, 55, 59, 64]);

    /// <summary>Standard with the lowest string a tone lower.</summary>
    public static readonly Tuning DropD = new([38, 45, 50, 55, 59, 64]);

    private sealed record NamedTuning(string Name, IReadOnlyList<int> Strings);

    private static readonly Lazy<IReadOnlyList<(string Name, Tuning Tuning)>> Shipped = new(() => [("standard", Standard),
        .. EmbeddedData.Json<List<NamedTuning>>("tunings.data.json").Select(t => (t.Name, new Tuning(t.Strings)))]);

    /// <summary>The tunings known by name, standard first.</summary>
    public static IReadOnlyList<(string Name, Tuning Tuning)> Known => Shipped.Value;

    /// <summary>Its name; the strings where it has none.</summary>
    public string Name =>
        Known.FirstOrDefault(k => k.Tuning.Equals(this)).Name ?? string.Join(' ', Strings.Select(s => Figures(s)));

    private static string Figures(int midi) => Key.TryParse("C", out var c) ? Pitch.FromMidi(midi, c).ToString() : "";

    /// <summary>This tuning as one that is known, tuned up or down as a whole: as far as its highest string where none is
    /// known.</summary>
    /// <returns>The tuning at the pitch it is known by, and the semitones this one lies above it.</returns>
    public (Tuning Known, int Shift) Apart()
    {
        foreach (var (_, known) in Known)
            if (known.Strings.Count == Strings.Count
                && Strings[0] - known.Strings[0] is >= -MostShift and <= MostShift and var shift && Shifted(known, shift))
                return (known, shift);
        return (this, 0);

        bool Shifted(Tuning known, int by) => known.Strings.Zip(Strings).All(s => s.Second - s.First == by);
    }

    private const int MostShift = 7;

    /// <summary>Reads a tuning of six strings: a name such as <c>drop D</c>, or its strings from the lowest, such as <c>D A D G
    /// B E</c> or <c>D2 A2 D3 G3 B3 E4</c>.</summary>
    public static bool TryParse(string text, out Tuning tuning)
    {
        tuning = Standard;
        var plain = Plain(text);
        if (Known.FirstOrDefault(k => Plain(k.Name) == plain) is { Name: not null } named)
        {
            tuning = named.Tuning;
            return true;
        }
        var words = text.Split([' ', ',', '-', '/'], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 1 && text.Trim().Length == 6) words = [.. text.Trim().Select(c => c.ToString())];
        if (words.Length != Standard.Strings.Count) return false;
        var strings = new int[words.Length];
        for (var i = 0; i < words.Length; i++)
        {
            if (Pitch.TryParse(words[i], out var pitch)) strings[i] = pitch.Midi;
            // Without an octave the string is tuned to the nearest such note.
            else if (Note.TryRead(char.ToUpperInvariant(words[i][0]) + words[i][1..], out var note, out var length)
                && length == words[i].Length)
                strings[i] = Standard.Strings[i]
                    + (Note.Modulo(note.PitchClass - Standard.Strings[i], 12) is var up && up > 6 ? up - 12 : up);
            else return false;
            if (strings[i] is < 16 or > 96 || Math.Abs(strings[i] - Standard.Strings[i]) > 12) return false;
        }
        tuning = new Tuning(strings);
        return true;
    }

    /// <summary>A tuning that was written down; null where nothing was, or nothing that is one.</summary>
    public static Tuning? Read(string? text) => text is { Length: > 0 } && TryParse(text, out var tuning) ? tuning : null;

    private static string Plain(string text) =>
        string.Concat(text.ToLowerInvariant().Where(char.IsLetter)).Replace("tuning", "", StringComparison.Ordinal);

    /// <summary>MIDI note numbers, lowest string first.</summary>
    public IReadOnlyList<int> Strings { get; }

    /// <summary>Makes a tuning.</summary>
    /// <param name="strings">Four to eight MIDI note numbers from 16 to 96.</param>
    /// <exception cref="ArgumentException">Too few or too many strings, or a pitch out of range.</exception>
    public Tuning(IReadOnlyList<int> strings)
    {
        if (strings.Count is < 4 or > 8) throw new ArgumentException("A tuning has four to eight strings.", nameof(strings));
        if (strings.Any(s => s is < 16 or > 96))
            throw new ArgumentException("A string is tuned to a MIDI note from 16 to 96.", nameof(strings));
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
