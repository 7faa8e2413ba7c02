using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Students;

/// <summary>One student's hand, guitar and skill.</summary>
public sealed record Player
{
    /// <summary>The fretting hand.</summary>
    public Hand Hand { get; init; } = Hand.Medium;

    /// <summary>The guitar.</summary>
    public Guitar Guitar { get; init; } = Guitar.Steel;

    /// <summary>How the guitar stands, whatever the song has; null when it is tuned as the song wants it.</summary>
    public Tuning? Strings { get; init; }

    /// <summary>True when the thumb may come over the neck.</summary>
    public bool Thumb { get; init; }

    /// <summary>The goal for barres.</summary>
    public BarreGoal Barres { get; init; } = BarreGoal.Neutral;

    /// <summary>Skill by technique.</summary>
    public Skills Skills { get; init; } = new();

    /// <summary>Skill by which arrangements are chosen, where it is another: shapes stay as they were handed out while a student
    /// learns. Null for <see cref="Skills"/>.</summary>
    public Skills? ArrangedBy { get; init; }

    /// <summary>What was measured of single shapes and changes; it touches the fit, not the arrangement.</summary>
    public Measured Measured { get; init; } = Measured.None;

    /// <summary>Changes counted against the clock; they override the model, and make arrangements of this student's
    /// own.</summary>
    public TimedChanges Timed { get; init; } = TimedChanges.None;

    /// <summary>What an arrangement needs to know of the student.</summary>
    /// <remarks>Who cannot play a full barre yet, and does not seek them, is arranged for like somebody who avoids
    /// them.</remarks>
    public PlayerKind Kind =>
        new(Hand, Guitar, Thumb,
            Barres == BarreGoal.Neutral && Arranged.FullBarre < FitWeights.Default.FullBarreAtAll ? BarreGoal.Avoid : Barres,
            ChangePace.Of(Arranged.Changes))
        {
            Strings = Strings
        };

    private Skills Arranged => ArrangedBy ?? Skills;

    /// <summary>How much longer than the reference player this student takes for a change.</summary>
    /// <remarks>1 at skill 50; doubles for every 20 points less.</remarks>
    public double ChangeSlowness => ChangePace.SlownessOf(Skills.Changes);
}
