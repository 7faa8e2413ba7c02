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
public sealed record ClosenessReport(double Value, IReadOnlyList<Degree> Missing, int ForeignMask, bool WrongBass, int Sounding);

/// <summary>Weighs how near a shape comes to a chord.</summary>
public static class Closeness
{
    // By strings fewer than the fullest taught shape of the chord.
    private static readonly double[] Fullness = [1, 0.985, 0.95, 0.88, 0.72, 0.5];
    private const double RubsTheTune = 0.12;       // a foreign tone a semitone from a note of the tune
    private const double BelongsToTheTune = 0.5;   // share of its cost that a foreign tone keeps when the tune has it

    /// <summary>Compares a shape with the chord it stands for.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="chord">The chord on the record, at the pitch the shape is heard.</param>
    /// <param name="tuning">Open strings.</param>
    /// <param name="capo">The capo's fret.</param>
    /// <param name="accompaniment">Who plays along.</param>
    /// <param name="fullest">Strings of the fullest shape taught for this chord, 4 to 6; fewer strings sound thinner.</param>
    /// <param name="melody">Pitch classes of the tune over the chord, bit n for pitch class n, at the pitch the shape is heard; 0 when it is not known.</param>
    public static ClosenessReport Of(Shape shape, Chord chord, Tuning tuning, int capo = 0, Accompaniment accompaniment = Accompaniment.Record, int fullest = 6, int melody = 0)
    {
        var sounding = shape.PitchClassMask(tuning, capo);
        double total = 0, kept = 0;
        var missing = new List<(double Weight, Degree Degree)>();
        foreach (var degree in chord.Degrees)
        {
            var weight = WeightOf(degree, chord);
            total += weight;
            if ((sounding & 1 << (chord.Root.PitchClass + degree.Semitones) % 12) != 0) kept += weight;
            else missing.Add((weight, degree));
        }
        var value = kept / total;
        var foreign = sounding & ~chord.PitchClassMask;
        for (var pitchClass = 0; pitchClass < 12; pitchClass++)
            if ((foreign & 1 << pitchClass) != 0)
                value -= ForeignCost((pitchClass - chord.Root.PitchClass + 12) % 12, chord) * ((melody & 1 << pitchClass) != 0 ? BelongsToTheTune : 1) + Rub(pitchClass, melody);
        var wrongBass = shape.BassPitchClass(tuning, capo) != chord.BassPitchClass;
        if (wrongBass) value -= (accompaniment, chord.Bass is not null) switch
        {
            (Accompaniment.Alone, true) => 0.12,
            (Accompaniment.Alone, false) => 0.08,
            (_, true) => 0.06,
            _ => 0.03,
        };
        value *= Fullness[Math.Clamp(fullest - shape.Sounding, 0, Fullness.Length - 1)];
        return new ClosenessReport(Math.Clamp(value, 0, 1), [.. missing.OrderByDescending(m => m.Weight).Select(m => m.Degree)], foreign, wrongBass, shape.Sounding);
    }

    private static double Rub(int pitchClass, int melody) =>
        (melody & 1 << pitchClass) == 0 && (melody & (1 << (pitchClass + 1) % 12 | 1 << (pitchClass + 11) % 12)) != 0 ? RubsTheTune : 0;

    private static double WeightOf(Degree degree, Chord chord) => degree.Role switch
    {
        DegreeRole.ThirdOrSuspension => degree is { Number: 3, Alteration: 0 } && chord.Degrees.Any(d => d is { Number: 11, Alteration: 0 }) ? 5 : 26,
        DegreeRole.Seventh => 20,
        DegreeRole.Root => 20,
        DegreeRole.AlteredFifth => 16,
        DegreeRole.Colour => 9,
        _ => 7,
    };

    /// <summary>What a tone that is not in the chord costs, by its distance from the root.</summary>
    private static double ForeignCost(int semitones, Chord chord)
    {
        var minor = chord.IsMinor;
        return semitones switch
        {
            2 => 0.08,                                              // an added ninth
            9 => minor ? 0.12 : 0.10,                               // a sixth
            10 => minor ? 0.07 : chord.Has(4) ? 0.12 : 0.10,        // a minor seventh
            11 => minor ? 0.18 : chord.Has(10) ? 0.30 : 0.08,       // a major seventh
            5 => minor ? 0.12 : chord.Has(4) ? 0.18 : 0.12,         // a fourth against the third
            7 => 0.08,                                              // a plain fifth beside an altered one
            3 when chord.Has(4) => 0.28,                            // minor third in a major chord
            4 when chord.Has(3) => 0.28,
            3 or 4 => 0.10,                                         // a third where the chord has none
            _ => 0.26,
        };
    }

    /// <summary>How many different pitch classes a mask holds.</summary>
    public static int Count(int mask) => BitOperations.PopCount((uint)mask);
}
