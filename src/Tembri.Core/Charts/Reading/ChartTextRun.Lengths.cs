using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Beats and bars in brackets behind chords: <c>C (2) G (2)</c>, <c>Am(4) F(4)</c>, <c>C G (2 bars each)</c>.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"(?<=\s)\(\s*(?:(?:hold|held|for|lasts?)\s+){0,2}(?<beats>[0-9]{1,2})(?:\s*(?:beats?|counts?|(?<bars>bars?|measures?)))?\s*\)", LinePatterns.AnyCase)]
    private static partial Regex BeatsInBrackets();

    /// <summary>What every chord of a line lasts: <c>C G (2 bars each)</c>.</summary>
    [GeneratedRegex(@"(?<=\s)\(\s*" + EachLasts + @"\s*(?:[,;][^()]{1,60})?\)", LinePatterns.AnyCase)]
    private static partial Regex LengthOfEach();

    /// <summary>A chord with a number in brackets close behind it.</summary>
    [GeneratedRegex(@"^(?<chord>[A-H][^()]*)\((?<beats>[0-9]{1,2})\)$")]
    private static partial Regex ChordAndBeats();

    /// <summary>A chord with a number of beats behind a dash; what no chord has behind a minus.</summary>
    [GeneratedRegex(@"^(?<chord>[A-H][^()\s]*?)-(?<beats>[1-4]|8|12|16)$")]
    private static partial Regex DashAndBeats();

    private static string WithoutBeats(string chord) =>
        chord[..(chord.IndexOf('(') is >= 0 and var at ? at : chord.LastIndexOf('-'))];

    /// <summary>The numbers in brackets close behind the chords of a line, when every one of several has one: as
    /// <c>F(4)</c> alone is F with a fourth, <c>Am(4) F(2) C(2)</c> counts beats. Null for any other line.</summary>
    private List<int>? BeatsClose(List<(string Text, int Column)> pieces)
    {
        var isDashed = pieces.Count > 0 && !pieces[0].Text.EndsWith(')');
        if (pieces.Count < 2 || !pieces.TrueForAll(p => isDashed ? p.Text.Contains('-') : p.Text.EndsWith(')'))) return null;
        var said = pieces.ConvertAll(p => (isDashed ? DashAndBeats() : ChordAndBeats()).Match(p.Text));
        return said.TrueForAll(m => m.Success && IsChord(m.Groups["chord"].Value))
            ? said.ConvertAll(m => int.Parse(m.Groups["beats"].Value, CultureInfo.InvariantCulture))
            : null;
    }

    /// <summary>Beats in brackets behind every chord, <c>C (2) G (2) Am (4)</c>, or bars behind some, <c>Am (2 bars)
    /// G</c>.</summary>
    /// <returns>How many bars each chord fills; null where nothing is said, or what is said does not fill bars.</returns>
    private List<int>? TakeBeats(List<Token> items, string chords, int number)
    {
        if (LengthOfEach().Match(chords) is { Success: true } each)
        {
            var length = LengthIn(each);
            return TakeBeats(items, items.ConvertAll(_ => length), (each.Value, each.Index + 1), number);
        }
        if (!chords.Contains('(') || BeatsInBrackets().Matches(chords) is not { Count: > 0 } said)
            return TakeEach(items, number);
        var inBars = said.All(m => m.Groups["bars"].Success);
        var beats = items.ConvertAll(_ => inBars ? MeterHere.Beats : 0);
        var alone = true;
        foreach (Match m in said)
        {
            var at = items.FindLastIndex(i => i.Column <= m.Index);
            alone &= at >= 0 && (at + 1 == items.Count || m.Index < items[at + 1].Column)
                && beats[at] == (inBars ? MeterHere.Beats : 0);
            if (at < 0) continue;
            beats[at] = int.Parse(m.Groups["beats"].Value, CultureInfo.InvariantCulture)
                * (m.Groups["bars"].Success ? MeterHere.Beats : 1);
        }
        return TakeBeats(items, alone ? beats : [], (said[0].Value, said[0].Index + 1), number);
    }

    /// <summary>Lets chords last as many beats as are written behind them, when they fill bars.</summary>
    /// <param name="items">The chords of a line.</param>
    /// <param name="beats">One number for each of them; fewer where some have none.</param>
    /// <param name="first">The first number as it is written, and where.</param>
    /// <param name="number">The line.</param>
    /// <returns>How many bars each chord fills that begins one; null when the numbers do not fill bars.</returns>
    private List<int>? TakeBeats(List<Token> items, List<int> beats, (string Text, int Column) first, int number)
    {
        var (filled, fits) = (0, beats.Count == items.Count && items.TrueForAll(i => i.Units == 1));
        var (bar, bars) = (MeterHere.Beats, new List<int>());
        foreach (var each in beats)
        {
            var whole = filled == 0 && each % bar == 0 ? each / bar : 1;
            filled += whole > 1 ? bar : each;
            fits &= each > 0 && filled <= bar && whole <= ChartLimits.MostTimes;
            bars.Add(Math.Max(1, whole));
            filled %= bar;
        }
        if (fits && filled == 0)
        {
            for (var i = 0; i < items.Count; i++) items[i] = items[i] with { Units = Math.Min(bar, beats[i]) };
            return bars;
        }
        Problem(number, first.Column,
            $"{first.Text} behind a chord is not read: such numbers are beats, one behind every chord, that fill bars of "
                + $"{MeterHere}. Write bars where they mean something else, such as | C . G . |.");
        return null;
    }
}
