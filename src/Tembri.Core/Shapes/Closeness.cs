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
public sealed record ClosenessReport(double Value, IReadOnlyList<Degree> Missing, int ForeignMask, bool WrongBass, int Sounding, int Mask);

/// <summary>Weighs how near a shape comes to a chord.</summary>
public static class Closeness
{
    private static readonly ClosenessWeights W = ClosenessWeights.Default;

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
        var foreign = sounding & ~chord.PitchClassMask;
        var suspended = missing.Find(m => m.Degree.Role == DegreeRole.ThirdOrSuspension).Weight > 0 && !chord.IsSuspended ? foreign & (Tone(chord, 2) | Tone(chord, 5)) : 0;
        if (suspended != 0) kept += W.SuspendedThird * W.ThirdOrSuspension;
        var value = kept / total;
        for (var pitchClass = 0; pitchClass < 12; pitchClass++)
            if ((foreign & ~suspended & 1 << pitchClass) != 0)
                value -= ForeignCost((pitchClass - chord.Root.PitchClass + 12) % 12, chord) * ((melody & 1 << pitchClass) != 0 ? W.BelongsToTheTune : 1) + Rub(pitchClass, melody);
        if (IsMuddy(shape, tuning)) value -= W.Muddy;
        // A diminished seventh is the same over each of its tones.
        var wrongBass = shape.BassPitchClass(tuning, capo) != chord.BassPitchClass && !(chord.IsDiminishedSeventh && chord.Bass is null && foreign == 0);
        if (wrongBass) value -= (accompaniment, chord.Bass is not null) switch
        {
            (Accompaniment.Alone, true) => W.WrongSlashBassAlone,
            (Accompaniment.Alone, false) => W.WrongBassAlone,
            (_, true) => W.WrongSlashBass,
            _ => W.WrongBass,
        };
        value *= W.Fullness[Math.Clamp(fullest - shape.Sounding, 0, W.Fullness.Count - 1)];
        return new ClosenessReport(Math.Clamp(value, 0, 1), [.. missing.OrderByDescending(m => m.Weight).Select(m => m.Degree)], foreign, wrongBass, shape.Sounding, sounding);
    }

    private static double Rub(int pitchClass, int melody) =>
        (melody & 1 << pitchClass) == 0 && (melody & (1 << (pitchClass + 1) % 12 | 1 << (pitchClass + 11) % 12)) != 0 ? W.RubsTheTune : 0;

    private static double WeightOf(Degree degree, Chord chord) => degree.Role switch
    {
        DegreeRole.ThirdOrSuspension => IsThirdOfEleventh(degree, chord) ? W.ThirdOfEleventh : W.ThirdOrSuspension,
        DegreeRole.Seventh => W.Seventh,
        DegreeRole.Root => W.Root,
        DegreeRole.AlteredFifth => W.AlteredFifth,
        DegreeRole.Colour => W.Colour,
        _ => chord.Degrees.Any(d => d.Role == DegreeRole.Seventh) ? W.FifthOfSeventh : W.Fifth,
    };

    private static int Tone(Chord chord, int semitones) => 1 << (chord.Root.PitchClass + semitones) % 12;

    /// <summary>True when the two lowest tones are a step apart.</summary>
    private static bool IsMuddy(Shape shape, Tuning tuning)
    {
        var bass = shape.BassString;
        for (var s = bass + 1; s < shape.StringCount; s++)
            if (shape[s] >= 0) return Math.Abs(tuning.Strings[s] + shape[s] - tuning.Strings[bass] - shape[bass]) <= 2;
        return false;
    }

    private static bool IsThirdOfEleventh(Degree degree, Chord chord) =>
        degree is { Number: 3, Alteration: 0 } && chord.Degrees.Any(d => d is { Number: 11, Alteration: 0 });

    /// <summary>What a tone that is not in the chord costs, by its distance from the root.</summary>
    private static double ForeignCost(int semitones, Chord chord)
    {
        var (minor, major) = (chord.IsMinor, chord.Has(4));
        return semitones switch
        {
            2 => W.AddedNinth,
            9 when minor => W.SixthInMinor,
            9 => W.Sixth,
            10 when minor => W.MinorSeventhInMinor,
            10 when major => W.MinorSeventhInMajor,
            10 => W.MinorSeventh,
            11 when minor => W.MajorSeventhInMinor,
            11 when chord.Has(10) => W.MajorSeventhAgainstMinor,
            11 => W.MajorSeventh,
            5 when major => W.FourthAgainstMajorThird,
            5 => W.Fourth,
            7 => W.PlainFifth,
            3 when major => W.OtherThird,
            4 when chord.Has(3) => W.OtherThird,
            3 or 4 => W.AnyThird,
            _ => W.AnythingElse,
        };
    }

    /// <summary>How many different pitch classes a mask holds.</summary>
    public static int Count(int mask) => BitOperations.PopCount((uint)mask);
}
