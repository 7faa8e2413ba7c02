using Tembri.Core.Chords;
using Tembri.Core.Fretboard;

namespace Tembri.Core.Shapes;

/// <summary>Weighs how near shapes come to one chord. What depends on the tones alone is found once for each set of tones. For
/// one thread at a time.</summary>
/// <param name="chord">The chord on the record, at the pitch shapes are heard.</param>
/// <param name="tuning">Open strings.</param>
/// <param name="capo">The capo's fret.</param>
/// <param name="accompaniment">Who plays along.</param>
/// <param name="fullest">Strings of the fullest shape taught for the chord; fewer strings sound thinner.</param>
/// <param name="melody">Pitch classes of the tune, as <see cref="Closeness.Of"/> takes them.</param>
internal sealed class ClosenessScale(Chord chord, Tuning tuning, int capo, Accompaniment accompaniment, int fullest, int melody)
{
    private static readonly ClosenessWeights W = ClosenessWeights.Default;
    private readonly bool _hasSeventh = chord.Degrees.Any(d => d.Role == DegreeRole.Seventh);
    private readonly bool _hasEleventh = chord.Degrees.Any(d => d is { Number: 11, Alteration: 0 });
    private readonly Dictionary<int, (double Value, IReadOnlyList<Degree> Missing, int Foreign)> _bySound = [];

    /// <summary>Compares a shape with the chord.</summary>
    public ClosenessReport Of(Shape shape)
    {
        var sounding = shape.PitchClassMask(tuning, capo);
        if (!_bySound.TryGetValue(sounding, out var tones)) _bySound[sounding] = tones = OfTones(sounding);
        var value = tones.Value;
        if (IsMuddy(shape)) value -= W.Muddy;
        if (chord.Degrees.Count == 3 && chord.Has(4) && (tones.Foreign & Tone(9)) != 0 && HasOneRoot(shape))
            value -= W.SixthOverOneRoot;
        // A diminished seventh is the same over each of its tones.
        var wrongBass = shape.BassPitchClass(tuning, capo) != chord.BassPitchClass
            && !(chord.IsDiminishedSeventh && chord.Bass is null && tones.Foreign == 0);
        if (wrongBass) value -= (accompaniment, chord.Bass is not null) switch
        {
            (Accompaniment.Alone, true) => W.WrongSlashBassAlone,
            (Accompaniment.Alone, false) => W.WrongBassAlone,
            (_, true) => W.WrongSlashBass,
            _ => W.WrongBass,
        };
        value *= W.Fullness[Math.Clamp(fullest - shape.Sounding, 0, W.Fullness.Count - 1)];
        return new ClosenessReport(Math.Clamp(value, 0, 1), tones.Missing, tones.Foreign, wrongBass, shape.Sounding, sounding);
    }

    private (double Value, IReadOnlyList<Degree> Missing, int Foreign) OfTones(int sounding)
    {
        double total = 0, kept = 0;
        var missing = new List<(double Weight, Degree Degree)>();
        foreach (var degree in chord.Degrees)
        {
            var weight = WeightOf(degree);
            total += weight;
            if ((sounding & Tone(degree.Semitones)) != 0) kept += weight;
            else missing.Add((weight, degree));
        }
        var foreign = sounding & ~chord.PitchClassMask;
        var suspended = missing.Exists(m => m.Degree.Role == DegreeRole.ThirdOrSuspension) && !chord.IsSuspended
            ? foreign & (Tone(2) | Tone(5))
            : 0;
        if (suspended != 0) kept += W.SuspendedThird * W.ThirdOrSuspension;
        var value = kept / total;
        for (var pitchClass = 0; pitchClass < 12; pitchClass++)
            if ((foreign & ~suspended & 1 << pitchClass) != 0)
                value -= ForeignCost((pitchClass - chord.Root.PitchClass + 12) % 12)
                        * ((melody & 1 << pitchClass) != 0 ? W.BelongsToTheTune : 1) + Rub(pitchClass);
        return (value, [.. missing.OrderByDescending(m => m.Weight).Select(m => m.Degree)], foreign);
    }

    private double Rub(int pitchClass) =>
        (melody & 1 << pitchClass) == 0 && (melody & (1 << (pitchClass + 1) % 12 | 1 << (pitchClass + 11) % 12)) != 0
            ? W.RubsTheTune
            : 0;

    private double WeightOf(Degree degree) => degree.Role switch
    {
        DegreeRole.ThirdOrSuspension => IsThirdOfEleventh(degree) ? W.ThirdOfEleventh : W.ThirdOrSuspension,
        DegreeRole.Seventh => W.Seventh,
        DegreeRole.Root => W.Root,
        DegreeRole.AlteredFifth => W.AlteredFifth,
        DegreeRole.Colour => W.Colour,
        _ => _hasSeventh ? W.FifthOfSeventh : W.Fifth,
    };

    private int Tone(int semitones) => 1 << (chord.Root.PitchClass + semitones) % 12;

    /// <summary>True when the two lowest tones are a step apart.</summary>
    private bool IsMuddy(Shape shape)
    {
        var bass = shape.BassString;
        for (var s = bass + 1; s < shape.StringCount; s++)
            if (shape[s] >= 0) return Math.Abs(tuning.Strings[s] + shape[s] - tuning.Strings[bass] - shape[bass]) <= 2;
        return false;
    }

    /// <summary>True when a single string sounds the root.</summary>
    private bool HasOneRoot(Shape shape)
    {
        var roots = 0;
        for (var s = 0; s < shape.StringCount; s++)
            if (shape[s] >= 0 && (tuning.Strings[s] + shape[s] + capo - chord.Root.PitchClass) % 12 == 0) roots++;
        return roots == 1;
    }

    private bool IsThirdOfEleventh(Degree degree) => _hasEleventh && degree is { Number: 3, Alteration: 0 };

    /// <summary>What a tone that is not in the chord costs, by its distance from the root.</summary>
    private double ForeignCost(int semitones)
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
}
