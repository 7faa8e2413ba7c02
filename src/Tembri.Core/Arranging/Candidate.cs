using Tembri.Core.Chords;
using Tembri.Core.Shapes;
using Tembri.Core.Swaps;

namespace Tembri.Core.Arranging;

/// <summary>One way to play a chord of the song: a swap, a shape and a fingering, with what it weighs and how near it comes.</summary>
/// <param name="Kind">What is done to the chord.</param>
/// <param name="Played">The chord played, at the pitch of the shapes.</param>
/// <param name="Fingering">Shape and fingers.</param>
/// <param name="Source">Where the shape comes from.</param>
/// <param name="Description">The shape in words.</param>
/// <param name="Closeness">How near it comes to the chord on the record.</param>
/// <param name="Idiom">Points for being unusual, 0 for what everyone teaches.</param>
/// <param name="Locked">True when the teacher chose it.</param>
/// <param name="ThinByNature">True when the chord asked for is a power chord, which nobody plays on many strings.</param>
public sealed record Candidate(
    SwapKind Kind, Chord Played, Fingering Fingering, ShapeSource Source, string Description, ClosenessReport Closeness, double Idiom, bool Locked = false, bool ThinByNature = false)
{
    /// <summary>The load, 0 to 100.</summary>
    public double Load => Fingering.Load.Value;

    /// <summary>True when another candidate is the same shape with the same fingers.</summary>
    public bool SameAs(Candidate other) => Fingering.SameAs(other.Fingering);
}
