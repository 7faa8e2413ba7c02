using Tembri.Core.Chords;

namespace Tembri.Web.Drawings;

/// <summary>The inks of a drawing; what they look like is up to whoever renders it.</summary>
public enum Tone
{
    /// <summary>What matters.</summary>
    Ink,
    /// <summary>What explains it.</summary>
    Pencil,
    /// <summary>What orders it.</summary>
    Rule,
    /// <summary>What is chosen.</summary>
    Accent,
    /// <summary>What covers.</summary>
    Paper,
    /// <summary>Nothing that is seen: it can be pressed.</summary>
    Clear,
}

/// <summary>Where a label is held.</summary>
public enum Anchor { Start, Middle, End }

/// <summary>One mark of a drawing. Lengths are in the scene's units, y grows downward.</summary>
public abstract record Mark;

/// <summary>A straight line.</summary>
public sealed record Line(double X1, double Y1, double X2, double Y2, double Weight, Tone Tone = Tone.Ink,
    bool Broken = false) : Mark;

/// <summary>A filled disc, or a ring when <paramref name="Weight"/> is above 0.</summary>
public sealed record Disc(double X, double Y, double Radius, Tone Tone = Tone.Ink, double Weight = 0) : Mark;

/// <summary>A filled rectangle with round corners, or its outline when <paramref name="Weight"/> is above 0.</summary>
public sealed record Slab(double X, double Y, double Width, double Height, double Round, Tone Tone = Tone.Ink,
    double Weight = 0) : Mark;

/// <summary>A filled polygon.</summary>
public sealed record Area(IReadOnlyList<(double X, double Y)> Points, Tone Tone = Tone.Ink) : Mark;

/// <summary>An open smooth curve through points.</summary>
public sealed record Curve(IReadOnlyList<(double X, double Y)> Points, double Weight, Tone Tone = Tone.Rule) : Mark;

/// <summary>A short text.</summary>
public sealed record Label(double X, double Y, string Text, double Size, Tone Tone = Tone.Ink, Anchor Anchor = Anchor.Start,
    bool Bold = false) : Mark
{
    /// <summary>True when paper surrounds the letters, so that they are read over lines.</summary>
    public bool HasHalo { get; init; }
}

/// <summary>A chord's name, with its extensions raised.</summary>
public sealed record Symbol(double X, double Y, Chord Chord, double Size, Tone Tone = Tone.Ink) : Mark;

/// <summary>Another drawing, set in at a place in its own size.</summary>
public sealed record Inset(double X, double Y, Scene Scene) : Mark;

/// <summary>Marks that lead somewhere when pressed.</summary>
public sealed record Link(string Address, string Name, bool IsCurrent, IReadOnlyList<Mark> Marks) : Mark
{
    /// <summary>Names the place for the keys of a page; null where no key leads.</summary>
    public string? Key { get; init; }
}

/// <summary>A drawing: marks on a surface, with the same thing said in words.</summary>
/// <param name="Width">Width in units.</param>
/// <param name="Height">Height in units.</param>
/// <param name="Words">What the drawing shows, for those who do not see it.</param>
/// <param name="Marks">Marks in painting order.</param>
/// <param name="Scale">Screen pixels a unit.</param>
public sealed record Scene(double Width, double Height, string Words, IReadOnlyList<Mark> Marks, double Scale = 1);
