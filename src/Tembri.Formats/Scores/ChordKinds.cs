using Tembri.Core.Chords;

namespace Tembri.Formats.Scores;

/// <summary>Chord kinds by the names MusicXML 4.0 gives them, with the degrees each stands for.</summary>
internal static class ChordKinds
{
    private static readonly Degree Eleventh = new(11, 0, DegreeRole.Colour);

    // Semitones above the root that each kind holds by the standard's own definition. The order is the preference where several
    // are as near.
    private static readonly (string Name, string Symbol)[] Named =
    [
        ("major", ""), ("minor", "m"), ("dominant", "7"), ("major-seventh", "maj7"), ("minor-seventh", "m7"), ("augmented", "+"),
        ("diminished", "dim"),
        ("diminished-seventh", "dim7"), ("half-diminished", "m7b5"), ("augmented-seventh", "7#5"), ("major-minor", "m(maj7)"),
        ("major-sixth", "6"), ("minor-sixth", "m6"),
        ("dominant-ninth", "9"), ("major-ninth", "maj9"), ("minor-ninth", "m9"), ("dominant-11th", "11"),
        ("major-11th", "maj11"), ("minor-11th", "m11"),
        ("dominant-13th", "13"), ("major-13th", "maj13"), ("minor-13th", "m13"), ("suspended-second", "sus2"),
        ("suspended-fourth", "sus4"), ("power", "5"),
    ];

    private static readonly Dictionary<string, string> Written = new()
    {
        ["dominant"] = "7", ["major-minor"] = "m(maj7)",
    };

    /// <summary>The degrees of a kind; null when the standard has no such kind. Other kinds of the standard are sixth and pedal
    /// chords without fixed degrees.</summary>
    public static IReadOnlyList<Degree>? DegreesOf(string kind) => Kinds.GetValueOrDefault(kind);

    private static readonly Dictionary<string, IReadOnlyList<Degree>> Kinds =
        Named.ToDictionary(n => n.Name, n => Stacked(n.Name));

    private static IReadOnlyList<Degree> Stacked(string kind) => kind switch
    {
        // The standard stacks thirds: a thirteenth holds ninth and eleventh.
        "dominant-13th" or "major-13th" or "minor-13th" => [.. Base(kind).Where(d => d.Number is not 11), Eleventh],
        "major-11th" => [.. Base("major-ninth"), Eleventh],
        _ => Base(kind),
    };

    private static IReadOnlyList<Degree> Base(string kind) => Chord.Parse("C" + Named.First(n => n.Name == kind).Symbol).Degrees;

    /// <summary>The kind nearest to a chord and the degrees that make up the difference.</summary>
    public static (string Kind, IReadOnlyList<(int Number, int Alteration, string Type)> Degrees) Of(Chord chord)
    {
        var best = Named.Select(n => (n.Name, Difference: Difference(DegreesOf(n.Name)!, chord.Degrees)))
            .MinBy(x =>
                x.Difference.Sum(d => d.Type == "alter" ? 1.5 : 1.0) + (x.Difference.Any(d => d.Type == "subtract") ? 0.4 : 0));
        return best;
    }

    private static List<(int Number, int Alteration, string Type)> Difference(IReadOnlyList<Degree> kind,
        IReadOnlyList<Degree> wanted)
    {
        var difference = new List<(int, int, string)>();
        var rest = wanted.Where(w => !kind.Any(k => k.Number == w.Number && k.Alteration == w.Alteration)).ToList();
        foreach (var gone in kind.Where(k => !wanted.Any(w => w.Number == k.Number && w.Alteration == k.Alteration)))
        {
            var altered = rest.FindIndex(w => w.Number == gone.Number);
            if (altered >= 0)
            {
                // An altered degree is given against the kind's own one.
                difference.Add((gone.Number, rest[altered].Alteration - gone.Alteration, "alter"));
                rest.RemoveAt(altered);
            }
            else difference.Add((gone.Number, 0, "subtract"));
        }
        difference.AddRange(rest.Select(w => (w.Number, AgainstMajor(w), "add")));
        return difference;
    }

    // Added degrees are given against a dominant scale: the seventh is minor there.
    private static int AgainstMajor(Degree degree) => degree.Number == 7 ? degree.Alteration + 1 : degree.Alteration;

