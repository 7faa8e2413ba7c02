using System.Text.RegularExpressions;
using Tembri.Core.Chords;

namespace Tembri.Core.Charts.Reading;

/// <summary>Reads chords that are named in other ways as the names they have here.</summary>
public static partial class ForeignNames
{
    private const string Quality = @"(?<rest>(?:maj|min|dim|sus|add|aug|m|M|[0-9]|[#b♯♭()+°øΔ-])*)";

    [GeneratedRegex(@"^(?<root>Cis|Dis|Eis|Fis|Gis|Ais|His|Ces|Des|Fes|Ges|Es|As|[A-H])" + Quality
            + @"(?:/(?<bass>Cis|Dis|Eis|Fis|Gis|Ais|His|Ces|Des|Fes|Ges|Es|As|[A-H])(?<sign>[#b♯♭]?))?$")]
    private static partial Regex GermanChord();

    [GeneratedRegex(@"^(?<root>Do|Ré|Re|Mi|Fa|Sol|La|Si|DO|RE|MI|FA|SOL|LA|SI)(?<sign>[#b♯♭]?)" + Quality
            + @"(?:/(?<bass>Do|Ré|Re|Mi|Fa|Sol|La|Si)(?<bassSign>[#b♯♭]?))?$")]
    private static partial Regex SyllableChord();

    /// <summary>What a foreign name begins with, to pass over most lines quickly.</summary>
    [GeneratedRegex(@"(?:^|[\s|/\[(])(?:H|[CDEFGA]is|[CDFG]es|Es|As|Do|Re|Ré|Mi|Fa|Sol|La|Si|DO|RE|MI|FA|SOL|LA|SI)")]
    private static partial Regex Suspect();

    /// <summary>A symbol under the names used here; as it is where the other names do not know it.</summary>
    internal static string InEnglish(string symbol, ChartNames names)
    {
        if (names == ChartNames.English) return symbol;
        if (names == ChartNames.German && GermanChord().Match(symbol) is { Success: true } german)
            return German(german.Groups["root"].Value, german.Groups["rest"].Value) + german.Groups["rest"].Value
                + (german.Groups["bass"] is { Success: true } bass
                    ? "/" + German(bass.Value, german.Groups["sign"].Value) + german.Groups["sign"].Value
                    : "");
        if (names == ChartNames.Syllables && SyllableChord().Match(symbol) is { Success: true } said)
            return Syllable(said.Groups["root"].Value) + said.Groups["sign"].Value + said.Groups["rest"].Value
                + (said.Groups["bass"] is { Success: true } low
                    ? "/" + Syllable(low.Value) + said.Groups["bassSign"].Value
                    : "");
        // A bass alone, which keeps the chord before it.
        if (symbol is ['/', .. var rest]) return "/" + InEnglish(rest, names);
        return symbol;
    }

    [GeneratedRegex(@"(?<before>^|/)B(?<sign>[b♭]?)")]
    private static partial Regex EnglishB();

    /// <summary>A symbol under the names used here, for a text that has others. B♭ is written so in all of them.</summary>
    internal static string FromEnglish(string symbol, ChartNames names) =>
        names != ChartNames.German
            ? symbol
            : EnglishB()
                .Replace(symbol,
                    m => m.Groups["before"].Value + (m.Groups["sign"].Length > 0 ? "B" : "H") + m.Groups["sign"].Value);

    /// <summary>A text that says by which names its notes are called, where only its chords showed it.</summary>
    public static string WithNamesSaid(string text) =>
        ChartReader.Read(text) is { NamesAreSaid: false } reading && reading.Naming is var naming
            && (naming.Names != ChartNames.English || naming.SmallIsMinor)
                ? $"{Said(naming)}\n{text}"
                : text;

    /// <summary>The header line that says by which names chords are called.</summary>
    internal static string Said(ChartNaming naming) =>
        $"names: {ChartHeader.NameOf(naming.Names)}{(naming.SmallIsMinor ? $", {ChartHeader.SmallAreMinor}" : "")}";

    /// <summary>True for a chord by whatever names of notes.</summary>
    internal static bool IsChordInAny(string symbol) =>
        NotesHaveNames.Any(n => ChordReader.Read(InEnglish(symbol.Trim(), n)).Ok);

    private static readonly ChartNames[] NotesHaveNames = [ChartNames.English, ChartNames.German, ChartNames.Syllables];

