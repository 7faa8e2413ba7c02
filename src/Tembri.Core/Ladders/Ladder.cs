using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Swaps;

namespace Tembri.Core.Ladders;

/// <summary>One capo position with what each rung weighs there.</summary>
/// <param name="Capo">The capo's fret.</param>
/// <param name="ShapeKey">The key of the shapes.</param>
/// <param name="Rungs">An arrangement per rung; null where the rung cannot be arranged.</param>
/// <param name="Blocked">For each rung why not; null where it can.</param>
/// <param name="Barres">Chords that take a full barre on the rung as recorded.</param>
/// <param name="Score">What the arranger minimises over positions, in load points.</param>
public sealed record Position(int Capo, Key ShapeKey, IReadOnlyList<Arrangement?> Rungs, IReadOnlyList<Blocked?> Blocked, int Barres, double Score);

/// <summary>A chord on a rung.</summary>
/// <param name="Index">Where it stands among the rung's chords: the chords of the song, then second shapes.</param>
/// <param name="Sounding">The chord as it sounds.</param>
/// <param name="ShapeChord">The chord at the pitch of the shapes.</param>
/// <param name="Choice">How it is played.</param>
/// <param name="Reason">Why, in one sentence.</param>
/// <param name="IsNew">True when shape or fingers differ from the rung below, or there is no rung below that plays it.</param>
/// <param name="IsLeftOut">True when the rung leaves the chord out as a passing one; the choice is then without meaning.</param>
public sealed record RungChord(int Index, Chord Sounding, Chord ShapeChord, Candidate Choice, string Reason, bool IsNew, bool IsLeftOut = false)
{
    /// <summary>For a second shape the chord of the shapes that follows where it is used; null at the end of the song, and for the usual shape.</summary>
    public Chord? Before { get; init; }

    /// <summary>Which chord of the song.</summary>
    public int SongChord { get; init; } = Index;

    /// <summary>True for a shape that is used only before a certain chord.</summary>
    public bool IsSecond => SongChord != Index;
}

/// <summary>One version of the song.</summary>
public sealed record Rung
{
    /// <summary>Name, number and what it allows.</summary>
    public required RungLimits Limits { get; init; }

    /// <summary>The capo's fret.</summary>
    public required int Capo { get; init; }

    /// <summary>What the rung plays of the song.</summary>
    public required RungSong Song { get; init; }

    /// <summary>Its chords and changes, second shapes numbered after the chords of the song.</summary>
    public required ChordFlow Flow { get; init; }

    /// <summary>The chords; empty when the rung cannot be arranged.</summary>
    public required IReadOnlyList<RungChord> Chords { get; init; }

    /// <summary>The chords the rung plays.</summary>
    public IEnumerable<RungChord> Played => Chords.Where(c => !c.IsLeftOut);

    /// <summary>What blocks the rung, and what would free it; null when nothing does.</summary>
    public string? BlockedBy { get; init; }

    /// <summary>Time-weighted load, 0 to 100.</summary>
    public double Load { get; init; }

    /// <summary>Time-weighted closeness, 0 to 1.</summary>
    public double Closeness { get; init; }

    /// <summary>How it fits the student; null when blocked.</summary>
    public VersionFit? Fit { get; init; }

    /// <summary>The strum.</summary>
    public required StrumPattern Strum { get; init; }

    /// <summary>Load of the strum at the song's tempo, 0 to 100.</summary>
    public required double StrumLoad { get; init; }

    /// <summary>True when every chord is played as on the rung below.</summary>
    public bool SameAsBelow { get; init; }

    /// <summary>The main thing that stands in the way, in one line.</summary>
    public string Reason { get; init; } = "";

    /// <summary>True when the rung could be arranged.</summary>
    public bool IsFeasible => BlockedBy is null;
}

/// <summary>Five versions of a song for one student.</summary>
public sealed record Ladder
{
    /// <summary>The song, moved for the voice when that was the aim.</summary>
    public required Chart Chart { get; init; }

    /// <summary>Its chords and changes.</summary>
    public required ChordFlow Flow { get; init; }

    /// <summary>What the chart forbids for each chord.</summary>
    public required IReadOnlyList<Guard> Guards { get; init; }

    /// <summary>All positions compared, capo 0 first.</summary>
    public required IReadOnlyList<Position> Positions { get; init; }

    /// <summary>The capo used.</summary>
    public required int Capo { get; init; }

    /// <summary>The capo the arranger would choose.</summary>
    public required int RecommendedCapo { get; init; }

    /// <summary>Semitones the song was moved for the voice; 0 for the record's pitch.</summary>
    public int VoiceShift { get; init; }

    /// <summary>The key of the shapes.</summary>
    public required Key ShapeKey { get; init; }

    /// <summary>Rungs 1 to 5.</summary>
    public required IReadOnlyList<Rung> Rungs { get; init; }

    /// <summary>All supported trade-offs of load against closeness at this capo, the lightest first.</summary>
    public required IReadOnlyList<TradeOff> TradeOffs { get; init; }

    /// <summary>The rung to work on now, 1 to 5; null when none can be arranged.</summary>
    public int? WorkingRung { get; init; }
}
