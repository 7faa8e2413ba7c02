using System.Globalization;
using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Arranging;

/// <summary>What an arrangement needs to know of a player. All other skills touch only how a version fits, so students of one
/// kind share their arrangements.</summary>
/// <param name="Hand">The fretting hand.</param>
/// <param name="Guitar">The guitar.</param>
/// <param name="Thumb">True when the thumb may come over the neck.</param>
/// <param name="Barres">The goal for barres.</param>
/// <param name="Pace">How quick changes are.</param>
public sealed record PlayerKind(Hand Hand, Guitar Guitar, bool Thumb, BarreGoal Barres, ChangePace Pace)
{
    /// <summary>The kind of a player of whom nothing is known: a medium hand on a steel-string guitar, changes at
    /// <see cref="UsualChangeSkill"/>.</summary>
    public static readonly PlayerKind Usual =
        new(Hand.Medium, Guitar.Steel, false, BarreGoal.Neutral, ChangePace.Of(UsualChangeSkill));

    /// <summary>Skill in changing of a player of whom nothing is known, 0 to 100.</summary>
    public const double UsualChangeSkill = 40;

    /// <summary>How the guitar stands, whatever the song has: six open strings. Null for a guitar that is tuned as the song
    /// wants it.</summary>
    public Tuning? Strings { get; init; }

    /// <summary>The kind in one word, the same for equal kinds: <c>medium.steel.thumb.seek.4</c>, with the strings of a guitar
    /// that stands in a tuning: <c>medium.steel.thumb.seek.4.38-45-50-55-59-64</c>.</summary>
    public string Key =>
        string.Create(CultureInfo.InvariantCulture,
            $"{Hand.Id}.{Guitar.Id}.{(Thumb ? "thumb" : "fingers")}.{Barres.ToString().ToLowerInvariant()}.{Pace.Step}{(Strings is null ? "" : $".{string.Join('-', Strings.Strings)}")}");

    /// <inheritdoc/>
    public override string ToString() => Key;
}
