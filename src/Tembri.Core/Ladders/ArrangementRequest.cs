using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Wishes;

namespace Tembri.Core.Ladders;

/// <summary>What the position is chosen for.</summary>
public enum Aim
{
    /// <summary>Keep the record's pitch.</summary>
    Record,
    /// <summary>Move the song to suit a voice: by a number of semitones, or to where the tune lies within what the singer
    /// reaches.</summary>
    Voice,
    /// <summary>No capo.</summary>
    None,
}

/// <summary>A shape the teacher chose for a chord on a rung. It follows the chord when the song is moved to another key, and
/// rests where other shapes are played.</summary>
/// <param name="Rung">1 to 5.</param>
/// <param name="Chord">The chord as <see cref="Chords.Chord.DegreeIn"/> writes it.</param>
/// <param name="ShapeTonic">Pitch class of the key of the shapes it was chosen among.</param>
/// <param name="Shape">The shape.</param>
/// <param name="Fingers">The fingers; the lightest fingering when null.</param>
public sealed record ShapeLock(int Rung, string Chord, int ShapeTonic, Shape Shape, IReadOnlyList<Finger>? Fingers = null);

/// <summary>Everything a ladder depends on.</summary>
public sealed record ArrangementRequest
{
    /// <summary>The highest capo position asked for by default.</summary>
    public const int DefaultHighestCapo = 9;

    /// <summary>The song.</summary>
    public required Chart Chart { get; init; }

    /// <summary>The kind of player.</summary>
    public required PlayerKind Kind { get; init; }

    /// <summary>Changes of the student that were timed.</summary>
    public TimedChanges Timed { get; init; } = TimedChanges.None;

    /// <summary>What the position is for.</summary>
    public Aim Aim { get; init; } = Aim.Record;

    /// <summary>What the voice asks for; null when it is as the chart's header has it. Counts with
    /// <see cref="Aim.Voice"/>.</summary>
    public VoiceWish? Voice { get; init; }

    /// <summary>Positions 0 to this are compared, at most 11.</summary>
    public int HighestCapo { get; init; } = DefaultHighestCapo;

    /// <summary>Who plays along.</summary>
    public Accompaniment Accompaniment { get; init; } = Accompaniment.Record;

    /// <summary>A capo the teacher decided on; null lets the arranger choose.</summary>
    public int? Capo { get; init; }

    /// <summary>True moves the capo up where the song's end lies higher, when it does: see <see cref="KeyLift"/>. Else one place
    /// serves all of it.</summary>
    public bool CapoUp { get; init; }

    /// <summary>How far the student's guitar is tuned up or down as a whole, in semitones against its tuning; null tunes it as
    /// the record's, or leaves it as the player's stands.</summary>
    public int? Tuning { get; init; }

    /// <summary>The tuning that is played in, at the pitch it is known by; null for the player's own, or the song's.</summary>
    public Tuning? Strings { get; init; }

    /// <summary>The song on the guitar as it is tuned here: by what was decided, else as the player's stands, else as the
    /// record's.</summary>
    public Chart TunedChart
    {
        get
        {
            var chart = Chart;
            if (Strings is { } chosen) chart = chart with { Strings = chosen };
            else if (Kind.Strings?.Apart() is var (own, shift)) chart = chart with { Strings = own, TuningShift = shift };
            return Tuning is { } tuning ? chart with { TuningShift = tuning } : chart;
        }
    }

    /// <summary>Shapes the teacher chose.</summary>
    public IReadOnlyList<ShapeLock> Locks { get; init; } = [];

    /// <summary>What the teacher wants of chords, shapes and rungs.</summary>
    public TeacherWishes Wishes { get; init; } = TeacherWishes.None;

    /// <summary>The rungs, the lowest first, before the teacher's wishes change them.</summary>
    public IReadOnlyList<RungLimits> Rungs { get; init; } = RungLimits.Defaults;
}
