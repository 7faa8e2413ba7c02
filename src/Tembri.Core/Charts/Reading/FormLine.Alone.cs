using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Tells a line that is an order of sections without saying so.</content>
internal sealed partial class FormLine
{
    private const int LongestByItself = 160, FewestByItself = 3;

    [GeneratedRegex(@"\s*(?:[,;/>→+]|\s[-–]+>?\s)\s*")]
    private static partial Regex Parting();

    [GeneratedRegex(@"^\(?(?:[x×][0-9]{1,2}|[0-9]{1,2}[x×])\)?$", LinePatterns.AnyCase)]
    private static partial Regex CountAlone();

    /// <summary>True for a line that is nothing but names of sections, in full or by how they begin, three or more of them and
    /// not all one: <c>Verse, Chorus, Verse, Chorus x2</c>, <c>V C V C B C</c>, and numbers of verses that have only
    /// those.</summary>
    /// <param name="line">The line.</param>
    /// <param name="isChord">Tells a chord, which may be a letter that a name begins with.</param>
    /// <param name="verses">How many verses are called by their number alone; 0 for none.</param>
    public static bool IsLike(string line, Func<string, bool> isChord, int verses)
    {
        if (line.Length > LongestByItself || line.AsSpan().ContainsAny("|[]{}:.") || line.AsSpan().Trim().Length < 2 * FewestByItself - 1
            || !MayBegin(line, verses > 0))
            return false;
        var pieces = Parting().Split(line.Trim());
        if (pieces.Length == 1)
            pieces = pieces[0].Split(pieces[0].Contains(' ') ? [' '] : ['-', '–'], StringSplitOptions.RemoveEmptyEntries);
        var names = new List<string>();
        var isSure = false;   // more than letters that may be anything
        foreach (var piece in pieces)
        {
            if (CountAlone().IsMatch(piece) && names.Count > 0) continue;
            var name = HeadingLine.Counted(piece).Name.Trim();
            var isNumber = name.Length is 1 or 2 && name.All(char.IsAsciiDigit);
            // The number of a kind may stand apart from it.
            if (isNumber && names is [.., var kind] && HeadingLine.IsKnown(kind)) names[^1] = $"{kind} {name}";
            else if (isNumber && Number(name) is var verse && verse >= 1 && verse <= verses) names.Add(name);
            else if (HeadingLine.IsKnown(name) || Short().Match(name) is { Success: true } brief && KindOf(brief.Groups["kind"].Value) is not null)
                names.Add(name);
            else return false;
            isSure |= isNumber || names[^1].Length > FewestByItself
                || names[^1] is ['v' or 'V', ..] or ['c' or 'C', 'h' or 'H', ..];
        }
        return isSure && names.Count >= FewestByItself && names.Distinct(StringComparer.OrdinalIgnoreCase).Count() > 1
            // A name and chords behind it are a row.
            && !names.Skip(1).All(isChord);
    }

    private static readonly string[] BeforeAKind =
        ["middle", "pre", "post", "last", "final", "first", "second", "third", "fourth", "half", "double", "short"];

    /// <summary>False for nearly all lines, by their first word.</summary>
    private static bool MayBegin(string line, bool isNumbered)
    {
        var rest = line.AsSpan().Trim();
        var end = rest.IndexOfAny(" ,;/>→+-–");
        var word = (end < 0 ? rest : rest[..end]).ToString();
        if (char.IsAsciiDigit(word.FirstOrDefault())) return isNumbered || word.Any(char.IsLetter);
        return Short().Match(word) is { Success: true } brief && KindOf(brief.Groups["kind"].Value) is not null
            || BeforeAKind.Contains(word, StringComparer.OrdinalIgnoreCase) || HeadingLine.IsKnown(word);
    }
}
