using System.Globalization;
using System.Runtime.CompilerServices;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>One finger lying across several strings of one fret.</summary>
/// <param name="Finger">The finger.</param>
/// <param name="Fret">The fret, counted from the capo.</param>
/// <param name="LowString">The lowest-pitched string it holds, 0 for the lowest of the guitar.</param>
/// <param name="HighString">The highest-pitched string it holds.</param>
public readonly record struct Barre(Finger Finger, int Fret, int LowString, int HighString)
{
    /// <summary>The longest barre that counts as short, in strings.</summary>
    public const int LongestShort = 3;

    /// <summary>Strings from end to end, 2 to 8.</summary>
    public int Length => HighString - LowString + 1;

    /// <summary>True when it covers more strings than a short barre may.</summary>
    public bool IsFull => Length > LongestShort;
}

/// <summary>Where a finger stands: its fret and the outermost strings it holds, packed so that two places compare at once. 0 is
/// a free finger.</summary>
public readonly record struct FingerSpot(int Packed)
{
    /// <summary>Packs a place.</summary>
    public FingerSpot(int fret, int low, int high) : this(fret << 16 | low << 8 | high) { }

    /// <summary>The fret, from 1 on; 0 for a free finger.</summary>
    public int Fret => Packed >> 16;

    /// <summary>The lowest-pitched string it holds, 0 for the lowest of all.</summary>
    public int Low => Packed >> 8 & 255;

    /// <summary>The highest-pitched string it holds.</summary>
    public int High => Packed & 255;
}

/// <summary>Which finger stops which string of a shape, and what that weighs for one hand on one guitar.</summary>
/// <remarks>Many are kept at once, so it holds little: fingers and barres are read off the packed number when they are asked
/// for.</remarks>
public sealed class Fingering
{
    private readonly ulong _packed;
    private readonly LoadModel _model;
    private FingerSpots _spots;

    [InlineArray(6)]
    private struct FingerSpots
    {
        private FingerSpot _first;
    }

    /// <summary>Makes a fingering that was weighed.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="packed">Four bits a string, the lowest string in the lowest bits: the number of its finger.</param>
    /// <param name="effort">What it weighs.</param>
    /// <param name="model">What weighed it, and tells the parts when they are asked for: most fingerings are only
    /// compared.</param>
    /// <param name="oddness">See <see cref="Oddness"/>.</param>
    internal Fingering(Shape shape, ulong packed, double effort, LoadModel model, double oddness = 0)
    {
        (Shape, _packed, Effort, _model, Oddness) = (shape, packed, effort, model, (float)oddness);
        Load = Load.FromEffort(effort);
        for (var s = 0; s < shape.StringCount; s++)
        {
            var f = (int)(packed >> (4 * s) & 15);
            if (f == 0) continue;
            if (_spots[f].Packed == 0 && f != (int)Finger.Thumb) FingerCount++;
            _spots[f] =
                _spots[f].Packed != 0 ? new FingerSpot(_spots[f].Fret, _spots[f].Low, s) : new FingerSpot(shape[s], s, s);
        }
        for (var f = 1; f <= 5; f++)
            if (_spots[f].High > _spots[f].Low) LongestBarre = Math.Max(LongestBarre, _spots[f].High - _spots[f].Low + 1);
    }

    /// <summary>The finger of each string, four bits a string, the lowest string in the lowest bits.</summary>
    internal ulong Packed => _packed;

    /// <summary>The shape.</summary>
    public Shape Shape { get; }

    /// <summary>The finger on each string, lowest string first.</summary>
    public IReadOnlyList<Finger> Fingers
    {
        get
        {
            var fingers = new Finger[Shape.StringCount];
            for (var s = 0; s < fingers.Length; s++) fingers[s] = (Finger)(_packed >> (4 * s) & 15);
            return fingers;
        }
    }

    /// <summary>Fingers lying across more than one string.</summary>
    public IReadOnlyList<Barre> Barres
    {
        get
        {
            if (LongestBarre == 0) return [];
            var barres = new List<Barre>(1);
            for (var f = 1; f <= 5; f++)
                if (_spots[f].High > _spots[f].Low)
                    barres.Add(new Barre((Finger)f, _spots[f].Fret, _spots[f].Low, _spots[f].High));
            return barres;
        }
    }

    /// <summary>The parts of the effort, those above 0 only.</summary>
    public IReadOnlyList<LoadPart> Parts => _model.PartsOf(Shape, _packed);

    /// <summary>Sum of the parts; no unit.</summary>
    public double Effort { get; }

    /// <summary>The load, 0 to 100.</summary>
    public Load Load { get; }

    /// <summary>How much less usual it is than what people use first for the shape, by <see cref="FingerHabits"/>: log odds, 0 or
    /// more; 0 also for fingers that were given and not found.</summary>
    public float Oddness { get; }

    /// <summary>How many of the fingers 1 to 4 are used.</summary>
    public int FingerCount { get; }

    /// <summary>True when the thumb is used.</summary>
    public bool UsesThumb => _spots[(int)Finger.Thumb].Packed != 0;

    /// <summary>Strings under the longest barre, 0 when there is none.</summary>
    public int LongestBarre { get; }

    /// <summary>True when the shape and the fingers are the same.</summary>
    public bool SameAs(Fingering other) => ReferenceEquals(this, other) || _packed == other._packed && Shape.Equals(other.Shape);

    /// <summary>Where each finger stands, by finger number; fret 0 for a free finger.</summary>
    public ReadOnlySpan<FingerSpot> Spots => _spots;

    /// <summary>Shape and fingers, such as <c>x32010 x32010</c>.</summary>
    public override string ToString() =>
        $"{Shape} {string.Concat(Fingers.Select((f, i) => Shape[i] < 0 ? "x" : f == Finger.Thumb ? "T" : Number(f)))}";

    private static string Number(Finger finger) => ((int)finger).ToString(CultureInfo.InvariantCulture);
}
