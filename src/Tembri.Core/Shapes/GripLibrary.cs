using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>A shape that teachers teach, for one chord, with its usual fingers.</summary>
/// <param name="Chord">The chord it plays in standard tuning without a capo.</param>
/// <param name="Shape">The shape.</param>
/// <param name="Fingers">The usual fingers.</param>
/// <param name="Family">The grip family, such as E-form.</param>
/// <param name="Movable">True when it can stand at any fret.</param>
/// <param name="Rare">True when few teach it.</param>
public sealed record Grip(Chord Chord, Shape Shape, IReadOnlyList<Finger> Fingers, string Family, bool Movable,
    bool Rare = false);

/// <summary>The library of grips, read from <c>grips.data.txt</c>, indexed by the chord they play in standard tuning.</summary>
public static class GripLibrary
{
    private static readonly Lazy<IReadOnlyList<Grip>> Shipped = new(() => Read(EmbeddedData.Text("grips.data.txt")));
    private static readonly Lazy<ILookup<(int Kind, int Root, int Bass), Grip>> Index = new(() =>
        All.Where(g => !g.Movable).ToLookup(g => (KindMask(g.Chord), g.Chord.Root.PitchClass, g.Chord.BassPitchClass)));
    private static readonly Lazy<ILookup<(int Kind, int Bass), Grip>> MovableIndex = new(() =>
        All.Where(g => g.Movable)
            .ToLookup(g => (KindMask(g.Chord), (g.Chord.BassPitchClass - g.Chord.Root.PitchClass + 12) % 12)));

    private static readonly Lazy<HashSet<ulong>> UsualFingers =
        new(() => [.. All.Select(g => Relative(g.Shape, Pack(g.Fingers)))]);

    private static readonly Lazy<IReadOnlyDictionary<Tuning, IReadOnlyList<Grip>>> Others =
        new(() => ReadTunings(EmbeddedData.Text("grips.tunings.data.txt")));

    /// <summary>Grips of other tunings than standard, by tuning.</summary>
    public static IReadOnlyDictionary<Tuning, IReadOnlyList<Grip>> ByTuning => Others.Value;

    private static Dictionary<Tuning, IReadOnlyList<Grip>> ReadTunings(string text)
    {
        const string Heading = "tuning ";
        var found = new Dictionary<Tuning, IReadOnlyList<Grip>>();
        foreach (var part in ("\n" + text.ReplaceLineEndings("\n")).Split("\n" + Heading).Skip(1))
        {
            var end = part.IndexOf('\n', StringComparison.Ordinal);
            found[Tuning.TryParse(part[..end], out var tuning)
                    ? tuning
                    : throw new FormatException($"There is no tuning '{part[..end]}'.")] = Read(part[end..]);
        }
        return found;
    }

    /// <summary>The grips for a chord in another tuning than standard.</summary>
    /// <param name="chord">The chord of the shape.</param>
    /// <param name="tuning">The tuning.</param>
    /// <param name="highestFret">The highest fret that may be used.</param>
    public static IEnumerable<Grip> For(Chord chord, Tuning tuning, int highestFret)
    {
        if (!ByTuning.TryGetValue(tuning, out var grips)) yield break;
        var (kind, bass) = (KindMask(chord), Music.Note.Modulo(chord.BassPitchClass - chord.Root.PitchClass, 12));
        foreach (var grip in grips.Where(
            g => KindMask(g.Chord) == kind && Music.Note.Modulo(g.Chord.BassPitchClass - g.Chord.Root.PitchClass, 12) == bass))
        {
            var up = Music.Note.Modulo(chord.Root.PitchClass - grip.Chord.Root.PitchClass, 12);
            if (!grip.Movable && up == 0) yield return grip;
            if (!grip.Movable) continue;
            if (grip.Shape.LowestStopped + up - 12 >= 1) up -= 12;
            for (; grip.Shape.HighestStopped + up <= highestFret; up += 12)
                yield return grip with { Chord = chord, Shape = grip.Shape.Move(up) };
        }
    }

