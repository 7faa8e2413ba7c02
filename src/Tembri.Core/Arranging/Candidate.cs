using Tembri.Core.Chords;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Arranging;

/// <summary>One way to play a chord of the song: a substitution, a shape and a fingering, with what it weighs and how near it
/// comes.</summary>
/// <param name="Kind">What is done to the chord.</param>
/// <param name="Played">The chord played, at the pitch of the shapes.</param>
/// <param name="Fingering">Shape and fingers.</param>
/// <param name="Origin">Where the shape comes from; null for the teacher's own.</param>
/// <param name="Closeness">How near it comes to the chord on the record.</param>
/// <param name="Idiom">Points for being unusual, 0 for what everyone teaches.</param>
/// <param name="Habit">Points for fingers that are not the usual ones of the shape; alike on every rung, so that a hand keeps
/// what it learnt.</param>
/// <param name="Locked">True when the teacher chose it.</param>
/// <param name="ThinByNature">True when the chord asked for is a power chord, which nobody plays on many strings.</param>
public sealed record Candidate(
    SubstitutionKind Kind, Chord Played, Fingering Fingering, ShapeOrigin? Origin, ClosenessReport Closeness, double Idiom,
    double Habit = 0, bool Locked = false, bool ThinByNature = false)
{
    /// <summary>True when the teacher asked for the chord it plays in place of the song's.</summary>
    public bool Wanted { get; init; }

    /// <summary>The load, 0 to 100.</summary>
    public double Load => Fingering.Load.Value;

    /// <summary>The pitch classes it sounds, bit n for pitch class n, at the pitch of the shapes.</summary>
    public int Sound => Closeness.Mask;

    /// <summary>True when another candidate is the same shape with the same fingers.</summary>
    public bool SameAs(Candidate other) => Fingering.SameAs(other.Fingering);
}
