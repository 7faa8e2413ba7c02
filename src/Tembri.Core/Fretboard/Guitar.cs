namespace Tembri.Core.Fretboard;

/// <summary>A guitar as the hand meets it: lengths in mm, tensions in N.</summary>
public sealed record Guitar
{
    private static readonly Lazy<IReadOnlyList<Guitar>> AllPresets =
        new(() => EmbeddedData.Json<List<Guitar>>("guitars.data.json"));

    /// <summary>Identifier used in settings and in the HTTP contract, such as <c>steel</c>.</summary>
    public required string Id { get; init; }

    /// <summary>Name in words.</summary>
    public required string Name { get; init; }

    /// <summary>Sounding length of the open string, mm.</summary>
    public required double ScaleLength { get; init; }

    /// <summary>Width of the fretboard at the nut, mm.</summary>
    public required double NutWidth { get; init; }

    /// <summary>Distance between the outer strings at the nut, mm.</summary>
    public required double StringSpreadAtNut { get; init; }

    /// <summary>Distance between the outer strings at the saddle, mm.</summary>
    public required double StringSpreadAtSaddle { get; init; }

    /// <summary>Height of the strings over the first fret, mm.</summary>
    public required double ActionAtFret1 { get; init; }

    /// <summary>Height of the strings over the twelfth fret, mm.</summary>
    public required double ActionAtFret12 { get; init; }

    /// <summary>The highest fret a chord shape can use before the body is in the way, counted from the nut.</summary>
    public required int ReachableFrets { get; init; }

    /// <summary>Tension of each string in N at standard pitch, from the lowest-pitched string to the highest.</summary>
    public required IReadOnlyList<double> Tensions { get; init; }

    /// <summary>How its strings are tuned to each other, when the guitar is not tuned up or down as a whole.</summary>
    public Tuning Strings { get; init; } = Tuning.Standard;

    /// <summary>The guitars that are known by name: steel, classical, three-quarter, half, electric.</summary>
    public static IReadOnlyList<Guitar> Presets => AllPresets.Value;

    /// <summary>The steel-string guitar, the one all reference loads are given for.</summary>
    public static Guitar Steel => Preset("steel");

    /// <summary>The same guitar with all strings tuned up or down: tension goes with the square of the pitch (Mersenne,
    /// 1636).</summary>
    /// <param name="semitones">−12 to 12, negative for down.</param>
    public Guitar Tuned(int semitones)
    {
        ArgumentOutOfRangeException.ThrowIfGreaterThan(Math.Abs(semitones), 12, nameof(semitones));
        if (semitones == 0) return this;
        var ratio = Math.Pow(2, 2 * semitones / 12.0);
        return this with { Id = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Id} {semitones:+0;-0}"),
            Tensions = [.. Tensions.Select(t => t * ratio)] };
    }

    /// <summary>The same guitar in another tuning: the tension of each string goes with the square of its pitch.</summary>
    /// <param name="strings">As many strings as it has.</param>
    public Guitar Strung(Tuning strings)
    {
        if (strings.Equals(Strings) || strings.Strings.Count != Tensions.Count) return this;
        return this with
        {
            Id = $"{Id} {string.Join('.', strings.Strings)}", Strings = strings,
            Tensions = [.. Tensions.Select((t, i) => t * Math.Pow(2, 2 * (strings.Strings[i] - Strings.Strings[i]) / 12.0))],
        };
    }

    /// <summary>Finds a preset; the identifier is compared without case.</summary>
    /// <exception cref="KeyNotFoundException">There is no such preset; the message lists those there are.</exception>
    public static Guitar Preset(string id) =>
        Presets.FirstOrDefault(g => g.Id.Equals(id, StringComparison.OrdinalIgnoreCase))
        ?? (id.Equals("nylon", StringComparison.OrdinalIgnoreCase) ? Preset("classical") : null)
        ?? throw new KeyNotFoundException(
            $"There is no guitar '{id}'; choose one of {string.Join(", ", Presets.Select(g => g.Id))}.");
}
