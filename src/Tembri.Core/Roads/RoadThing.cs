using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Roads;

/// <summary>One thing there is to learn: a shape, a change in a certain time, or a level of a technique. Once learnt, it is
/// learnt for every song.</summary>
public abstract record RoadThing;

/// <summary>A shape.</summary>
/// <param name="Shape">Frets from the capo.</param>
public sealed record ShapeThing(Shape Shape) : RoadThing;

/// <summary>A change between two shapes, either way, in a time.</summary>
/// <param name="A">One shape.</param>
/// <param name="B">The other; which is which does not matter, they come in the order of their text.</param>
/// <param name="Level">The time there is: 2^(−Level/2) seconds.</param>
public sealed record ChangeThing(Shape A, Shape B, int Level) : RoadThing
{
    /// <summary>The time there is, s.</summary>
    public double Seconds => SecondsOf(Level);

    /// <summary>The time of a level, s.</summary>
    public static double SecondsOf(int level) => Math.Pow(2, -level / 2.0);

    /// <summary>The highest level whose time is not shorter than a time, s.</summary>
    public static int LevelOf(double seconds) => (int)Math.Floor(-2 * Math.Log2(seconds) + 1e-9);

    /// <summary>A change by its two shapes, whichever comes first.</summary>
    public static ChangeThing Between(Shape a, Shape b, int level) =>
        string.CompareOrdinal(a.ToString(), b.ToString()) <= 0 ? new ChangeThing(a, b, level) : new ChangeThing(b, a, level);
}

/// <summary>A technique up to a level.</summary>
/// <param name="Technique">The technique.</param>
/// <param name="Level">0 to 100, a multiple of <see cref="Step"/>.</param>
public sealed record TechniqueThing(Technique Technique, int Level) : RoadThing
{
    /// <summary>Points from a level to the next.</summary>
    public const int Step = 10;
}
