using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <summary>Lines whose chords are all numbers of a key, or all numerals.</summary>
internal sealed partial class DegreesSeen
{
    private const int Sure = 3;   // in a line without bar lines; two numbers may be anything
    private const int Unsure = 2;
    private (ChartNames Names, int Line, int Column, string Symbol)? _first;
    private bool _saysMinor;
    private int _lines;   // a sure one counts for two

    /// <summary>The names, as soon as a line is sure or two are likely.</summary>
    public (ChartNames, int, int, string)? Result =>
        _first is not { } first || _lines < 2 ? null
            : _saysMinor && first.Names == ChartNames.ScaleNumbers ? first with { Names = ChartNames.Numbers }
            : first;

    /// <summary>Takes a line of numbers or numerals; false when it is none.</summary>
    public bool Take(string text, int number)
    {
        if (!DegreesAhead().IsMatch(text) && !text.Contains('[') || ChartHeader.IsHeader(text)) return false;
        var front = InFront().Match(text).Length;
        var symbols = ForeignNames.SymbolsOf(text[front..]);
        symbols.RemoveAll(s => s.Text is [_, '.' or ')']);   // endings
        foreach (var names in (ChartNames[])[ChartNames.ScaleNumbers, ChartNames.Numerals])
            for (var i = symbols.Count - 1; i >= 0; i--)
                if (DegreeNames.Joined(symbols[i].Text, symbols.Count == 1, names) is { } parts)
                {
                    var column = symbols[i].Column;
                    symbols.RemoveAt(i);
                    symbols.InsertRange(i, parts.Select(p => (p.Text, column + p.At)));
                }
        if (symbols.Count < Unsure || symbols.DistinctBy(s => s.Text).Count() < 2) return false;
        foreach (var names in (ChartNames[])[ChartNames.ScaleNumbers, ChartNames.Numerals])
            if (symbols.TrueForAll(s => DegreeNames.IsNamed(s.Text, names)))
            {
                _first ??= (names, number, front + symbols[0].Column, symbols[0].Text);
                _saysMinor |= symbols.Exists(s => DegreeNames.SaysMinor(s.Text));
                _lines += symbols.Count >= Sure || text.Contains('|') ? 2 : 1;
                return true;
            }
        return false;
    }

    /// <summary>A name in front of chords.</summary>
    [GeneratedRegex(@"^\s*\p{L}[^:|\[\]]{0,30}:(?=\s)")]
    private static partial Regex InFront();

    /// <summary>What a line of numbers or numerals begins with, to pass over most lines quickly.</summary>
    [GeneratedRegex(@"^\s*(?:\p{L}[^:|\[\]]{0,30}:\s+)?(?:\|+:?\s*)?\(?[#b♯♭]?(?:[1-7]|[IViv])")]
    private static partial Regex DegreesAhead();
}
