using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Shapes;

namespace Tembri.Core.Ladders;

/// <summary>A shape as it would be for a chord.</summary>
/// <param name="Shape">The shape.</param>
/// <param name="Asked">The chord it is for, at the pitch of the shapes.</param>
/// <param name="Fingerings">How this hand can hold it, the one people use first; empty where it cannot.</param>
/// <param name="Closeness">How near it comes to the chord.</param>
/// <param name="Names">What its notes are called, the most fitting first; empty when they are no chord that has a name.</param>
/// <param name="TooFar">The fingers that are too far apart; null when the hand can hold it, or when there are more places to
/// press than fingers.</param>
public sealed record ShapeStudy(Shape Shape, Chord Asked, IReadOnlyList<Candidate> Fingerings, ClosenessReport Closeness,
    IReadOnlyList<Chord> Names, TooFar? TooFar);
