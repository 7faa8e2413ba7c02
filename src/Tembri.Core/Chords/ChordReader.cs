using Tembri.Core.Music;

namespace Tembri.Core.Chords;

/// <summary>What reading a chord symbol gave: a chord, silence (N.C.), or an error with its place.</summary>
/// <param name="Chord">The chord, or null.</param>
/// <param name="IsSilence">True for N.C., the sign for "no chord".</param>
/// <param name="Error">What is wrong and what to write instead; null when the symbol was read.</param>
/// <param name="Column">Place of the fault, 1 for the first character; 0 when there is none.</param>
public readonly record struct ChordReading(Chord? Chord, bool IsSilence, string? Error, int Column)
{
    /// <summary>True when the symbol was understood.</summary>
    public bool Ok => Error is null;
}

/// <summary>Reads the common ways of writing chord symbols.</summary>
/// <remarks>
/// The grammar is a root, a row of marks in nearly any order, and a bass after a slash. Marks are taken longest first; what they
/// say is
/// gathered in a <see cref="ChordBuilder"/>, which decides the degrees and the canonical name. C2 is read as Cadd9.
/// </remarks>
public static class ChordReader
{
    /// <summary>The longest symbol accepted, in characters.</summary>
    public const int LongestSymbol = 40;

    /// <summary>Reads one symbol.</summary>
    /// <param name="text">The symbol; white space around it is ignored.</param>
    public static ChordReading Read(string? text)
    {
        var symbol = text?.Trim() ?? "";
        if (symbol.Length == 0) return Fault("There is no chord symbol here; write one such as Am7.", 1);
        if (symbol.Length > LongestSymbol)
            return Fault($"A chord symbol has at most {LongestSymbol} characters.", LongestSymbol + 1);
        if (symbol.Replace(".", "").Equals("NC", StringComparison.OrdinalIgnoreCase)) return new(null, true, null, 0);
        if (!Note.TryRead(symbol, out var root, out var at))
            return Fault(symbol[0] is 'H' or 'h'
                    ? "H is written B here: try B" + symbol[1..] + "."
                    : $"A chord begins with a letter from A to G, not '{symbol[0]}'.", 1);

        var builder = new ChordBuilder();
        var scanner = new Scanner(symbol, at);
        Note? bass = null;
        while (!scanner.AtEnd)
        {
            if (scanner.TryBass(out var bassNote)) { bass = bassNote; break; }
            var before = scanner.At;
            if (!scanner.TryMark(builder))
            {
                var good = symbol[..before].TrimEnd('(', '/', ' ');
                return Fault($"'{symbol[before..]}' is not understood after {good}; did you mean {good}?", before + 1);
            }
        }
        var (kind, degrees) = builder.Build();
        return new(new Chord(root, kind, degrees, bass), false, null, 0);
    }

    private static ChordReading Fault(string error, int column) => new(null, false, error, column);

    private sealed class Scanner(string text, int start)
    {
        public int At { get; private set; } = start;

        public bool AtEnd => At >= text.Length;

        private bool Word(params ReadOnlySpan<string> words)
        {
            foreach (var word in words)
            {
                var comparison = word.Length == 1 ? StringComparison.Ordinal : StringComparison.OrdinalIgnoreCase;
                if (string.Compare(text, At, word, 0, word.Length, comparison) != 0) continue;
                At += word.Length;
                return true;
            }
            return false;
        }

        private char Peek(int ahead = 0) => At + ahead < text.Length ? text[At + ahead] : '\0';

        public bool TryBass(out Note bass)
        {
            bass = default;
            if (Peek() is not ('/' or '\\')) return false;
            var rest = text.AsSpan(At + 1).Trim();
            if (!Note.TryRead(rest, out bass, out var length) || length != rest.Length) return false;
            At = text.Length;
            return true;
        }

        public bool TryMark(ChordBuilder b)
        {
            if (Word("(", ")", "[", "]", ",", " ", ".", "|")) return true;
            if (Peek() == '/'
                && (char.IsAsciiDigit(Peek(1)) || "b#♭♯".Contains(Peek(1)) && char.IsAsciiDigit(Peek(2)) || Peek(1) is 'm' or 'M'))
            {
                At++;
                b.AfterSlash = true;
                return true;
            }
            if (Word("add")) return TryDegree(out var a, out var n) && b.Add(n, a);
            if (Word("omit", "no")) return TryDegree(out _, out var n) && b.Omit(n);
            if (Word("sus")) return Suspension(b);
            if (Word("alt")) return b.Altered();
            if (Word("major", "maj", "ma7", "ma9", "ma13", "ma", "Δ", "△", "^", "M", "j")) return Major(b);
            if (Word("minor", "min", "mi", "m")) return b.Minor();
            if (Word("dim", "°", "º", "o", "˚")) return b.Diminished();
            if (Word("ø", "Ø")) { Word("7"); return b.HalfDiminished(); }
            if (Word("aug")) return b.Augmented();
            if (Peek() is '-' or '−' or '–')
            {
                if (!b.HasQuality && !b.HasNumber) { At++; return b.Minor(); }
                return Alteration(b);
            }
            if (Peek() == '+')
            {
                if (Peek(1) is 'M' or 'm' || !char.IsAsciiDigit(Peek(1))
                    || !b.HasNumber && !b.HasQuality && Peek(1) != '5' && !(Peek(1) == '1' && Peek(2) == '1'))
                {
                    At++;
                    return b.Augmented();
                }
                return Alteration(b);
            }
            if ("b#♭♯".Contains(Peek()) && char.IsAsciiDigit(Peek(1))) return Alteration(b);
            return Number(b);
        }

        private bool Alteration(ChordBuilder b)
        {
            if (!TryDegree(out var alteration, out var number) || alteration == 0) return false;
            return b.Alter(number, alteration);
        }

        private bool TryDegree(out int alteration, out int number)
        {
            alteration = Peek() switch { 'b' or '♭' or '-' or '−' or '–' => -1, '#' or '♯' or '+' => 1, _ => 0 };
            if (alteration != 0) At++;
            if (alteration == 0 && Word("maj", "M")) alteration = 2;
            return TryNumber(out number) && number is >= 2 and <= 13;
        }

        private bool TryNumber(out int number)
        {
            number = 0;
            if (!char.IsAsciiDigit(Peek())) return false;
            var digits = Peek() == '1' && Peek(1) is >= '0' and <= '3' ? 2 : 1;
            number = int.Parse(text.AsSpan(At, digits), System.Globalization.CultureInfo.InvariantCulture);
            At += digits;
            return true;
        }

        private bool Major(ChordBuilder b)
        {
            // "ma7" and its kin are listed whole so that "mad" of "madd9" is not taken for "ma".
            var taken = text[At - 1];
            if (char.IsAsciiDigit(taken)) At -= At >= 2 && text[At - 2] == '1' ? 2 : 1;
            else if (taken is 'a' or 'A' && Peek() is 'd' or 'D')
            {
                At--;
                return text[At - 1] == 'M' ? b.Major(false) : b.Minor();
            }
            return b.Major(taken is 'Δ' or '△' or '^');
        }

        private bool Suspension(ChordBuilder b)
        {
            if (Word("24", "42", "2/4", "4/2", "2sus4", "4sus2")) return b.Suspend(2) && b.Suspend(4);
            if (Word("2")) return b.Suspend(2);
            Word("4");
            return b.Suspend(4);
        }

        private bool Number(ChordBuilder b)
        {
            if (Word("6/9", "69", "6(9)", "6add9")) return b.Six() && b.Add(9, 0);
            return TryNumber(out var number) && b.Number(number);
        }
    }
}
