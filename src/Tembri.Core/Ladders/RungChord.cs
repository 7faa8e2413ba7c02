using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Strums;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Ladders;

/// <summary>A chord of the song on a rung: a <see cref="PlayedChord"/>, or a <see cref="LeftOutChord"/>.</summary>
/// <param name="Index">Where it stands among the rung's chords: the chords of the song, then second shapes.</param>
/// <param name="Sounding">The chord as it sounds.</param>
/// <param name="ShapeChord">The chord at the pitch of the shapes.</param>
/// <param name="Guard">What the chart forbids for it.</param>
public abstract record RungChord(int Index, Chord Sounding, Chord ShapeChord, Guard Guard)
{
    /// <summary>Which chord of the song.</summary>
    public int SongChord { get; init; } = Index;

    /// <summary>True for a shape that is used only before a certain chord.</summary>
    public bool IsSecond => SongChord != Index;
}

/// <summary>A passing chord that the rung leaves out; its beats go to its neighbour.</summary>
public sealed record LeftOutChord(int Index, Chord Sounding, Chord ShapeChord,
    Guard Guard) : RungChord(Index, Sounding, ShapeChord, Guard);

/// <summary>A chord that is played.</summary>
/// <param name="Index">See <see cref="RungChord"/>.</param>
/// <param name="Sounding">See <see cref="RungChord"/>.</param>
/// <param name="ShapeChord">See <see cref="RungChord"/>.</param>
/// <param name="Guard">See <see cref="RungChord"/>.</param>
/// <param name="Choice">How it is played.</param>
/// <param name="IsChanged">True when shape or fingers differ from the rung below, or there is no rung below that plays
/// it.</param>
/// <param name="IsNew">True when it is changed and no chord of the rung below is played so: there is something to learn.</param>
public sealed record PlayedChord(int Index, Chord Sounding, Chord ShapeChord, Guard Guard, Candidate Choice, bool IsChanged,
    bool IsNew) : RungChord(Index, Sounding, ShapeChord, Guard)
{
    /// <summary>For a second shape the chord of the shapes that follows where it is used; null at the end of the song, and for
    /// the usual shape.</summary>
    public Chord? Before { get; init; }

    /// <summary>The teacher's own grip for the chord, where something else is played because it pays; null else.</summary>
    public Candidate? OwnGrip { get; init; }

    /// <summary>Seconds of all changes of the form, for the reference player, that what is played saves against
    /// <see cref="OwnGrip"/>; below 0 when it costs some.</summary>
    public double SavedSeconds { get; init; }

    /// <summary>Why the teacher wants another chord here, in her words; null where she does not.</summary>
    public string? Reason { get; init; }
}

/// <summary>A change between two chords of a rung.</summary>
/// <param name="From">Index of the chord left.</param>
/// <param name="To">Index of the chord reached.</param>
/// <param name="Count">Times in the form.</param>
/// <param name="Change">What the fingers do, and how long the reference player takes.</param>
/// <param name="TimedSeconds">Seconds as they were timed for this student; null when they were not.</param>
/// <param name="Place">Where the right hand leaves least time for it.</param>
/// <param name="Time">The time there.</param>
public sealed record RungChange(int From, int To, int Count, Change Change, double? TimedSeconds, ChangePlace Place,
    ChangeTime Time)
{
    /// <summary>Beats the right hand leaves for it.</summary>
    public double FreeBeats => Time.Free;
}
