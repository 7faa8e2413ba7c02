using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

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

    /// <summary>Timed counts of this student: clean changes a minute from one shape to another. They override the model.</summary>
    public IReadOnlyDictionary<(Shape From, Shape To), double> CleanChangesAMinute { get; init; } = new Dictionary<(Shape, Shape), double>();

    /// <summary>Seconds a change took when it was timed, 60/N for N clean changes a minute; null when it was not.</summary>
    public double? Measured(Fingering from, Fingering to) =>
        CleanChangesAMinute.Count > 0 && CleanChangesAMinute.TryGetValue((from.Shape, to.Shape), out var count) && count > 0 ? 60 / count : null;

    /// <summary>How much longer than the reference player this student takes for a change.</summary>
    /// <remarks>1 at skill 50; doubles for every 30 points less.</remarks>
    public double ChangeSlowness => Math.Pow(2, (50 - Skills.Changes) / 30);
}
