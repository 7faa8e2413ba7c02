using Tembri.Core.Fretboard;

namespace Tembri.Core.Shapes;

/// <summary>Which string is stopped where. Strings from the lowest-pitched to the highest; frets counted from the
/// capo.</summary>
/// <remarks>Many are kept at once, so the frets are packed: a byte a string, the fret and 1 more, the lowest string in the
/// lowest byte.</remarks>
public sealed class Shape : IEquatable<Shape>
{
    /// <summary>The fret number of a string that is left out.</summary>
    public const int LeftOut = -1;

    /// <summary>The highest fret a shape may name.</summary>
    public const int HighestFret = 24;

    private const int BitsOfString = 8;
    private readonly ulong _packed;
    private readonly byte _strings, _sounding, _bass, _treble, _lowest, _highest;

    /// <summary>Makes a shape.</summary>
    /// <param name="frets">A fret per string: −1 left out, 0 open, 1 to 24 stopped.</param>
    /// <exception cref="ArgumentException">Fewer than four or more than eight strings, a fret out of range, or no string
    /// sounds.</exception>
    public Shape(params ReadOnlySpan<int> frets)
    {
        if (frets.Length is < 4 or > 8) throw new ArgumentException("A shape has four to eight strings.", nameof(frets));
        _strings = (byte)frets.Length;
        for (var i = 0; i < frets.Length; i++)
        {
            if (frets[i] is < LeftOut or > HighestFret)
                throw new ArgumentException(
                    $"String {i + 1} has fret {frets[i]}; a fret is −1 (left out) or 0 to {HighestFret}.", nameof(frets));
            if (frets[i] < 0) continue;
            _packed |= (ulong)(frets[i] + 1) << (BitsOfString * i);
            if (_sounding++ == 0) _bass = (byte)i;
            _treble = (byte)i;
            _highest = Math.Max(_highest, (byte)frets[i]);
            if (frets[i] == 0) HasOpenString = true;
            else if (_lowest == 0 || frets[i] < _lowest) _lowest = (byte)frets[i];
        }
        if (_sounding == 0) throw new ArgumentException("At least one string must sound.", nameof(frets));
    }

    /// <summary>Number of strings.</summary>
    public int StringCount => _strings;

    /// <summary>How many strings sound.</summary>
    public int Sounding => _sounding;

    /// <summary>The fret of a string; −1 when it is left out.</summary>
    public int this[int stringIndex] =>
        (uint)stringIndex < _strings
            ? (int)(_packed >> (BitsOfString * stringIndex) & 255) - 1
            : throw new ArgumentOutOfRangeException(nameof(stringIndex));

    /// <summary>The frets, lowest string first.</summary>
    public IReadOnlyList<int> Frets => ToArray();

    /// <summary>The lowest stopped fret, or 0 when every sounding string is open.</summary>
    public int LowestStopped => _lowest;

    /// <summary>The highest stopped fret, or 0.</summary>
    public int HighestStopped => _highest;

    /// <summary>True when an open string sounds.</summary>
    public bool HasOpenString { get; }

    /// <summary>The lowest-pitched string that sounds.</summary>
    public int BassString => _bass;

    /// <summary>The highest-pitched string that sounds.</summary>
    public int TrebleString => _treble;

    /// <summary>Silent strings between sounding ones.</summary>
    public int InteriorMutes => TrebleString - BassString + 1 - Sounding;

    /// <summary>Bit n is set when pitch class n sounds.</summary>
    /// <param name="tuning">Pitches of the open strings.</param>
    /// <param name="capo">The capo's fret.</param>
    public int PitchClassMask(Tuning tuning, int capo = 0)
    {
        var mask = 0;
        for (var i = _bass; i <= _treble; i++)
            if (this[i] >= 0) mask |= 1 << tuning.PitchClass(i, this[i] + capo);
        return mask;
    }

    /// <summary>Pitch class of the lowest note that sounds.</summary>
    public int BassPitchClass(Tuning tuning, int capo = 0)
    {
        int lowest = int.MaxValue;
        for (var i = _bass; i <= _treble; i++)
            if (this[i] >= 0) lowest = Math.Min(lowest, tuning.Strings[i] + this[i] + capo);
        return lowest % 12;
    }

    /// <summary>The same shape with some strings left out.</summary>
    /// <param name="strings">Indices of the strings to leave out.</param>
    public Shape Without(params ReadOnlySpan<int> strings)
    {
        Span<int> frets = stackalloc int[_strings];
        for (var i = 0; i < frets.Length; i++) frets[i] = strings.Contains(i) ? LeftOut : this[i];
        return new Shape(frets);
    }

    /// <summary>The same shape moved along the neck; open strings move too.</summary>
    public Shape Move(int frets)
    {
        Span<int> moved = stackalloc int[_strings];
        for (var i = 0; i < moved.Length; i++) moved[i] = this[i] < 0 ? LeftOut : this[i] + frets;
        return new Shape(moved);
    }

    /// <summary>Reads <c>x32010</c>, or with two-digit frets <c>x-10-12-12-12-10</c>.</summary>
    /// <exception cref="FormatException">The text is not a shape.</exception>
    public static Shape Parse(string text)
    {
        var parts = text.Contains('-') ? text.Split('-') : text.Trim().Select(c => c.ToString()).ToArray();
        var frets = new int[parts.Length];
        for (var i = 0; i < parts.Length; i++)
        {
            if (parts[i] is "x" or "X") frets[i] = LeftOut;
            else if (!int.TryParse(parts[i], System.Globalization.NumberStyles.None, null, out frets[i]))
                throw new FormatException($"'{parts[i]}' in the shape '{text}' is neither x nor a fret number.");
        }
        try { return new Shape(frets); }
        catch (ArgumentException e) { throw new FormatException(e.Message, e); }
    }

    /// <inheritdoc/>
    public bool Equals(Shape? other) => other is not null && _packed == other._packed && _strings == other._strings;

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as Shape);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(_packed, _strings);

    /// <summary>The shape as <c>x32010</c>.</summary>
    public override string ToString() =>
        string.Join(_highest > 9 ? "-" : "",
            ToArray().Select(f => f < 0 ? "x" : f.ToString(System.Globalization.CultureInfo.InvariantCulture)));

    private int[] ToArray()
    {
        var frets = new int[_strings];
        for (var i = 0; i < frets.Length; i++) frets[i] = this[i];
        return frets;
    }
}
