namespace Tembri.Core.Hands;

/// <summary>The fretting hand's fingers, numbered as on every chord sheet.</summary>
public enum Finger : byte
{
    /// <summary>No finger: an open or silent string.</summary>
    None = 0,
    /// <summary>1, index finger.</summary>
    Index = 1,
    /// <summary>2, middle finger.</summary>
    Middle = 2,
    /// <summary>3, ring finger.</summary>
    Ring = 3,
    /// <summary>4, little finger.</summary>
    Little = 4,
    /// <summary>T, the thumb over the neck; 5 in the HTTP contract.</summary>
    Thumb = 5,
}
