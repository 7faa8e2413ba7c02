namespace Tembri.Core.Chords;

/// <summary>Gathers what the marks of a symbol say and decides the degrees and the canonical kind.</summary>
internal sealed class ChordBuilder
{
    private enum Triad { Major, Minor, Diminished, Augmented, HalfDiminished }

    private Triad _triad = Triad.Major;
    private bool _majorSeven;      // a triangle, or maj before a number
    private bool _triangle;
    private bool _six;
    private bool _power;
    private bool _alt;
    private int _extension;        // 0, 7, 9, 11, 13
    private bool _sus2, _sus4;
    private readonly SortedSet<(int Number, int Alteration)> _alterations = [];
    private readonly SortedSet<(int Number, int Alteration)> _adds = [];
    private readonly SortedSet<int> _omits = [];

    public bool HasQuality { get; private set; }
    public bool HasNumber => _extension > 0 || _six;
    public bool AfterSlash { get; set; }

    public bool Major(bool triangle)
    {
        HasQuality = true;
        if (_extension is 7 or 9 or 11 or 13) _majorSeven = true; // "C7M"
        else { _pendingMajor = true; _triangle |= triangle; }
        return true;
    }

    private bool _pendingMajor;

    public bool Minor()
    {
        if (_triad != Triad.Major) return false;
        HasQuality = true;
        _triad = Triad.Minor;
        return true;
    }

    /// <summary>False when it was said before: <c>doo</c> is a word.</summary>
    public bool Diminished()
    {
        if (_triad == Triad.Diminished) return false;
        (HasQuality, _triad) = (true, Triad.Diminished);
        return true;
    }

    public bool HalfDiminished()
    {
        HasQuality = true;
        _triad = Triad.HalfDiminished;
        _extension = Math.Max(_extension, 7);
        return true;
    }

    public bool Augmented() { HasQuality = true; return _triad == Triad.Minor ? Alter(5, 1) : SetAugmented(); }

    private bool SetAugmented() { _triad = Triad.Augmented; return true; }

    public bool Suspend(int degree)
    {
        HasQuality = true;
        if (degree == 2) _sus2 = true; else _sus4 = true;
        return true;
    }

    public bool Six() { _six = true; return true; }

    public bool Altered() { HasQuality = true; _alt = true; _extension = Math.Max(_extension, 7); return true; }

    public bool Add(int number, int alteration)
    {
        if (number == 7 && alteration is 0 or 2) { _extension = 7; _majorSeven |= alteration == 2; return true; }
        if (number is 5) return true;
        if (number == 6) { if (alteration == 0) return Six(); number = 13; }
        _adds.Add((number switch { 2 => 9, 4 => 11, 10 => 9, _ => number },
            number == 10 ? alteration + 1 : alteration == 2 ? 0 : alteration));
        return true;
    }

    public bool Omit(int number) { _omits.Add(number); return true; }

    public bool Alter(int number, int alteration)
    {
        if (alteration == 2)
        {
            if (number != 7) return false;
            _extension = Math.Max(_extension, 7);
            _majorSeven = true;
            return true;
        }
        (number, alteration) = (number, alteration) switch
        {
            (10, -1) => (9, 1),
            (2, _) => (9, alteration),
            (4, _) => (11, alteration),
            (6, _) => (13, alteration),
            _ => (number, alteration),
        };
        if (number == 7)
        {
            _extension = Math.Max(_extension, 7);
            _majorSeven = alteration > 0;
            return true;
        }
        if (number is not (5 or 9 or 11 or 13)) return false;
        if (number == 5 && alteration == 1 && _triad == Triad.Major && !HasNumber)
        {
            _triad = Triad.Augmented;
            HasQuality = true;
            return true;
        }
        _alterations.Add((number, alteration));
        return true;
    }

    public bool Number(int number)
    {
        if (AfterSlash && number is 9 or 11 or 13 && _extension > 0) return Add(number, 0);
        if (AfterSlash && number is 9 && _extension == 0) return Add(9, 0);
        switch (number)
        {
            case 5:
                if (HasQuality && _triad != Triad.Major) return false;
                _power = !_pendingMajor;
                return true;
            case 2: return Add(9, 0);
            case 4: return HasNumber ? Add(11, 0) : Suspend(4);
            case 6: return Six();
            case 7 or 9 or 11 or 13:
                if (_extension > 0 && number < _extension) return false;
                if (_extension > 0 && _triad != Triad.HalfDiminished) return Add(number, 0);
                _extension = number;
                if (_pendingMajor) { _majorSeven = true; _pendingMajor = false; _triangle = false; }
                return true;
            default: return false;
        }
    }