    /// <summary>Which names a text uses, when it does not say so, and where that is first seen; null for English.</summary>
    /// <remarks>A row of syllables may be sung, as la la la is, so it counts only in a text that has no other chords.</remarks>
    /// <param name="lines">The lines with their numbers.</param>
    /// <param name="plain">Remembers which symbols are chords under the names used here.</param>
    internal static (ChartNames Names, int Line, int Column, string Symbol)? In(IEnumerable<(string Text, int Number)> lines,
        PlainSymbols plain)
    {
        (ChartNames, int, int, string)? syllables = null;
        var degrees = new DegreesSeen();
        var hasEnglish = false;
        foreach (var (text, number) in lines)
        {
            if (text.Length > ChartLimits.LongestLine) continue;
            if (!hasEnglish && degrees.Take(text, number)) continue;
            if (!Suspect().IsMatch(text) && (hasEnglish || !Letter().IsMatch(text)) || ChartHeader.IsHeader(text)
                || text.AsSpan().TrimStart() is [MelodyLine.Mark, ..])
                continue;
            var from = ChordsAt(text);
            var symbols = SymbolsOf(text[from..EndOfChords(text)]).ConvertAll(s => (s.Text, Column: from + s.Column));
            if (symbols.Count == 0) continue;
            if (symbols.All(s => plain.Has(s.Text) || GermanChord().IsMatch(s.Text))
                && symbols.FirstOrDefault(s => !plain.Has(s.Text) && OnlyGerman(s.Text)) is { Text: { } german } first)
                return (ChartNames.German, number, first.Column, german);
            if (symbols.All(s => SyllableChord().IsMatch(s.Text)) && (symbols.Count > 1 || text.Contains('|'))
                && symbols.Any(s => !plain.Has(s.Text)))
                syllables ??= (ChartNames.Syllables, number, symbols[0].Column, symbols[0].Text);
            else
            {
                // The number of a verse is no chord.
                if (symbols.Count > 1 && ChartTextRun.NumberInFront().IsMatch(text)) symbols.RemoveAt(0);
                hasEnglish |= symbols.All(s => plain.Has(s.Text) && !SyllableChord().IsMatch(s.Text));
            }
        }
        return hasEnglish ? null : syllables ?? degrees.Result;
    }

    /// <summary>The letter a chord may begin with.</summary>
    [GeneratedRegex(@"(?:^|[\s|/\[(])[A-G]")]
    private static partial Regex Letter();

    private static bool OnlyGerman(string text) =>
        GermanChord().Match(text) is { Success: true } match
            && ChordReader.Read(InEnglish(text, ChartNames.German)).Ok;

    [GeneratedRegex(@"\[(?<chord>[^\]\s]{1,60})\]|(?<word>[^\s|,;\[\]→⇒]+)")]
    private static partial Regex Pieces();

    /// <summary>Signs between chords and how often they are played, which are no symbols.</summary>
    [GeneratedRegex(@"^(?:[-=]?>|[*•·~]|[-.–/%:()<>]+|\(?(?:[x×*][0-9]{1,2}|[0-9]{1,2}[x×])\)?|N\.?C\.?)$", RegexOptions.IgnoreCase)]
    private static partial Regex NoSymbol();

    /// <summary>What may be chords in a line: all of it but bar lines, held beats and counts, or what stands in square brackets;
    /// round brackets around a chord are no part of it.</summary>
    internal static List<(string Text, int Column)> SymbolsOf(string line)
    {
        var words = line.Contains('[') && !line.Contains('|');
        var symbols = new List<(string Text, int Column)>();
        foreach (Match piece in Pieces().Matches(line))
        {
            var group = words || piece.Groups["chord"].Success ? piece.Groups["chord"] : piece.Groups["word"];
            if (!group.Success || NoSymbol().IsMatch(group.ValueSpan)) continue;
            var (text, column) = (group.Value, group.Index + 1);
            if (text.StartsWith('(') && !text.AsSpan(1).Contains('(')) (text, column) = (text[1..], column + 1);
            if (text.EndsWith(')') && !text.Contains('(')) text = text[..^1];
            if (text.Length > 0 && !NoSymbol().IsMatch(text)) symbols.Add((text, column));
        }
        return symbols;
    }

    /// <summary>Where a count begins that ends a line, <c>G D, 2 times</c>; the line's length where none does.</summary>
    private static int EndOfChords(string line) =>
        line.EndsWith("times", StringComparison.Ordinal) && HeadingLine.CountAt(line) is { At: > 0 and var at } ? at : line.Length;

    /// <summary>Where in a line its chords may begin: behind a name and its colon.</summary>
    private static int ChordsAt(string line) =>
        !line.Contains('[') && line.IndexOf(": ", StringComparison.Ordinal) is >= 0 and var colon ? colon + 1 : 0;

    /// <param name="note">The note.</param>
    /// <param name="behind">What stands behind it: B♭ may be written out as well.</param>
    private static string German(string note, string behind) => note switch
    {
        "H" => "B",
        "B" => behind is ['b' or '♭', ..] ? "B" : "Bb",
        "His" => "B#",
        "Es" => "Eb",
        "As" => "Ab",
        [var letter, 'i', 's'] => letter + "#",
        [var letter, 'e', 's'] => letter + "b",
        _ => note,
    };

    private static string Syllable(string name) =>
        name.ToLowerInvariant() switch
        {
            "do" => "C",
            "re" or "ré" => "D",
            "mi" => "E",
            "fa" => "F",
            "sol" => "G",
            "la" => "A",
            _ => "B"
        };
}