    /// <summary>The chord of a kind with degrees added, altered and taken away; null when it cannot be named.</summary>
    /// <param name="root">The root.</param>
    /// <param name="kind">The standard's name of the kind.</param>
    /// <param name="changes">Degree, alteration, and <c>add</c>, <c>alter</c> or <c>subtract</c>.</param>
    /// <param name="bass">The bass, when there is one.</param>
    /// <param name="text">How the file writes the kind, when it does.</param>
    public static Chord? Make(Core.Music.Note root, string kind,
        IReadOnlyList<(int Number, int Alteration, string Type)> changes, Core.Music.Note? bass, string? text)
    {
        if (DegreesOf(kind) is not { } known)
            return text is not null && Chord.TryParse(root.ToAscii() + text, out var asText) ? WithBass(asText!, bass) : null;
        var degrees = known.Select(d => (d.Number, d.Alteration)).ToList();
        foreach (var (number, alteration, type) in changes)
        {
            var at = degrees.FindIndex(d => d.Number == number);
            if (type == "add") degrees.Add((number, number == 7 ? alteration - 1 : alteration));
            else if (at >= 0 && type == "subtract") degrees.RemoveAt(at);
            else if (at >= 0) degrees[at] = (number, degrees[at].Alteration + alteration);
            else if (type == "alter") degrees.Add((number, number == 7 ? alteration - 1 : alteration));
        }
        var mask = degrees.Aggregate(0, (m, d) => m | 1 << new Degree(d.Number, d.Alteration, DegreeRole.Colour).Semitones);
        int MaskOf(Chord c) => c.Degrees.Aggregate(0, (m, d) => m | 1 << d.Semitones);
        // The file's own writing, if it means the same; else our own symbol of the kind; else whatever symbol has these tones.
        if (text is not null && Chord.TryParse(root.ToAscii() + text, out var written) && written!.Bass is null
            && MaskOf(written) == mask)
            return WithBass(written, bass);
        if (changes.Count == 0)
            return WithBass(
                Chord.Parse(root.ToAscii() + Written.GetValueOrDefault(kind, Named.First(n => n.Name == kind).Symbol)), bass);
        if (Symbol(kind, changes) is { } symbol && Chord.TryParse(root.ToAscii() + symbol, out var spelt) && spelt!.Bass is null
            && MaskOf(spelt) == mask)
            return WithBass(spelt, bass);
        var named = ChordNamer.Name(Rotate(mask, root.PitchClass), root.PitchClass, new Core.Music.Key(root, false))
            .FirstOrDefault(c => c.Root.PitchClass == root.PitchClass && MaskOf(c) == mask);
        return named is null ? null : WithBass(new Chord(root, named.Kind, named.Degrees), bass);
    }

    /// <summary>A kind with its changes as a symbol has them: <c>7b5#9</c>. Null when a change has no such writing.</summary>
    private static string? Symbol(string kind, IReadOnlyList<(int Number, int Alteration, string Type)> changes)
    {
        if (changes.Any(c => c.Type == "subtract" || c.Alteration is < -1 or > 1 || c.Alteration == 0)) return null;
        return Written.GetValueOrDefault(kind, Named.First(n => n.Name == kind).Symbol)
            + string.Concat(changes.OrderBy(c => c.Number).Select(c => (c.Alteration < 0 ? "b" : "#") + c.Number));
    }

    /// <summary>The chord over the tone an inversion puts lowest: its third, fifth or seventh. As it is, when it has no such
    /// tone.</summary>
    public static Chord Inverted(Chord chord, int inversion)
    {
        int[] wanted = inversion switch { 1 => [3, 2, 4], 2 => [5], _ => [7, 6] };
        var tone =
            wanted.Select(number => chord.Degrees.FirstOrDefault(d => d.Number == number)).FirstOrDefault(d => d.Number > 0);
        return tone.Number == 0 ? chord : new Chord(chord.Root, chord.Kind, chord.Degrees, chord.Root.MoveFifths(tone.Fifths));
    }

    private static Chord WithBass(Chord chord, Core.Music.Note? bass) =>
        bass is null ? chord : new Chord(chord.Root, chord.Kind, chord.Degrees, bass);

    private static int Rotate(int mask, int up) => (mask << up | mask >> 12 - up) & 0xFFF;
}
