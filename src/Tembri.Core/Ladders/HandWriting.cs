using Tembri.Core.Charts;
using Tembri.Core.Shapes;

namespace Tembri.Core.Ladders;

/// <summary>A version that a teacher made by hand, as she wrote it.</summary>
/// <param name="Name">What she calls it.</param>
/// <param name="Chart">Its chart, in the names of the shapes.</param>
/// <param name="Capo">Its capo's fret.</param>
/// <param name="Shapes">The shapes she gave, by the chord's name; others are the ones teachers teach first.</param>
/// <param name="RightHand">The default rung whose strum is played, 1 to 5.</param>
public sealed record HandWriting(string Name, Chart Chart, int Capo, IReadOnlyDictionary<string, Fingering> Shapes,
    int RightHand);
