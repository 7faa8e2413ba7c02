using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts;

/// <content>Names of sections that only the lines around them tell: letters, names that stand above already, names in one
/// bracket with their chords.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>Tells lines that head a section of a chart whose sections have these names.</summary>
    internal static Func<string, bool> HeadingsAmong(IEnumerable<string> names)
    {
        var run = new ChartTextRun();
        run._names.UnionWith(names);
        run._lettersAreNames = run._names.Any(LetterAlone().IsMatch);
        return line => IsHeading(line) || run.ByNameAbove(LineTidy.Of(line).TrimEnd()) is not null;
    }

    /// <summary>A letter that stands apart before the bars.</summary>
    [GeneratedRegex(@"^\s*(?<letter>[A-H][0-9]?)(?:\s{2,}|\t\s*)\|.*\|\s*$")]
    private static partial Regex LetterInFront();

    /// <summary>The same with one blank, which may be a chord as well.</summary>
    [GeneratedRegex(@"^\s*(?<letter>[A-H])(?<number>[1-4]?)\s{0,2}\|.*\|\s*$")]
    private static partial Regex LetterClose();

    private const int BarsInPhrase = 4;

    /// <summary>True where every row of bars has a letter in front, A, B and so on, and whole phrases behind it.</summary>
    private static bool AreLettersClose(List<(string Text, int Number)> lines)
    {
        var rows = lines.FindAll(l => l.Text.Length <= ChartLimits.LongestLine && l.Text.Contains('|')
                && l.Text.AsSpan().TrimStart() is not ['|', ..])
            .ConvertAll(l => (Name: LetterClose().Match(l.Text) is { Success: true } m ? m.Groups["letter"].Value + m.Groups["number"].Value : "",
                Bars: l.Text.Split('|').Skip(1).Count(cell => cell.Trim(' ', ':').Length > 0)));
        // A, B, C, or A1, A2, B: each is the next letter, or the next number of the same.
        bool IsNext(string before, string name) => name.Length > 0 && (name[0] == before[0] + 1 && name is [_] or [_, '1']
            || before.Length == 2 && name.Length == 2 && name[0] == before[0] && name[1] == before[1] + 1);
        return rows.Count > 1 && rows.TrueForAll(r => r.Bars > 0 && r.Bars % BarsInPhrase == 0) && rows[0].Name is "A" or "A1"
            && rows.Zip(rows.Skip(1)).All(p => IsNext(p.First.Name, p.Second.Name));
    }

    private bool IsNameInFront(string line) =>
        _lettersAreNames && (LetterInFront().IsMatch(line) || _lettersStandClose && LetterClose().IsMatch(line));

    private bool _lettersAreNames, _lettersStandClose;

    /// <summary>Letters apart before whole lines of bars name sections where there are several that begin with A, or one that no
    /// chord is called.</summary>
    private void FindLetters(List<(string Text, int Number)> lines)
    {
        var letters = lines.Where(l => l.Text.Length <= ChartLimits.LongestLine && l.Text.Contains('|'))
            .Select(l => LetterInFront().Match(l.Text)).Where(m => m.Success).Select(m => m.Groups["letter"].Value).ToHashSet();
        _lettersStandClose = AreLettersClose(lines);
        _lettersAreNames =
            _lettersStandClose || letters.Any(l => !IsChord(l)) || letters.Count > 1 && letters.Any(l => l[0] == 'A');
        FindBracketed(lines);
    }

    [GeneratedRegex(@"^\s*\[\s*(?<name>(?<letter>[A-H])['′’]{0,2}[0-9]?(?:\s+\([^()|\[\]]{1,40}\))?)\s*\]\s*$")]
    private static partial Regex LetterInBrackets();

    /// <summary>Letters in brackets, apart above words with chords in brackets, name sections where they begin with A and leave
    /// none out; one alone would be a chord.</summary>
    private static void FindBracketed(List<(string Text, int Number)> lines)
    {
        var found = new List<(int At, Match Match)>();
        for (var i = 0; i + 1 < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= LongestNaming } line && line.AsSpan().TrimStart() is ['[', ..]
                && lines[i + 1].Text is { Length: > 0 and <= ChartLimits.LongestLine } below && below.Contains('[')
                && LetterInBrackets().Match(line) is { Success: true } match && (i == 0 || IsApart(lines[i - 1].Text)))
                found.Add((i, match));
        var letters = found.Select(f => f.Match.Groups["letter"].Value[0]).Distinct().ToList();
        if (letters.Count < 2 || letters.Where((l, i) => l != 'A' + i).Any()) return;
        foreach (var (at, match) in found) lines[at] = ($"{match.Groups["name"].Value}:", lines[at].Number);
    }

    /// <summary>A section whose name stands above already: named once more, or said to be like it.</summary>
    /// <returns>Its name, how often it is played, and which one it follows; null for any other line.</returns>
    private (string Name, int Times, string? Like)? ByNameAbove(string line)
    {
        if (_names.Count == 0 || line.Length > LongestNaming || line.Contains('|')) return null;
        if (line.AsSpan().TrimStart() is ['[', ..] && HeadingLine.Counted(line) is var (alone, often)
            && BracketAlone().Match(alone) is { Success: true } bracket)
            return _names.TryGetValue(bracket.Groups["name"].Value, out var letter) && IsChord(letter)
                ? (letter, often, null)
                : null;
        if (line.Contains('[')) return null;
        if (SaysLike(line) && HeadingLine.LikeNamed(line) is var (wanted, like))
            return HeadingLine.Counted(like) is var (asked, plays) && Above(asked) is { } above ? (wanted, plays, above) : null;
        if (!_names.Any(n => line.AsSpan().TrimStart().StartsWith(n, StringComparison.OrdinalIgnoreCase))) return null;
        var said = RemarkAtEnd().Match(line);
        var (name, times) = HeadingLine.Counted((said.Success ? line[..said.Index] : line).Trim().TrimEnd('.', ':').TrimEnd());
        if (!_names.TryGetValue(name, out var known) && !_names.TryGetValue(name.TrimEnd('.', ':'), out known)) return null;
        // A longer one may be a word of the song; chords are chords but where letters name the sections.
        var isName = known.Length <= LongestShort || known.Equals(name, StringComparison.Ordinal);
        if (!isName || IsChord(known) && !(_lettersAreNames && LetterAlone().IsMatch(known))) return null;
        return said.Success ? ($"{known} ({said.Groups["remark"].Value.Trim()})", times, known) : (known, times, null);
    }

    /// <summary>What is remarked in brackets at the end; a count is none.</summary>
    [GeneratedRegex(@"(?<=\S)\s+\((?!\s*[x×0-9])(?=[^()\[\]|]*?\p{L}{2})(?<remark>(?>[^()\[\]|]+))\)\s*$")]
    private static partial Regex RemarkAtEnd();

    private OpenSection? _namesStandBehind;   // a section whose name stands behind its bars

    /// <summary>A row whose name stands behind it in brackets, <c>Am G F E (verse)</c>, where no name stands above it: the row,
    /// its name and how often it is played; null for any other line.</summary>
    private (string Row, string Name, int Times)? NamedBehind(string line)
    {
        if (_section is not null and not { Name: Unnamed } && _section != _namesStandBehind || line.Length > LongestRemarked
            || !line.Contains(')'))
            return null;
        // The count of the row may stand behind its name.
        var count = HeadingLine.CountAt(line) is { At: > 0 and var at } && line[..at].TrimEnd().EndsWith(')') ? line[at..] : "";
        var end = line.Length - count.Length;
        if (RemarkAtEnd().Match(line[..end]) is not { Success: true } said
            || HeadingLine.Counted(said.Groups["remark"].Value.Trim()) is var (named, times)
                && named.TrimEnd(',', ';', ' ') is var name && !HeadingLine.IsKnown(name))
            return null;
        var row = line[..said.Index];
        return IsChordLine(row) || IsChordLine(row.Split('|', 2)[0]) || row.AsSpan().TrimStart() is ['|', ..]
            ? (row + count, name, times)
            : null;
    }

    /// <summary>False for nearly all lines, without a pattern.</summary>
    private static bool SaysLike(string line) =>
        line.Contains("as ", StringComparison.OrdinalIgnoreCase) || line.Contains("over ", StringComparison.OrdinalIgnoreCase)
            || line.Contains("like ", StringComparison.OrdinalIgnoreCase) || line.Contains("wie ", StringComparison.OrdinalIgnoreCase)
            || line.Contains("com", StringComparison.OrdinalIgnoreCase) || line.Contains(" = ", StringComparison.Ordinal);

    [GeneratedRegex(@"^\s*\[\s*(?<name>[^\s\[\]|]{1,12})\s*\]\s*$")]
    private static partial Regex BracketAlone();

    private const int LongestNaming = 80;
    private const int LongestShort = 4;

    [GeneratedRegex(@"^[A-H][0-9]?$")]
    private static partial Regex LetterAlone();

    [GeneratedRegex(@"^\s*\[\s*\p{L}[\p{L}\p{N} .'’/&+-]*(?::|\s[–—-])\s(?<rest>[^\[\]|]+)\][^\[\]|]*$")]
    private static partial Regex NameAndChords();

    /// <summary>The line without the brackets around a name and its chords, <c>[Intro: G D]</c>, as long as it was.</summary>
    private string WithoutBrackets(string line)
    {
        if (line.TrimStart() is not ['[', ..] || NameAndChords().Match(line) is not { Success: true } match
            || !IsChordLine(match.Groups["rest"].Value))
            return line;
        return line.Replace('[', ' ').Replace(']', ' ');
    }
}
