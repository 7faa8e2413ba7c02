using Tembri.Core.Fretboard;

namespace Tembri.Core.Shapes;

/// <summary>Which string is stopped where. Strings from the lowest-pitched to the highest; frets counted from the capo.</summary>
public sealed class Shape : IEquatable<Shape>
{
    /// <summary>The fret number of a string that is left out.</summary>
    public const int LeftOut = -1;

    /// <summary>The highest fret a shape may name.</summary>
    public const int HighestFret = 24;

    private readonly sbyte[] _frets;

    /// <summary>Makes a shape.</summary>
    /// <param name="frets">A fret per string: −1 left out, 0 open, 1 to 24 stopped.</param>
    /// <exception cref="ArgumentException">Fewer than four or more than eight strings, a fret out of range, or no string sounds.</exception>
    public Shape(params ReadOnlySpan<int> frets)
    {
        if (frets.Length is < 4 or > 8) throw new ArgumentException("A shape has four to eight strings.", nameof(frets));
        _frets = new sbyte[frets.Length];
        BassString = -1;
        for (var i = 0; i < frets.Length; i++)
        {
            if (frets[i] is < LeftOut or > HighestFret) throw new ArgumentException($"String {i + 1} has fret {frets[i]}; a fret is −1 (left out) or 0 to {HighestFret}.", nameof(frets));
            _frets[i] = (sbyte)frets[i];
            if (frets[i] < 0) continue;
            Sounding++;
            if (BassString < 0) BassString = i;
            TrebleString = i;
            HighestStopped = Math.Max(HighestStopped, frets[i]);
            if (frets[i] == 0) HasOpenString = true;
            else if (LowestStopped == 0 || frets[i] < LowestStopped) LowestStopped = frets[i];
        }
        if (Sounding == 0) throw new ArgumentException("At least one string must sound.", nameof(frets));
    }

    /// <summary>Number of strings.</summary>
    public int StringCount => _frets.Length;

    /// <summary>How many strings sound.</summary>
    public int Sounding { get; }

    /// <summary>The fret of a string; −1 when it is left out.</summary>
    public int this[int stringIndex] => _frets[stringIndex];

    /// <summary>The frets, lowest string first.</summary>
    public IReadOnlyList<int> Frets => Array.ConvertAll(_frets, f => (int)f);

    /// <summary>The lowest stopped fret, or 0 when every sounding string is open.</summary>
    public int LowestStopped { get; }

    /// <summary>The highest stopped fret, or 0.</summary>
    public int HighestStopped { get; }

    /// <summary>True when an open string sounds.</summary>
    public bool HasOpenString { get; }

    /// <summary>The lowest-pitched string that sounds.</summary>
    public int BassString { get; }

    /// <summary>The highest-pitched string that sounds.</summary>
    public int TrebleString { get; }

    /// <summary>Silent strings between sounding ones.</summary>
    public int InteriorMutes => TrebleString - BassString + 1 - Sounding;

    /// <summary>Bit n is set when pitch class n sounds.</summary>
    /// <param name="tuning">Pitches of the open strings.</param>
    /// <param name="capo">The capo's fret.</param>
    public int PitchClassMask(Tuning tuning, int capo = 0)
    {
        var mask = 0;
        for (var i = 0; i < _frets.Length; i++)
            if (_frets[i] >= 0) mask |= 1 << tuning.PitchClass(i, _frets[i] + capo);
        return mask;
    }

    /// <summary>Pitch class of the lowest note that sounds.</summary>
    public int BassPitchClass(Tuning tuning, int capo = 0)
    {
        int lowest = int.MaxValue;
        for (var i = 0; i < _frets.Length; i++)
            if (_frets[i] >= 0) lowest = Math.Min(lowest, tuning.Strings[i] + _frets[i] + capo);
        return lowest % 12;
    }

    /// <summary>The same shape with some strings left out.</summary>
    /// <param name="strings">Indices of the strings to leave out.</param>
    public Shape Without(params ReadOnlySpan<int> strings)
    {
        Span<int> frets = stackalloc int[_frets.Length];
        for (var i = 0; i < frets.Length; i++) frets[i] = strings.Contains(i) ? LeftOut : _frets[i];
        return new Shape(frets);
    }

    /// <summary>The same shape moved along the neck; open strings move too.</summary>
    public Shape Move(int frets)
    {
        Span<int> moved = stackalloc int[_frets.Length];
        for (var i = 0; i < moved.Length; i++) moved[i] = _frets[i] < 0 ? LeftOut : _frets[i] + frets;
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
    public bool Equals(Shape? other) => other is not null && _frets.AsSpan().SequenceEqual(other._frets);

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as Shape);

    /// <inheritdoc/>
    public override int GetHashCode()
    {
        var hash = _frets.Length;
        foreach (var fret in _frets) hash = hash * 31 + fret + 2;
        return hash;
    }

    /// <summary>The shape as <c>x32010</c>.</summary>
    public override string ToString() => _frets.Any(f => f > 9)
        ? string.Join('-', _frets.Select(f => f < 0 ? "x" : f.ToString(System.Globalization.CultureInfo.InvariantCulture)))
        : string.Concat(_frets.Select(f => f < 0 ? "x" : f.ToString(System.Globalization.CultureInfo.InvariantCulture)));
}
