using System.Numerics;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;

namespace Tembri.Core.Shapes;

/// <summary>How near a shape comes to the chord on the record, with what was lost and added.</summary>
/// <param name="Value">0 to 1.</param>
/// <param name="Missing">Tones of the chord that do not sound, the most telling first.</param>
/// <param name="ForeignMask">Bit n set when pitch class n sounds but does not belong.</param>
/// <param name="WrongBass">True when another note than the chord's bass sounds lowest.</param>
/// <param name="Sounding">How many strings sound.</param>
/// <param name="Mask">Bit n set when pitch class n sounds.</param>
public sealed record ClosenessReport(double Value, IReadOnlyList<Degree> Missing, int ForeignMask, bool WrongBass, int Sounding,
    int Mask);

/// <summary>Weighs how near a shape comes to a chord.</summary>
public static class Closeness
{
    /// <summary>Compares a shape with the chord it stands for.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="chord">The chord on the record, at the pitch the shape is heard.</param>
    /// <param name="tuning">Open strings.</param>
    /// <param name="capo">The capo's fret.</param>
    /// <param name="accompaniment">Who plays along.</param>
    /// <param name="fullest">Strings of the fullest shape taught for this chord, 4 to 6; fewer strings sound thinner.</param>
    /// <param name="melody">Pitch classes of the tune over the chord, bit n for pitch class n, at the pitch the shape is heard;
    /// 0 when it is not known.</param>
    public static ClosenessReport Of(Shape shape, Chord chord, Tuning tuning, int capo = 0,
        Accompaniment accompaniment = Accompaniment.Record, int fullest = 6, int melody = 0) =>
        new ClosenessScale(chord, tuning, capo, accompaniment, fullest, melody).Of(shape);

    /// <summary>How many different pitch classes a mask holds.</summary>
    public static int Count(int mask) => BitOperations.PopCount((uint)mask);
}
