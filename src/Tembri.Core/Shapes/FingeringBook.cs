using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>The fingerings of shapes for one hand, guitar and capo, found once and kept. Safe for several threads.</summary>
public sealed class FingeringBook
{
    /// <summary>Fingerings kept of each shape.</summary>
    public const int Kept = 4;

    private static readonly KeptResults<(string Guitar, string Hand, double Spread, bool Thumb, int Capo), FingeringBook> Books = new(1, _ => 2_000, shared: true);

    // All books share one store, so that many kinds of player do not take many times the room.
    private static readonly KeptResults<(FingeringBook Book, Shape Shape), IReadOnlyList<Fingering>> Pages = new(64, fingerings => FingeringBytes * (long)fingerings.Count, shared: true);
    private const int FingeringBytes = 1_100;

    private FingeringBook(Guitar guitar, Hand hand, bool thumb, int capo)
    {
        Neck = new NeckGeometry(guitar, capo);
        Finder = new FingeringFinder(Neck, hand, thumb);
    }

    /// <summary>The finder behind the book.</summary>
    public FingeringFinder Finder { get; }

    /// <summary>Guitar and capo.</summary>
    public NeckGeometry Neck { get; }

    /// <summary>The book for a player.</summary>
    /// <param name="guitar">A preset guitar.</param>
    /// <param name="hand">The hand.</param>
    /// <param name="thumb">True when the thumb may stop strings.</param>
    /// <param name="capo">0 to <see cref="NeckGeometry.HighestCapo"/>.</param>
    public static FingeringBook For(Guitar guitar, Hand hand, bool thumb, int capo) =>
        Books.GetOrAdd((guitar.Id, hand.Id, hand.Spread, thumb, capo), _ => new FingeringBook(guitar, hand, thumb, capo));

    /// <summary>The lightest fingerings of a shape, at most <see cref="Kept"/>; empty where this hand cannot do it.</summary>
    public IReadOnlyList<Fingering> Of(Shape shape) => Pages.GetOrAdd((this, shape), page => Finder.Find(page.Shape, Kept));
}
