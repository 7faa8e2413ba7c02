using Tembri.Core.Chords;

namespace Tembri.Core.Ladders;

/// <summary>A bar of the record with what the version makes of it.</summary>
/// <param name="Section">Place of the bar's section in the record's chart.</param>
/// <param name="Bar">Its place in the section.</param>
/// <param name="Own">Which bar of the version it was met by, counted as they are played; null when the version leaves it
/// out.</param>
/// <param name="Closeness">How near the version comes in it, 0 to 1.</param>
/// <param name="Load">Time-weighted load of the version in it, 0 to 100.</param>
/// <param name="RungCloseness">How near the rung it is compared with comes.</param>
/// <param name="RungLoad">The load of that rung.</param>
/// <param name="Chords">The chords of the version, as the hand sees them.</param>
public sealed record HandBar(int Section, int Bar, int? Own, double Closeness, double Load, double RungCloseness,
    double RungLoad, IReadOnlyList<Chord> Chords)
{
    private const double ClearlyHeavier = 3;      // points of load
    private const double ClearlyPoorer = 0.05;    // of closeness

    /// <summary>True when it is clearly heavier than the rung.</summary>
    public bool IsHeavier => Load > RungLoad + ClearlyHeavier;

    /// <summary>True when it is clearly poorer than the rung.</summary>
    public bool IsPoorer => Closeness < RungCloseness - ClearlyPoorer;
}