    /// <summary>Every grip.</summary>
    public static IReadOnlyList<Grip> All => Shipped.Value;

    /// <summary>Semitones above the root as a bit mask: what kind of chord it is.</summary>
    internal static int KindMask(Chord chord) => chord.Degrees.Aggregate(0, (mask, d) => mask | 1 << d.Semitones);

    /// <summary>The grips for a chord, each where it plays it, from low frets to high.</summary>
    /// <param name="chord">The chord of the shape (what it would sound without a capo).</param>
    /// <param name="highestFret">The highest fret that may be used.</param>
    public static IEnumerable<Grip> For(Chord chord, int highestFret)
    {
        var kind = KindMask(chord);
        foreach (var grip in Index.Value[(kind, chord.Root.PitchClass, chord.BassPitchClass)])
            if (grip.Shape.HighestStopped <= highestFret) yield return grip;
        var bass = (chord.BassPitchClass - chord.Root.PitchClass + 12) % 12;
        foreach (var grip in MovableIndex.Value[(kind, bass)])
        {
            var up = (chord.Root.PitchClass - grip.Chord.Root.PitchClass + 12) % 12;
            if (grip.Shape.LowestStopped + up - 12 >= 1) up -= 12;
            for (; grip.Shape.HighestStopped + up <= highestFret; up += 12)
                yield return grip with { Chord = chord, Shape = grip.Shape.Move(up) };
        }
    }

    /// <summary>True when these fingers are usual for the shape, at this fret or another.</summary>
    public static bool IsUsual(Fingering fingering) => UsualFingers.Value.Contains(Relative(fingering.Shape, fingering.Packed));

    /// <summary>Frets and fingers in one number, 8 bits a string.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="fingers">Four bits a string, the lowest string in the lowest bits.</param>
    private static ulong Relative(Shape shape, ulong fingers)
    {
        // An open shape is the same only where it stands; a movable one wherever it is moved.
        var lowest = shape.HasOpenString ? 0 : shape.LowestStopped;
        ulong packed = 0;
        for (var s = 0; s < shape.StringCount; s++)
            packed = packed << 8 | (shape[s] < 0 ? 0xFF : (ulong)(shape[s] - lowest) << 3 | fingers >> (4 * s) & 15);
        return packed;
    }

    private static ulong Pack(IReadOnlyList<Finger> fingers)
    {
        ulong packed = 0;
        for (var s = 0; s < fingers.Count; s++) packed |= (ulong)fingers[s] << (4 * s);
        return packed;
    }

    /// <summary>Reads the text form of a library.</summary>
    /// <exception cref="FormatException">A line is not a grip; the message names the line.</exception>
    public static IReadOnlyList<Grip> Read(string text)
    {
        var grips = new List<Grip>();
        var number = 0;
        foreach (var line in text.Split('\n'))
        {
            number++;
            var words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
            if (words.Length == 0 || words[0].StartsWith('#')) continue;
            if (words.Length != 5 || words[0] is not ("open" or "move" or "rare"))
                throw new FormatException($"Line {number} of the grips is not 'open|move|rare chord frets fingers family'.");
            var fingers = words[3].Select(c => c switch
            {
                'x' or '0' => Finger.None,
                'T' => Finger.Thumb,
                >= '1' and <= '4' => (Finger)(c - '0'),
                _ => throw new FormatException($"Line {number} of the grips has the finger '{c}'."),
            }).ToArray();
            var shape = Shape.Parse(words[2]);
            if (fingers.Length != shape.StringCount)
                throw new FormatException(
                    $"Line {number} of the grips has {fingers.Length} fingers for {shape.StringCount} strings.");
            grips.Add(new Grip(Chord.Parse(words[1]), shape, fingers, words[4], words[0] != "open", words[0] == "rare"));
        }
        return grips;
    }
}
