namespace Tembri.Core.Hands;

/// <summary>A fretting hand: how far each pair of fingers spreads, and how hard it presses.</summary>
public sealed record Hand
{
    private static readonly Lazy<IReadOnlyList<Hand>> AllPresets = new(() => EmbeddedData.Json<List<Hand>>("hands.data.json"));

    // Comfortable and greatest spread of a medium adult hand in mm, by finger pair.
    private static readonly double[] MediumComfortable = Pairs(34, 58, 84, 30, 56, 30);
    private static readonly double[] MediumGreatest = Pairs(72, 96, 120, 50, 84, 48);

    /// <summary>Spread of the medium adult hand from index tip to little-finger tip, mm; the hand all spreads are scaled
    /// from.</summary>
    public const double MediumSpread = 120;

    /// <summary>Identifier, such as <c>medium</c>.</summary>
    public required string Id { get; init; }

    /// <summary>Name in words.</summary>
    public required string Name { get; init; }

    /// <summary>Greatest spread from index tip to little-finger tip, mm; measured on paper.</summary>
    public required double Spread { get; init; }

    /// <summary>Strength against a medium adult's; 1 is the same.</summary>
    public required double Strength { get; init; }

    /// <summary>Width of a fingertip on the string, mm.</summary>
    public required double FingertipWidth { get; init; }

    /// <summary>The hands known by name, smallest first.</summary>
    public static IReadOnlyList<Hand> Presets => AllPresets.Value;

    /// <summary>The medium adult hand, the one all reference loads are given for.</summary>
    public static Hand Medium => Preset("medium");

    /// <summary>Finds a preset; the identifier is compared without case.</summary>
    /// <exception cref="KeyNotFoundException">There is no such preset; the message lists those there are.</exception>
    public static Hand Preset(string id) =>
        Presets.FirstOrDefault(h => h.Id.Equals(id, StringComparison.OrdinalIgnoreCase))
        ?? throw new KeyNotFoundException(
            $"There is no hand '{id}'; choose one of {string.Join(", ", Presets.Select(h => h.Id))}.");

    /// <summary>The smallest spread a measured hand may have, mm.</summary>
    public const double SmallestSpread = 70;

    /// <summary>The largest, mm.</summary>
    public const double LargestSpread = 170;

    // mm; nobody measures a spread more closely than this, and hands of one step share their arrangements
    private const double SpreadStep = 4;

    /// <summary>A hand whose spread was measured; strength and fingertips are those of the presets around it, straight lines
    /// between.</summary>
    /// <param name="spread">Index tip to little-finger tip, fingers stretched, mm; taken to the nearest 4 mm.</param>
    /// <exception cref="ArgumentOutOfRangeException">The spread is no hand's.</exception>
    public static Hand Measured(double spread)
    {
        if (spread is not (>= SmallestSpread and <= LargestSpread))
            throw new ArgumentOutOfRangeException(nameof(spread), spread,
                $"A hand spreads {SmallestSpread} to {LargestSpread} mm.");
        spread = Math.Round(spread / SpreadStep) * SpreadStep;
        var above = Math.Clamp(Presets.TakeWhile(h => h.Spread < spread).Count(), 1, Presets.Count - 1);
        var (a, b) = (Presets[above - 1], Presets[above]);
        double Between(Func<Hand, double> of) =>
            of(a) + Math.Clamp((spread - a.Spread) / (b.Spread - a.Spread), 0, 1) * (of(b) - of(a));
        return new Hand
        {
            Id = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{spread:0}mm"),
            Name = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"measured, {spread:0} mm"),
            Spread = spread, Strength = Between(h => h.Strength), FingertipWidth = Between(h => h.FingertipWidth),
        };
    }

    /// <summary>Spread two fingers reach without effort, mm.</summary>
    /// <param name="low">The lower-numbered finger, 1 to 3.</param>
    /// <param name="high">The higher-numbered finger, 2 to 4.</param>
    public double Comfortable(int low, int high) => MediumComfortable[low * 5 + high] * Spread / MediumSpread;

    /// <summary>Spread two fingers reach at the very most, mm.</summary>
    /// <param name="low">The lower-numbered finger, 1 to 3.</param>
    /// <param name="high">The higher-numbered finger, 2 to 4.</param>
    public double Greatest(int low, int high) => MediumGreatest[low * 5 + high] * Spread / MediumSpread;

    private static double[] Pairs(double p12, double p13, double p14, double p23, double p24, double p34)
    {
        var table = new double[25];
        (table[7], table[8], table[9], table[13], table[14], table[19]) = (p12, p13, p14, p23, p24, p34);
        return table;
    }
}
