namespace Tembri.Core.Shapes;

/// <summary>The kinds of work that make up the load of a shape.</summary>
public enum LoadPartKind
{
    /// <summary>How many fingers are placed.</summary>
    Fingers,
    /// <summary>Ring and little finger, which are weaker.</summary>
    WeakFingers,
    /// <summary>Reach between fingers along the neck.</summary>
    Stretch,
    /// <summary>A finger lying across several strings.</summary>
    Barre,
    /// <summary>Fingertips side by side in one fret space.</summary>
    Crowding,
    /// <summary>A higher finger on the bass side of a lower one at the same fret.</summary>
    Crossing,
    /// <summary>Strings to silence or to leave out.</summary>
    Mutes,
    /// <summary>Open strings a neighbouring fingertip must stay clear of.</summary>
    OpenStrings,
    /// <summary>The thumb over the neck.</summary>
    Thumb,
    /// <summary>Where on the neck the hand stands.</summary>
    Height,
}

/// <summary>One part of a shape's effort, with the measurement behind it.</summary>
/// <param name="Kind">What kind of work.</param>
/// <param name="Effort">Its share of the effort, 0 or more.</param>
/// <param name="Measure">The measurement.</param>
/// <param name="Unit">Its unit: mm, N, fingers, strings, pairs or fret.</param>
public readonly record struct LoadPart(LoadPartKind Kind, double Effort, double Measure, string Unit);
