using Tembri.Core.Music;

namespace Tembri.Core.Strums;

/// <summary>A pattern that ships with Tembri. They are in <c>strums.data.json</c>.</summary>
public sealed record ShippedStrum
{
    private static readonly Lazy<IReadOnlyList<ShippedStrum>> Shipped =
        new(() => EmbeddedData.Json<List<ShippedStrum>>("strums.data.json"));

    /// <summary>All of them, by meter.</summary>
    public static IReadOnlyList<ShippedStrum> All => Shipped.Value;

    /// <summary>Identifier.</summary>
    public required string Id { get; init; }

    /// <summary>What it does, in a few words.</summary>
    public required string Name { get; init; }

    /// <summary>The meter, as it is written.</summary>
    public required string Meter { get; init; }

    /// <summary>The pattern, as it is written.</summary>
    public required string Steps { get; init; }

    /// <summary>See <see cref="StrumPattern.Swing"/>.</summary>
    public int Swing { get; init; } = StrumPattern.Straight;

    /// <summary>True for the pattern that is played where a song of the meter has none taken down.</summary>
    public bool IsUsual { get; init; }

    /// <summary>The pattern for a meter of as many beats.</summary>
    /// <param name="meter">The meter it is to be played in.</param>
    public StrumPattern In(Meter meter) => StrumPattern.Parse(Steps, meter, Swing);

    private static readonly Lazy<ILookup<(int Beats, bool IsCompound, bool Eighths), ShippedStrum>> ByMeter =
        new(() => All.ToLookup(s => Music.Meter.TryParse(s.Meter, out var meter) ? KindOf(meter) : default));

    /// <summary>Those that fit a meter.</summary>
    public static IEnumerable<ShippedStrum> For(Meter meter) => ByMeter.Value[KindOf(meter)];

    /// <summary>What meters that share their patterns have in common: beats, how these are divided, and whether eighths are
    /// counted.</summary>
    private static (int, bool, bool) KindOf(Meter meter) => (meter.Beats, meter.IsCompound, meter.Unit >= 8);

    /// <summary>What is played in a meter where nothing was taken down: the usual pattern, or plain down-strokes, the first
    /// leaned on.</summary>
    public static StrumPattern UsualFor(Meter meter) =>
        For(meter).FirstOrDefault(s => s.IsUsual) is { } usual
            ? usual.In(meter)
            : StrumPattern.Parse("D" + new string('d', meter.Beats - 1), meter);
}
