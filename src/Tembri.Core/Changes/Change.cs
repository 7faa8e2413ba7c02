using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Core.Changes;

/// <summary>The step from one fingered shape to the next, for a reference player.</summary>
/// <param name="From">The shape left.</param>
/// <param name="To">The shape reached.</param>
/// <param name="Seconds">Time a reference player needs, s; 0 when nothing moves.</param>
/// <param name="Anchors">Fingers that stay on their string and fret.</param>
/// <param name="Guides">Fingers that slide along their string.</param>
/// <param name="Moving">Fingers that go to another string.</param>
/// <param name="Landing">Fingers that come down anew.</param>
/// <param name="Lifting">Fingers that only leave.</param>
/// <param name="Blocks">Separate movements: fingers that move alike are one.</param>
/// <param name="ShiftMm">How far the whole hand moves along the neck, mm.</param>
public sealed record Change(
    Fingering From, Fingering To, double Seconds, IReadOnlyList<Finger> Anchors, IReadOnlyList<Finger> Guides,
    IReadOnlyList<Finger> Moving, IReadOnlyList<Finger> Landing, IReadOnlyList<Finger> Lifting, int Blocks, double ShiftMm);
