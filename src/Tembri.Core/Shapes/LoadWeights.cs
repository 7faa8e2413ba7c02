namespace Tembri.Core.Shapes;

/// <summary>The weights of the load model. The numbers and the reason for each are in <c>load-weights.data.json</c>.</summary>
/// <remarks>Efforts have no unit; 60 of them make a load of 63.</remarks>
public sealed record LoadWeights
{
    private static readonly Lazy<LoadWeights> Shipped = new(() => EmbeddedData.Json<LoadWeights>("load-weights.data.json"));

    /// <summary>The weights that ship with Tembri.</summary>
    public static LoadWeights Default => Shipped.Value;

    /// <summary>Effort of placing 0, 1, 2, 3, 4 fingers and the thumb.</summary>
    public required IReadOnlyList<double> Fingers { get; init; }

    /// <summary>What ring and little finger side by side on one fret save, since they go down as one.</summary>
    public required double PairedFingers { get; init; }

    /// <summary>Extra for the ring finger.</summary>
    public required double RingFinger { get; init; }

    /// <summary>Extra for the little finger.</summary>
    public required double LittleFinger { get; init; }

    /// <summary>Effort of a stretch at the greatest spread of a pair.</summary>
    public required double Stretch { get; init; }

    /// <summary>Effort per fret skipped between neighbouring fingers.</summary>
    public required double SkippedFret { get; init; }

    /// <summary>Effort per finger that has to fold away between two fingers on neighbouring frets.</summary>
    public required double IdleFinger { get; init; }

    /// <summary>Effort per 10 mm the whole hand spans beyond two fret spaces at the nut.</summary>
    public required double Span { get; init; }

    /// <summary>Effort of holding a barre over 2, 3, 4, 5, 6 strings (indices 0 and 1 unused).</summary>
    public required IReadOnlyList<double> BarreLength { get; init; }

    /// <summary>Effort per newton under the barre, for a hand of strength 1.</summary>
    public required double BarreForce { get; init; }

    /// <summary>Share of the press force that counts for a string under the barre which another finger stops.</summary>
    public required double BarreCoveredShare { get; init; }

    /// <summary>Effort per string that runs under a joint of the barring finger.</summary>
    public required double BarreJoint { get; init; }

    /// <summary>Effort per finger set in front of a barre over four strings or more.</summary>
    public required double BarreStack { get; init; }

    /// <summary>Extra for laying the middle, ring or little finger across (indices 2, 3, 4).</summary>
    public required IReadOnlyList<double> LyingFinger { get; init; }

    /// <summary>Extra for each further finger lying across at the same time.</summary>
    public required double SecondBarre { get; init; }

    /// <summary>Effort per string that is silenced under a finger lying across.</summary>
    public required double MutedUnderBarre { get; init; }

    /// <summary>Effort per pair of fingertips on neighbouring strings of one fret, in a fret space of 30 mm.</summary>
    public required double Crowding { get; init; }

    /// <summary>Extra for a fingertip at the index finger's fret that the index could hold lying down, by fingers in use (0 to
    /// 4).</summary>
    public required IReadOnlyList<double> CrowdingBarreSpared { get; init; }

    /// <summary>Effort per crossed pair on one fret.</summary>
    public required double Crossing { get; init; }

    /// <summary>Effort per silent string between sounding ones.</summary>
    public required double InteriorMute { get; init; }

    /// <summary>Effort per string left out on the bass side.</summary>
    public required double BassMute { get; init; }

    /// <summary>Effort per string left out on the treble side.</summary>
    public required double TrebleMute { get; init; }

    /// <summary>Effort per open string next to a fingertip on its bass side.</summary>
    public required double OpenNeighbour { get; init; }

    /// <summary>Effort of the thumb over the neck.</summary>
    public required double Thumb { get; init; }

    /// <summary>Effort per fret between the thumb and the index finger.</summary>
    public required double ThumbDistance { get; init; }

    /// <summary>Extra for the thumb while a finger lies across.</summary>
    public required double ThumbWithBarre { get; init; }

    /// <summary>Extra for the thumb on the second-lowest string.</summary>
    public required double ThumbSecondString { get; init; }

    /// <summary>Effort per fret of the index finger above fret 5, counted from the bare nut.</summary>
    public required double Height { get; init; }

    /// <summary>Effort per finger lying across beside an open string that must ring.</summary>
    public required double OpenBesideBarre { get; init; }

    /// <summary>Effort of holding fingers on both outer strings at once, bass and treble, with open strings between.</summary>
    public required double WideOpen { get; init; }

    /// <summary>Effort per change of direction: a finger on a higher fret between two on lower ones, or the reverse, on
    /// neighbouring strings.</summary>
    public required double Alternating { get; init; }

    /// <summary>Effort when the lowest finger stands away from its own fret in a shape with open strings.</summary>
    public required double OpenFrame { get; init; }
}