    public (string Kind, IReadOnlyList<Degree> Degrees) Build()
    {
        if (_triangle && _extension == 0 && !_six) { _extension = 7; _majorSeven = true; }
        if (_pendingMajor && _extension == 7 && !_majorSeven) _majorSeven = true;
        var suspended = _sus2 || _sus4;
        var degrees = new SortedDictionary<(int Order, int Alteration), Degree>();
        void Put(int number, int alteration, DegreeRole role) =>
            degrees.TryAdd((number, alteration), new Degree(number, alteration, role));

        Put(1, 0, DegreeRole.Root);
        var noThird = _power || _omits.Contains(3);
        if (_sus2) Put(2, 0, DegreeRole.ThirdOrSuspension);
        if (_sus4) Put(4, 0, DegreeRole.ThirdOrSuspension);
        if (!noThird && !suspended)
            Put(3, _triad is Triad.Minor or Triad.Diminished or Triad.HalfDiminished ? -1 : 0, DegreeRole.ThirdOrSuspension);

        var fifths = _alterations.Where(a => a.Number == 5).Select(a => a.Alteration).ToList();
        if (_triad is Triad.Diminished or Triad.HalfDiminished && fifths.Count == 0) fifths.Add(-1);
        if (_triad == Triad.Augmented && fifths.Count == 0) fifths.Add(1);
        if (_alt) fifths = [-1, 1];
        if (!_omits.Contains(5))
        {
            if (fifths.Count == 0) Put(5, 0, DegreeRole.Fifth);
            foreach (var alteration in fifths) Put(5, alteration, DegreeRole.AlteredFifth);
        }
        if (_six) Put(6, 0, DegreeRole.Seventh);
        if (_extension >= 7)
        {
            var alteration = _majorSeven ? 0 : _triad == Triad.Diminished && _extension == 7 ? -2 : -1;
            Put(7, alteration, DegreeRole.Seventh);
        }
        void PutColour(int number)
        {
            if (!_omits.Contains(number) && !_alterations.Any(a => a.Number == number)) Put(number, 0, DegreeRole.Colour);
        }
        if (_extension >= 9 && !_alt) PutColour(9);
        if (_extension == 11) PutColour(11);
        if (_extension == 13) PutColour(13);
        foreach (var (number, alteration) in _alterations.Where(a => a.Number != 5)) Put(number, alteration, DegreeRole.Colour);
        if (_alt) { Put(9, -1, DegreeRole.Colour); Put(9, 1, DegreeRole.Colour); }
        foreach (var (number, alteration) in _adds) Put(number, alteration, DegreeRole.Colour);
        return (KindText(), [.. degrees.Values]);
    }

    private string KindText()
    {
        var text = new System.Text.StringBuilder();
        if (_power && !HasQuality && _extension == 0) text.Append('5');
        text.Append(_triad switch
        {
            Triad.Minor or Triad.HalfDiminished => "m",
            Triad.Diminished => "dim",
            Triad.Augmented when _extension == 0 && !_six => "+",
            _ => "",
        });
        if (_six) text.Append(_adds.Contains((9, 0)) ? "6/9" : "6");
        if (_extension > 0)
        {
            if (_majorSeven) text.Append(_triad is Triad.Minor or Triad.Diminished ? $"(maj{_extension})" : $"maj{_extension}");
            else if (_alt) text.Append("7alt");
            else text.Append(_extension);
        }
        if (_triad == Triad.HalfDiminished && !_alterations.Contains((5, -1))) text.Append("♭5");
        if (_triad == Triad.Augmented && (_extension > 0 || _six)) text.Append("♯5");
        if (_sus2) text.Append("sus2");
        if (_sus4) text.Append("sus4");
        foreach (var (number, alteration) in _alterations) text.Append(alteration < 0 ? '♭' : '♯').Append(number);
        foreach (var (number, alteration) in _adds)
        {
            if (_six && (number, alteration) == (9, 0)) continue;
            var add = "add" + (alteration < 0 ? "♭" : alteration > 0 ? "♯" : "") + number;
            text.Append(_triad == Triad.Minor ? $"({add})" : add);
        }
        foreach (var number in _omits) text.Append("no").Append(number);
        return text.ToString();
    }
}
