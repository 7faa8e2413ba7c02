using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Practice;

/// <summary>Something that was tried and what came of it: what skills are learnt from.</summary>
/// <param name="At">When.</param>
public abstract record Evidence(DateTimeOffset At);

/// <summary>Tries that each came off or did not.</summary>
/// <param name="At">When.</param>
/// <param name="Gates">What had to come off for a try to be clean, at least one.</param>
/// <param name="Tries">How many, 1 or more.</param>
/// <param name="Clean">How many of them were clean, 0 to <paramref name="Tries"/>.</param>
/// <param name="Shape">The shape that was tried; null when it was something else.</param>
public sealed record Trials(DateTimeOffset At, IReadOnlyList<Gate> Gates, int Tries, int Clean,
    Shape? Shape = null) : Evidence(At)
{
    /// <summary>Tries of a fingered shape.</summary>
    public static Trials OfShape(DateTimeOffset at, Fingering fingering, int tries, int clean) =>
        new(at, [.. FitModel.Demands(fingering).Select(Gate.Of)], tries, clean, fingering.Shape);

    /// <summary>A pattern played once through at a tempo.</summary>
    /// <param name="at">When.</param>
    /// <param name="load">Load of the pattern at that tempo, 0 to 100.</param>
    /// <param name="clean">Whether it went.</param>
    public static Trials OfStrum(DateTimeOffset at, double load, bool clean) => new(at, [Gate.OfStrum(load)], 1, clean ? 1 : 0);
}

/// <summary>Clean changes between two shapes, counted against the clock.</summary>
/// <param name="At">When.</param>
/// <param name="ReferenceSeconds">What the reference player needs for the way, s, above 0; see
/// <see cref="Core.Changes.ChangeModel"/>.</param>
/// <param name="Count">Clean changes, 0 or more.</param>
/// <param name="Seconds">In how many seconds, above 0.</param>
/// <param name="Between">The shapes, when they are known.</param>
public sealed record ChangeCount(DateTimeOffset At, double ReferenceSeconds, int Count, double Seconds,
    (Shape From, Shape To)? Between = null) : Evidence(At);
