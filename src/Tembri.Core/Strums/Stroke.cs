namespace Tembri.Core.Strums;

/// <summary>What the striking hand does at one step of a pattern.</summary>
public enum Stroke
{
    /// <summary>The hand rests, the strings ring on.</summary>
    Rest,
    /// <summary>The hand keeps its swing and passes the strings without touching them.</summary>
    Miss,
    /// <summary>The hand stops the strings: silence until the next stroke.</summary>
    Stop,
    /// <summary>A down-stroke.</summary>
    Down,
    /// <summary>An up-stroke.</summary>
    Up,
    /// <summary>A stroke over strings that a hand damps.</summary>
    Muted,
    /// <summary>Strings are picked.</summary>
    Pick,
}

/// <summary>One step of a pattern.</summary>
/// <param name="Stroke">The stroke.</param>
/// <param name="Accent">True when it is leaned on.</param>
/// <param name="Picks">For <see cref="Stroke.Pick"/> the strings picked at once: <c>b</c> the bass string of the shape, <c>a</c>
/// the bass string it alternates with, <c>1</c> to <c>6</c> a string by its number, 1 the highest. Else empty.</param>
public readonly record struct HandStep(Stroke Stroke, bool Accent = false, string Picks = "")
{
    /// <summary>The hand rests.</summary>
    public static readonly HandStep Rest = new(Stroke.Rest);

    /// <summary>A plain down-stroke.</summary>
    public static readonly HandStep Down = new(Stroke.Down);

    /// <summary>True when something is struck or picked.</summary>
    public bool Sounds => Stroke >= Stroke.Down;

    /// <summary>True when the hand moves.</summary>
    public bool Moves => Sounds || Stroke == Stroke.Miss;

    /// <summary>True when the thumb picks, alone or with others.</summary>
    public bool HasThumb => Picks.AsSpan().IndexOfAny("ab456") >= 0;

    /// <summary>The step as it is written.</summary>
    public override string ToString() => Stroke switch
    {
        Stroke.Pick => Written(Picks.Length == 1 ? Picks : $"({Picks})"),
        Stroke.Down => Written("d"),
        Stroke.Up => Written("u"),
        Stroke.Muted => Written("x"),
        Stroke.Miss => "-",
        Stroke.Stop => "s",
        _ => ".",
    };

    private string Written(string text) => Accent ? text.ToUpperInvariant() : text;
}
