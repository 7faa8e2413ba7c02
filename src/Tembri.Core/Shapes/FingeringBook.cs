using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>The fingerings of shapes for one hand, guitar and capo, found once and kept. Safe for several threads.</summary>
public sealed class FingeringBook
{
    /// <summary>Fingerings kept of each shape.</summary>
    public const int MostOfAShape = 4;

    private const int FingeringBytes = 140;
    private const int PlacementBytes = 48;

    private static readonly ResultKind<(BookKey Book, Shape Shape), IReadOnlyList<Fingering>> Pages =
        new("fingerings", 0.16, fingerings => FingeringBytes * (long)fingerings.Count, 2 * FingeringBytes);

    // What the rules allow depends on neither hand nor capo.
    private static readonly ResultKind<(Shape Shape, bool Thumb), ShapePlacements> Placements =
        new("placements", 0.10, placements => 200 + PlacementBytes * (long)placements.Ways.Length, 20 * PlacementBytes);

    private readonly ResultCache _cache;

    /// <summary>Opens the book of a player.</summary>
    /// <param name="cache">Where fingerings are kept.</param>
    /// <param name="guitar">The guitar.</param>
    /// <param name="hand">The hand.</param>
    /// <param name="thumb">True when the thumb may stop strings.</param>
    /// <param name="capo">0 to <see cref="NeckGeometry.HighestCapo"/>.</param>
    public FingeringBook(ResultCache cache, Guitar guitar, Hand hand, bool thumb, int capo)
    {
        _cache = cache;
        Key = new BookKey(guitar.Id, hand.Id, hand.Spread, thumb, capo);
        Neck = new NeckGeometry(guitar, capo);
        Finder = new FingeringFinder(Neck, hand, thumb);
    }

    /// <summary>Tells books apart.</summary>
    internal BookKey Key { get; }

    /// <summary>The finder behind the book.</summary>
    public FingeringFinder Finder { get; }

    /// <summary>Guitar and capo.</summary>
    public NeckGeometry Neck { get; }

    /// <summary>The lightest fingerings of a shape, at most <see cref="MostOfAShape"/>; empty where this hand cannot do
    /// it.</summary>
    public IReadOnlyList<Fingering> Of(Shape shape) =>
        _cache.GetOrAdd(Pages, (Book: Key, Shape: shape), this,
            static (of, book) => book.Finder.Find(book.PlacementsOf(of.Shape), MostOfAShape));

    private ShapePlacements PlacementsOf(Shape shape) =>
        _cache.GetOrAdd(Placements, (Shape: shape, Key.Thumb), Finder, static (of, finder) => finder.PlacementsOf(of.Shape));
}

/// <summary>All that fingerings depend on but the shape. A guitar that is tuned up or down has an identifier of its
/// own.</summary>
internal readonly record struct BookKey(string Guitar, string Hand, double Spread, bool Thumb, int Capo);
