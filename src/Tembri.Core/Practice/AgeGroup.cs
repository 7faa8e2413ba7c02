namespace Tembri.Core.Practice;

/// <summary>How old a student is, as far as care needs it: no birth date is kept.</summary>
public enum AgeGroup
{
    /// <summary>Grown up, or nearly.</summary>
    Grown,
    /// <summary>A child: shorter stretches, fewer minutes of barres, more breaks.</summary>
    Child,
}
