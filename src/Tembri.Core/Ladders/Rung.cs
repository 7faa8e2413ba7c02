using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Strums;

namespace Tembri.Core.Ladders;

/// <summary>One version of the song: a <see cref="PlayableRung"/>, or a <see cref="BlockedRung"/>.</summary>
public abstract record Rung
{
    /// <summary>Name, number and what it allows.</summary>
    public required RungLimits Limits { get; init; }

    /// <summary>The capo's fret.</summary>
    public required int Capo { get; init; }

    /// <summary>What the rung plays of the song.</summary>
    public required RungSong Song { get; init; }

    /// <summary>What the right hand plays, section by section.</summary>
    public required RightHand Hand { get; init; }

    /// <summary>The pattern that is played longest.</summary>
    public StrumPattern Strum => Hand.Main;

    /// <summary>Load of the right hand at the song's tempo, 0 to 100.</summary>
    public required double StrumLoad { get; init; }

    /// <summary>See <see cref="RungLimits.Number"/>.</summary>
    public int Number => Limits.Number;
}

/// <summary>A version that can be played.</summary>
public sealed record PlayableRung : Rung
{
    /// <summary>Its chords and changes, second shapes numbered after the chords of the song.</summary>
    public required ChordFlow Flow { get; init; }

    /// <summary>The chords: those of the song, then second shapes.</summary>
    public required IReadOnlyList<RungChord> Chords { get; init; }

    /// <summary>The chords the rung plays.</summary>
    public IEnumerable<PlayedChord> Played => Chords.OfType<PlayedChord>();

    /// <summary>How the rung plays a chord.</summary>
    /// <param name="chord">Its index among <see cref="Chords"/>.</param>
    /// <exception cref="InvalidOperationException">The rung leaves it out.</exception>
    public PlayedChord PlayedAs(int chord) =>
        Chords[chord] as PlayedChord
            ?? throw new InvalidOperationException($"Rung {Number} leaves {Chords[chord].ShapeChord.Name} out.");

    /// <summary>The changes between them.</summary>
    public required IReadOnlyList<RungChange> Changes { get; init; }

    /// <summary>Riffs and runs, those that are left out as well.</summary>
    public IReadOnlyList<RungFigure> Figures { get; init; } = [];

    /// <summary>Time-weighted load, 0 to 100.</summary>
    public required double Load { get; init; }

    /// <summary>Time-weighted closeness, 0 to 1.</summary>
    public required double Closeness { get; init; }

    /// <summary>False when the search for the usual shapes was left off before the least sum was proved; see
    /// <see cref="ExactOptimiser.MostNodes"/>.</summary>
    public required bool IsProved { get; init; }

    /// <summary>The same version under another right hand, which leaves other times for the changes.</summary>
    /// <param name="hand">The right hand, for the same song.</param>
    public PlayableRung Struck(RightHand hand) => this with
    {
        Hand = hand, StrumLoad = hand.LoadAt(Song.Chart.Tempo),
        Changes = [.. Changes.Zip(Flow.Steps,
            (change, step) => hand.Hardest(step) is var (place, time) ? change with { Place = place, Time = time } : change)],
    };

    /// <summary>True when every chord is played as on the rung below.</summary>
    public bool SameAsBelow { get; init; }
}

/// <summary>A version that cannot be arranged at the place.</summary>
public sealed record BlockedRung : Rung
{
    /// <summary>The chord that blocks it, as it sounds.</summary>
    public required Chord Chord { get; init; }

    /// <summary>The same chord at the pitch of the shapes.</summary>
    public required Chord ShapeChord { get; init; }

    /// <summary>What comes nearest, and what forbids it; null when no shape of the chord fits this hand here.</summary>
    public required (Candidate Candidate, RungLimit Broken)? Nearest { get; init; }

    /// <summary>Capos at which the rung can be played.</summary>
    public required IReadOnlyList<int> FreeAt { get; init; }
}
