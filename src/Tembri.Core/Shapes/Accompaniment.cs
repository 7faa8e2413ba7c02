namespace Tembri.Core.Shapes;

/// <summary>Who plays along: it decides how much a wrong bass note matters.</summary>
public enum Accompaniment
{
    /// <summary>The guitar is alone.</summary>
    Alone,
    /// <summary>The record or a bass player plays along.</summary>
    Record,
}
