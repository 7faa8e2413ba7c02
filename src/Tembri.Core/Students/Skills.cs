using Tembri.Core.Shapes;

namespace Tembri.Core.Students;

/// <summary>What a shape or a change asks of a player, each graded on its own.</summary>
public enum Technique
{
    /// <summary>Placing fingers together, close and in order.</summary>
    Fingers,
    /// <summary>Reaching across frets.</summary>
    Stretch,
    /// <summary>A finger across two or three strings.</summary>
    ShortBarre,
    /// <summary>A finger across four strings or more.</summary>
    FullBarre,
    /// <summary>Keeping strings silent.</summary>
    Muting,
    /// <summary>The thumb over the neck.</summary>
    Thumb,
    /// <summary>Changing in time.</summary>
    Changes,
    /// <summary>Strumming.</summary>
    RightHand,
}

/// <summary>Skill by technique, each 0 to 100 on the scale of <see cref="Load"/>.</summary>
public sealed record Skills
{
    /// <summary>Placing fingers.</summary>
    public double Fingers { get; init; } = 40;

    /// <summary>Reaching.</summary>
    public double Stretch { get; init; } = 35;

    /// <summary>Short barres.</summary>
    public double ShortBarre { get; init; } = 30;

    /// <summary>Full barres.</summary>
    public double FullBarre { get; init; } = 10;

    /// <summary>Keeping strings silent.</summary>
    public double Muting { get; init; } = 30;

    /// <summary>Thumb over the neck.</summary>
    public double Thumb { get; init; }

    /// <summary>Changing in time.</summary>
    public double Changes { get; init; } = 40;

    /// <summary>Strumming.</summary>
    public double RightHand { get; init; } = 40;

    /// <summary>Skills by technique.</summary>
    public static Skills Each(Func<Technique, double> skill) => new()
    {
        Fingers = skill(Technique.Fingers), Stretch = skill(Technique.Stretch), ShortBarre = skill(Technique.ShortBarre),
        FullBarre = skill(Technique.FullBarre),
        Muting = skill(Technique.Muting), Thumb = skill(Technique.Thumb), Changes = skill(Technique.Changes),
        RightHand = skill(Technique.RightHand),
    };

    /// <summary>The skill of a technique.</summary>
    public double this[Technique technique] => technique switch
    {
        Technique.Fingers => Fingers,
        Technique.Stretch => Stretch,
        Technique.ShortBarre => ShortBarre,
        Technique.FullBarre => FullBarre,
        Technique.Muting => Muting,
        Technique.Thumb => Thumb,
        Technique.Changes => Changes,
        _ => RightHand,
    };

    /// <summary>The name of the first technique that is outside 0 to 100, or null.</summary>
    public string? FirstOutOfRange() =>
        Enum.GetValues<Technique>().Where(t => this[t] is not (>= 0 and <= 100)).Select(t => (string?)t.ToString())
            .FirstOrDefault();
}
