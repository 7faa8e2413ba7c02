using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Ladders;

/// <summary>What the position is chosen for.</summary>
public enum Aim
{
    /// <summary>Keep the record's pitch.</summary>
    Record,
    /// <summary>Move the song to suit a voice: by the chart's number of semitones, or to where the tune lies within what the singer reaches.</summary>
    Voice,
    /// <summary>No capo.</summary>
    None,
}

/// <summary>A shape the teacher chose for a chord on a rung.</summary>
/// <param name="Rung">1 to 5.</param>
/// <param name="Chord">Name of the sounding chord.</param>
/// <param name="Capo">The capo the shape was chosen at.</param>
/// <param name="Shape">The shape.</param>
/// <param name="Fingers">The fingers; the lightest fingering when null.</param>
public sealed record ShapeLock(int Rung, string Chord, int Capo, Shape Shape, IReadOnlyList<Finger>? Fingers = null);

/// <summary>Everything a ladder depends on.</summary>
public sealed record LadderRequest
{
    /// <summary>The highest capo position asked for by default.</summary>
    public const int DefaultHighestCapo = 9;

    /// <summary>The song.</summary>
    public required Chart Chart { get; init; }

    /// <summary>The student.</summary>
    public required Player Player { get; init; }

    /// <summary>What the position is for.</summary>
    public Aim Aim { get; init; } = Aim.Record;

    /// <summary>Positions 0 to this are compared, at most 11.</summary>
    public int HighestCapo { get; init; } = DefaultHighestCapo;

    /// <summary>Who plays along.</summary>
    public Company Company { get; init; } = Company.Record;

    /// <summary>A capo the teacher decided on; null lets the arranger choose.</summary>
    public int? Capo { get; init; }

    /// <summary>Shapes the teacher chose.</summary>
    public IReadOnlyList<ShapeLock> Locks { get; init; } = [];

    /// <summary>The rungs.</summary>
    public IReadOnlyList<RungLimits> Rungs { get; init; } = RungLimits.Defaults;
}
