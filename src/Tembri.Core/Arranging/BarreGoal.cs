namespace Tembri.Core.Arranging;

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
