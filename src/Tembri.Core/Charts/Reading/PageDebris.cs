using System.Buffers;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <summary>What a line of a page is that is no part of its chart.</summary>
internal enum Debris
{
    /// <summary>A line of a stave of tablature.</summary>
    Tablature,
    /// <summary>The shape of a chord.</summary>
    Shape,
    /// <summary>A sign that sends the player to another place.</summary>
    Sign,
    /// <summary>An address, a number of the page, who may copy it, buttons.</summary>
    Page,
}

/// <summary>What stands on a page beside the chart: staves of tablature, lists of shapes, addresses, page numbers. It is left
/// out, and said.</summary>
internal static partial class PageDebris
{
    private const int FewestDashes = 5;

    /// <summary>One line of a stave, with or without the string's name.</summary>
    [GeneratedRegex(@"^(?=.)(?!\s*(?:[A-Gac-g]#?|b#)$)(?>\s*)(?>(?:[A-Ga-g][#b]?\s*)?)[|:]?[-–—0-9|hpbrtsxXv/\\~()^.*=\s<>:]*$")]
    private static partial Regex StaveLine();

    /// <summary>A stave line with what it is called in front of it, or a remark behind: <c>Riff: e--0--3--0--| (let
    /// ring)</c>.</summary>
    [GeneratedRegex(@"^\s*(?:\p{L}[\p{L}0-9 ]{1,20}:\s*)?(?<stave>[A-Ga-g][#b]?\s?[|:]?[-–0-9|hpb/\\~]{5,}\|)(?:\s+\([^()]{0,60}\))?\s*$")]
    private static partial Regex NamedStave();

    /// <summary>A chord and the fret of each string, what is remarked of it behind.</summary>
    [GeneratedRegex(@"^\s*(?:[*•-]\s*)?[\[(]?(?<chord>[A-H][^\s\[\]:=]{0,12}?)[\])]?(?:\s*[:=–—|-])?\s*(?<=[\s:=–—|-])[(\[|]?(?:[0-9xX]{6}|[0-9xX]{1,2}(?:[-–, ]\s?[0-9xX]{1,2}){5})[)\]|]?(?:\s+[^|\[\]]{1,40})?\s*$")]
    private static partial Regex ShapeLine();

    [GeneratedRegex(@"https?://|\bwww\.|^\s*(?:page|p\.)\s*[0-9]+(?:\s*(?:of|/)\s*[0-9]+)?\s*$|\s[-–—|·(]\s?page\s[0-9]+\sof\s[0-9]+\)?\s*$|©|\(c\)\s*[0-9]{4}|\bcopyright\b"
            + "|all rights reserved", LinePatterns.AnyCase)]
    private static partial Regex PageLine();

    [GeneratedRegex(@"^\s*(?:segno|to coda|coda sign|fine|𝄋|𝄌|§|⊕|(?:D\.\s?[SC]\.?|D[SC]\.?|D\sS\.?|D\sC\.|dal segno|da capo)(?:\s+al\s+"
            // D C without a dot is two chords.
            + @"(?:fine|coda))?|D\sC\s+al\s+(?:fine|coda))\.?\s*$", LinePatterns.AnyCase)]
    private static partial Regex SignLine();

    [GeneratedRegex(@"^[\s\-–—=_*~+.]{3,}$|^\s*\|(?=[|\s]*[=_])[|=_\s]{3,}$|^\s*```\w*\s*$")]
    private static partial Regex RuleLine();

    /// <summary>True for a sign that sends the player to another place.</summary>
    public static bool IsSign(string text) => SignLine().IsMatch(text);

    /// <summary>True for a drawn rule, or the mark around what is set as it stands; they say nothing.</summary>
    public static bool IsRule(string line) => RuleLine().IsMatch(line);

    /// <summary>What a line is that is no part of the chart; null for a part of it.</summary>
    public static Debris? Of(string line, Func<string, bool> isChord)
    {
        if (IsStave(line)) return Debris.Tablature;
        if (ShapeLine().Match(line) is { Success: true } shape && isChord(shape.Groups["chord"].Value.TrimEnd(':')))
            return Debris.Shape;
        if (AreShapes(line, isChord)) return Debris.Shape;
        // A row of bars may have an address or whose words they are among its words.
        var isRow = line.AsSpan().Trim() is ['|', .., '|'] && line.Split(['|', ' ', '[', ']']).Any(isChord);
        if (!isRow && PageLine().IsMatch(line)) return Debris.Page;
        if (IsSign(line)) return Debris.Sign;
        // Words between strokes are a row of buttons or a table.
        if (line.Contains('|') && !line.Contains('[')
            && line.Split(['|', ' '], StringSplitOptions.RemoveEmptyEntries) is { Length: > 0 } words
            && words.All(w => !isChord(w) && !isChord(w.Split('(')[0].TrimEnd('/', '.', '-', '~')) && w is not ("%" or "." or "/" or "-")) && LinePatterns.SmallLetters().IsMatch(line))
            return Debris.Page;
        return null;
    }

    /// <summary>What to do about lines that were left out.</summary>
    public static string Say(Debris what, int lines)
    {
        var these = lines == 1 ? "This line is" : $"These {lines} lines are";
        return what switch
        {
            Debris.Tablature => $"{these} tablature and left out; write what is to be played as bars, such as | G . D . |.",
            Debris.Sign =>
                $"{these} a sign that sends the player elsewhere, which is not followed; write the order of the sections, such "
                    + "as form: Verse, Chorus, Verse.",
            Debris.Shape => $"{these} shapes of chords and left out; shapes are chosen on the ladder.",
            _ => $"{these} part of a page, not of the chart, and left out.",
        };
    }

    /// <summary>True for several names with the shape behind each.</summary>
    private static bool AreShapes(string line, Func<string, bool> isChord)
    {
        if (!line.AsSpan().ContainsAnyInRange('0', '9')) return false;
        var words = line.Split([' ', ',', '=', ':', '*', ';', '(', ')', '[', ']'], StringSplitOptions.RemoveEmptyEntries);
        for (var i = 0; i < words.Length; i++)
            if (i % 2 == 0 ? !isChord(words[i]) : words[i].Length != 6 || words[i].AsSpan().ContainsAnyExcept("0123456789xX"))
                return false;
        return words.Length > 3 && words.Length % 2 == 0;
    }

    private static readonly SearchValues<string> Joined = SearchValues.Create(["--", "––", "——"], StringComparison.Ordinal);

    /// <summary>True for a line of a stave of tablature.</summary>
    public static bool IsStave(string line)
    {
        // Dashes apart are beats.
        if (!line.AsSpan().ContainsAny(Joined)) return false;
        if (NamedStave().Match(line) is { Success: true } named) line = named.Groups["stave"].Value;
        else if (!StaveLine().IsMatch(line)) return false;
        int dashes = 0, signs = 0, digits = 0;
        foreach (var c in line)
        {
            if (c is '-' or '–' or '—') dashes++;
            if (char.IsAsciiDigit(c)) digits++;
            if (c is not (' ' or '|')) signs++;
        }
        return dashes >= FewestDashes && 2 * dashes >= signs && (digits > 0 || line.Contains('|'));
    }
}
