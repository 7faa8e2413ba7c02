using Tembri.Core.Arranging;
using Tembri.Core.Music;

namespace Tembri.Core.Ladders;

/// <summary>One capo with what each rung weighs there.</summary>
/// <param name="Capo">The capo's fret.</param>
/// <param name="ShapeKey">The key of the shapes.</param>
/// <param name="Rungs">Load and closeness of each rung; null where it cannot be arranged. Where a ladder is played, those of its
/// rungs; elsewhere one shape a chord.</param>
/// <param name="Blocked">For each rung why not; null where it can.</param>
/// <param name="Barres">Chords that take a full barre on the rung as recorded.</param>
/// <param name="Score">What is least at the advised place, in load points.</param>
public sealed record Place(int Capo, Key ShapeKey, IReadOnlyList<TradeOff?> Rungs, IReadOnlyList<Blocked?> Blocked, int Barres,
    double Score);

/// <summary>A place as it is worked out, with the arrangements; a ladder keeps those of the place that is played only.</summary>
/// <param name="Capo">The capo's fret.</param>
/// <param name="ShapeKey">The key of the shapes.</param>
/// <param name="Rungs">An arrangement per rung; null where the rung cannot be arranged.</param>
/// <param name="Blocked">For each rung why not; null where it can.</param>
/// <param name="Barres">Chords that take a full barre on the rung as recorded.</param>
/// <param name="Score">What is least at the advised place, in load points.</param>
internal sealed record ArrangedPlace(int Capo, Key ShapeKey, IReadOnlyList<Arrangement?> Rungs, IReadOnlyList<Blocked?> Blocked,
    int Barres, double Score)
{
    /// <summary>What a ladder keeps of it.</summary>
    public Place Place =>
        new(Capo, ShapeKey, [.. Rungs.Select(a => a is null ? (TradeOff?)null : new TradeOff(a.Load, a.Closeness))], Blocked,
            Barres, Score);
}
