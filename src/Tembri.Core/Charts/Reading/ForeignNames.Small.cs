using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Charts that write minor chords with small letters, as songbooks do in much of Europe: C a F G.</content>
public static partial class ForeignNames
{
    private const int FewestLarge = 2;   // chords beside which a small letter says something
    private const int MostKinds = 200;   // that are looked at; a song has fewer

    /// <summary>A chord that begins with a small letter.</summary>
    [GeneratedRegex(@"^(?<root>[a-h](?:is|es|(?<=[ae])s)?)(?<sign>[#b♯♭]?)(?<rest>(?:maj|min|dim|sus|add|aug|m|M|[0-9]|[#b♯♭()+°øΔ-])*)(?:/(?<bass>[A-Ha-h])(?<of>(?:is|es|s|[#b♯♭])?))?$")]
    private static partial Regex SmallChord();

    /// <summary>A minor chord as everybody writes it, without those that say more of its third or fifth.</summary>
    [GeneratedRegex(@"^(?<root>[A-H](?:is|es|(?<=[AE])s)?)(?<sign>[#b♯♭]?)m(?!aj|in)(?<rest>[^/]*)(?<bass>/.*)?$")]
    private static partial Regex LargeMinor();

    [GeneratedRegex(@"^(?:m|M(?=aj)|sus|dim|aug|5(?![0-9])|[+°øΔ])")]
    private static partial Regex SaysItsKind();

    /// <summary>A symbol in which a small letter means minor, with a large letter and m; any other as it is.</summary>
    internal static string WithLargeLetter(string symbol)
    {
        if (symbol is not [>= 'a' and <= 'h', ..] || SmallChord().Match(symbol) is not { Success: true } small) return symbol;
        var (root, rest) = (small.Groups["root"].Value, small.Groups["rest"].Value);
        var bass = small.Groups["bass"] is { Success: true } low
            ? $"/{char.ToUpperInvariant(low.Value[0])}{small.Groups["of"].Value}"
            : "";
        return $"{char.ToUpperInvariant(root[0])}{root[1..]}{small.Groups["sign"].Value}{(SaysItsKind().IsMatch(rest) ? "" : "m")}{rest}{bass}";
    }

    /// <summary>The other way round: a minor chord by its small letter.</summary>
    internal static string WithSmallLetter(string symbol) =>
        LargeMinor().Match(symbol) is { Success: true } minor && !SaysItsKind().IsMatch(minor.Groups["rest"].Value)
            ? $"{char.ToLowerInvariant(symbol[0])}{minor.Groups["root"].Value[1..]}{minor.Groups["sign"].Value}{minor.Groups["rest"].Value}{minor.Groups["bass"].Value}"
            : symbol;

    /// <summary>Where small letters are first seen to mean minor chords; null in a chart where they do not.</summary>
    /// <remarks>They do where large ones stand beside them, no chord is called minor in another way, and more of the chords
    /// belong to one key so than if all were major.</remarks>
    /// <param name="lines">The lines with their numbers.</param>
    /// <param name="names">By which names notes are called, as far as is known.</param>
    /// <param name="plain">Remembers which symbols are chords under the names used here.</param>
    internal static (int Line, int Column, string Symbol, bool IsGerman)? SmallMinors(
        IEnumerable<(string Text, int Number)> lines, ChartNames names, PlainSymbols plain)
    {
        (int, int, string)? first = null;
        var (small, large) = (new HashSet<string>(), new HashSet<string>());
        foreach (var (text, number) in lines)
        {
            if (text.Length is 0 or > ChartLimits.LongestLine || !SmallRoot().IsMatch(text) && !Letter().IsMatch(text)
                || ChartHeader.IsHeader(text) || PageDebris.IsStave(text))
                continue;
            var from = ChordsAt(text);
            var symbols = SymbolsOf(text[from..EndOfChords(text)]);
            if (symbols.Count == 0 || !symbols.TrueForAll(s => SmallChord().IsMatch(s.Text) || IsKnown(s.Text))) continue;
            // One letter alone may be a word.
            if (symbols.Count == 1 && !text.AsSpan().ContainsAny('[', '|')) continue;
            foreach (var (symbol, column) in symbols)
            {
                if (symbol[0] is < 'a' or > 'h')
                {
                    if (LargeMinor().IsMatch(symbol)) return null;
                    if (large.Count < MostKinds) large.Add(symbol);
                    continue;
                }
                var rest = SmallChord().Match(symbol).Groups["rest"].Value;
                if (rest.StartsWith('m') && !rest.StartsWith("maj", StringComparison.Ordinal)) return null;
                if (small.Count < MostKinds) small.Add(symbol);
                first ??= (number, from + column, symbol);
            }
        }
        // H and names such as fis are those of German charts alone, large or small.
        var isGerman = names == ChartNames.German || small.Any(s => s[0] == 'h' || s is [_, 'i' or 'e', 's', ..]);
        if (small.Count == 0 || large.Count < FewestLarge && !(isGerman && small.Count + large.Count > FewestLarge)) return null;
        var german = isGerman ? ChartNames.German : names;
        var asMinor = small.Select(WithLargeLetter).Concat(large).Select(s => InEnglish(s, german)).ToList();
        var asMajor =
            small.Select(s => char.ToUpperInvariant(s[0]) + s[1..]).Concat(large).Select(s => InEnglish(s, german)).ToList();
        return first is var (line, at, seen) && OfOneKey(asMinor) > OfOneKey(asMajor)
            ? (line, at, seen, german == ChartNames.German)
            : null;

        bool IsKnown(string symbol) => plain.Has(symbol) || GermanChord().IsMatch(symbol);
    }

    [GeneratedRegex(@"(?:^|[\s|/\[(])[a-h](?:$|[\s|/\])0-9→-]|is|es|s|[#b♯♭])")]
    private static partial Regex SmallRoot();

    /// <summary>How many of these chords are triads of the one major key that holds most of them.</summary>
    private static int OfOneKey(List<string> symbols)
    {
        var chords = symbols.Distinct().Select(s => Chords.ChordReader.Read(s).Chord).OfType<Chords.Chord>()
            .Select(c => (Root: c.Root.PitchClass, IsMinor: c.Has(3) && !c.Has(4))).ToList();
        return Enumerable.Range(0, 12).Max(key => chords.Count(c => (c.IsMinor, (c.Root - key + 12) % 12) is
            (false, 0 or 5 or 7) or (true, 2 or 4 or 9)));
    }
}
