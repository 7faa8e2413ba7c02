using System.Runtime.CompilerServices;

namespace Tembri.Core.Shapes;

/// <summary>Fingers placed so far on a shape: for each finger 1 to 5 its fret and the outermost strings it holds.</summary>
internal struct PlacedFingers
{
    private FingerBytes _fret;
    private FingerBytes _low;
    private FingerBytes _high;

    [InlineArray(6)]
    private struct FingerBytes
    {
        private sbyte _first;
    }

    /// <summary>The finger of each string, four bits a string.</summary>
    public ulong Packed { get; private set; }

    /// <summary>The fingers of a fingering that is known to be feasible.</summary>
    public static PlacedFingers Of(Shape shape, ulong packed)
    {
        var placed = new PlacedFingers();
        for (var s = 0; s < shape.StringCount; s++)
            if ((int)(packed >> (4 * s) & 15) is var finger and not 0) placed.Place(finger, s, shape[s], shape);
        return placed;
    }

    /// <summary>The fret a finger holds, 0 when it is free.</summary>
    public readonly int Fret(int finger) => _fret[finger];

    /// <summary>The lowest string a finger holds.</summary>
    public readonly int Low(int finger) => _low[finger];

    /// <summary>The highest string a finger holds.</summary>
    public readonly int High(int finger) => _high[finger];

    /// <summary>The finger on a string, 0 for none.</summary>
    public readonly int FingerOn(int stringIndex) => (int)(Packed >> (4 * stringIndex) & 15);

    /// <summary>Puts a finger on a string if the rules allow it. Strings are placed from low to high.</summary>
    public bool Place(int finger, int stringIndex, int fret, Shape shape)
    {
        if (_fret[finger] == 0)
        {
            if (finger == 5)
            {
                if (stringIndex > 0 && shape[0] >= 0) return false;
            }
            else
            {
                for (var other = 1; other < finger; other++) if (_fret[other] > fret) return false;
                for (var other = finger + 1; other <= 4; other++) if (_fret[other] != 0 && _fret[other] < fret) return false;
            }
            _fret[finger] = (sbyte)fret;
            _low[finger] = _high[finger] = (sbyte)stringIndex;
        }
        else
        {
            if (_fret[finger] != fret) return false;
            for (var between = _high[finger] + 1; between < stringIndex; between++)
            {
                var f = shape[between];
                if (f >= 0 && f <= fret) return false; // an open, lower or otherwise stopped string under the lying finger
            }
            _high[finger] = (sbyte)stringIndex;
        }
        Packed |= (ulong)finger << (4 * stringIndex);
        return true;
    }
}
