using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <summary>Chords written as they are spoken, in signs: <c>F sharp minor</c>, F#m.</summary>
internal static partial class SpokenChords
{
    // Fills a chord in signs up to the length of its words. No text has it: it is no character.
    private const char Filling = '\uFFFF';
    private static readonly string[] Words = ["minor", "major", "sharp", "flat", "seven", "dimin", "augm",
        // Signs apart from their letter: C maj7, A min7.
        " maj", " min", " m7", " sus", " dim", " aug"];

    [GeneratedRegex(@"(?<![\p{L}\p{N}#♯♭'’-])(?<root>[A-G])(?:[ -](?<sign>sharp|flat)|(?<sign>[#b♯♭])(?=[ -]))?(?:[ -](?<kind>major|minor|maj|min|diminished|augmented|dominant))?(?:[ -](?<seventh>seven(?:th)?)| (?<apart>(?:maj|min|m)?(?:7|9|11|13|6)(?:b5|sus4)?|sus[24]|dim7?|aug|add9)| (?<seventh>7(?:th)?))?(?![\p{L}\p{N}#♯♭'’])",
        LinePatterns.AnyCase)]
    private static partial Regex Spoken();

    /// <summary>True when a line may have such chords.</summary>
    public static bool MayBeIn(string line) =>
        !line.Contains('[') && Array.Exists(Words, w => line.Contains(w, StringComparison.OrdinalIgnoreCase));

    /// <summary>A seventh whose suspension stands apart: G7 sus4.</summary>
    [GeneratedRegex(@"(?<![\p{L}\p{N}#♯♭'’-])(?<chord>[A-G][#b♯♭]?m?(?:7|9|11|13))\s(?<sus>sus[24]?)(?![\p{L}\p{N}#♯♭'’])")]
    private static partial Regex SuspensionApart();

    /// <summary>A row with its chords in signs, each as long as its words were.</summary>
    public static string InPlace(string row) =>
        SuspensionApart().Replace(Spoken().Replace(row, m => Signs(m).PadRight(m.Length, Filling)),
            m => (m.Groups["chord"].Value + m.Groups["sus"].Value).PadRight(m.Length, Filling));

    /// <summary>A chord in signs, as it stands in a row or in the text; any other symbol as it is.</summary>
    public static string InSigns(string symbol) =>
        symbol is [.., Filling] ? symbol.TrimEnd(Filling)
            : symbol.Contains(' ') && SuspensionApart().Match(symbol) is { Success: true } apart && apart.Length == symbol.Length
                ? symbol.Replace(" ", "", StringComparison.Ordinal)
            : symbol.AsSpan().ContainsAny(' ', '-') && Spoken().Match(symbol) is { Success: true } m && m.Length == symbol.Length
                ? Signs(m)
                : symbol;

    /// <summary>What stands in a row, as it would be written without its words.</summary>
    public static string WithoutFilling(string written) =>
        written.Contains(Filling) ? written.Replace(Filling.ToString(), "", StringComparison.Ordinal) : written;

    private static string Signs(Match spoken)
    {
        bool Has(string group, char first) => spoken.Groups[group].ValueSpan is [var c, ..] && char.ToLowerInvariant(c) == first;
        var sign = Has("sign", 's') ? "#" : Has("sign", 'f') ? "b" : spoken.Groups["sign"].Value;
        var seventh = spoken.Groups["seventh"].Success;
        var apart = spoken.Groups["apart"].Value.ToLowerInvariant();
        if (apart.StartsWith("min", StringComparison.Ordinal)) apart = "m" + apart[3..];
        var kind = spoken.Groups["kind"].ValueSpan switch
        {
            [] => "",
            ['d' or 'D', 'i' or 'I', ..] => "dim",
            ['a' or 'A', ..] => "aug",
            ['m' or 'M', 'i' or 'I', ..] => "m",
            ['m' or 'M', ..] when seventh => "maj",
            _ => "",
        };
        return spoken.Groups["root"].Value.ToUpperInvariant() + sign + kind + (seventh ? "7" : "") + apart;
    }
}
