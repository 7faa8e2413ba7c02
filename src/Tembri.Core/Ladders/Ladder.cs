using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Ladders;

/// <summary>Five versions of a song for one kind of player.</summary>
public sealed record Ladder
{
    /// <summary>The song, moved for the voice when that was the aim.</summary>
    public required Chart Chart { get; init; }

    /// <summary>Its chords and changes.</summary>
    public required ChordFlow Flow { get; init; }

    /// <summary>What the chart forbids for each chord.</summary>
    public required IReadOnlyList<Guard> Guards { get; init; }

    /// <summary>All positions compared, capo 0 first.</summary>
    public required IReadOnlyList<Place> Places { get; init; }

    /// <summary>The capo used.</summary>
    public required int Capo { get; init; }

    /// <summary>The end of the song at which the capo is moved up; null when one place serves all. The chart has it at the pitch
    /// of the beginning.</summary>
    public KeyLift? Lift { get; init; }

    /// <summary>The capo the arranger would choose.</summary>
    public required int RecommendedCapo { get; init; }

    /// <summary>Semitones the song was moved for the voice; 0 for the record's pitch.</summary>
    public int VoiceShift { get; init; }

    /// <summary>The key of the shapes.</summary>
    public required Key ShapeKey { get; init; }

    /// <summary>The rungs, the lowest first: 1 to 5, unless the teacher left some out or took some in between.</summary>
    public required IReadOnlyList<Rung> Rungs { get; init; }

    /// <summary>The rung of a number; null when the ladder has none.</summary>
    public Rung? Find(int number) => Rungs.FirstOrDefault(r => r.Number == number);

    /// <summary>Where a rung stands among <see cref="Rungs"/>; −1 when the ladder has no such rung.</summary>
    public int IndexOf(int number)
    {
        for (var i = 0; i < Rungs.Count; i++) if (Rungs[i].Number == number) return i;
        return -1;
    }

    /// <summary>The rung of a number, or the one nearest to it.</summary>
    public Rung Nearest(int number) => Find(number) ?? Rungs.MinBy(r => Math.Abs(r.Limits.Height - number))!;

    /// <summary>All supported trade-offs of load against closeness at this capo, the lightest first.</summary>
    public required IReadOnlyList<TradeOff> TradeOffs { get; init; }

    /// <summary>The rungs that can be played.</summary>
    public IEnumerable<PlayableRung> Playable => Rungs.OfType<PlayableRung>();

    /// <summary>A rung that can be played.</summary>
    /// <param name="number">Its number.</param>
    /// <exception cref="InvalidOperationException">It is blocked, or there is none.</exception>
    public PlayableRung Played(int number) =>
        Find(number) as PlayableRung ?? throw new InvalidOperationException($"Rung {number} cannot be played at capo {Capo}.");
}
