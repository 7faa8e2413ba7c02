using Tembri.Core.Music;

namespace Tembri.Core.Strums;

/// <summary>A pattern that ships with Tembri. They are in <c>strums.data.json</c>.</summary>
public sealed record ShippedStrum
{
    private static readonly Lazy<IReadOnlyList<ShippedStrum>> Shipped = new(() => EmbeddedData.Json<List<ShippedStrum>>("strums.data.json"));

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

    /// <summary>Those that fit a meter.</summary>
    public static IEnumerable<ShippedStrum> For(Meter meter) => All.Where(s => s.Fits(meter));

    private bool Fits(Meter meter) => Music.Meter.TryParse(Meter, out var own) && own.Beats == meter.Beats && own.IsCompound == meter.IsCompound && own.Unit >= 8 == meter.Unit >= 8;

    /// <summary>What is played in a meter where nothing was taken down: the usual pattern, or plain down-strokes, the first leaned on.</summary>
    public static StrumPattern UsualFor(Meter meter) =>
        All.FirstOrDefault(s => s.IsUsual && s.Fits(meter)) is { } usual ? usual.In(meter) : StrumPattern.Parse("D" + new string('d', meter.Beats - 1), meter);
}
