using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Students;

/// <summary>What a student wants with barres.</summary>
public enum BarreGoal
{
    /// <summary>Do without as far as the song allows.</summary>
    Avoid,
    /// <summary>No wish either way.</summary>
    Neutral,
    /// <summary>Practise them on purpose.</summary>
    Seek,
}

/// <summary>One student's hand, guitar and skill.</summary>
public sealed record Player
{
    /// <summary>The fretting hand.</summary>
    public Hand Hand { get; init; } = Hand.Medium;

    /// <summary>The guitar.</summary>
    public Guitar Guitar { get; init; } = Guitar.Steel;

    /// <summary>True when the thumb may come over the neck.</summary>
    public bool Thumb { get; init; }

    /// <summary>The goal for barres.</summary>
    public BarreGoal Barres { get; init; } = BarreGoal.Neutral;

    /// <summary>Skill by technique.</summary>
    public Skills Skills { get; init; } = new();

    /// <summary>How much longer than the reference player this student takes for a change.</summary>
    /// <remarks>1 at skill 50; doubles for every 30 points less.</remarks>
    public double ChangeSlowness => Math.Pow(2, (50 - Skills.Changes) / 30);
}
