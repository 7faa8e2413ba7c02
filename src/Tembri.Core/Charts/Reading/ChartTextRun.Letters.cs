using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Letters that name sections: in front of bars, in brackets, between marks.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>A letter that stands apart before the bars.</summary>
    [GeneratedRegex(@"^\s*(?<letter>[A-H][1-4]?)(?:\s{2,}|\t\s*)\|.*\|\s*$")]
    private static partial Regex LetterInFront();

    /// <summary>The same with one blank, which may be a chord as well.</summary>
    [GeneratedRegex(@"^\s*(?<letter>[A-H])(?<number>[1-4]?)\s{0,2}\|.*\|\s*$")]
    private static partial Regex LetterClose();

    private const int BarsInPhrase = 4;

    /// <summary>True where every row of bars has a letter in front, A, B and so on or one of those before, and whole phrases
    /// behind it.</summary>
    private static bool AreLettersClose(List<(string Text, int Number)> lines)
    {
        var rows = lines.FindAll(l => l.Text.Length <= ChartLimits.LongestLine && l.Text.Contains('|')
                && l.Text.AsSpan().TrimStart() is not ['|', ..] && !LinePatterns.SmallLetters().IsMatch(l.Text.Split('|')[0]))
            .ConvertAll(l => (Name: LetterClose().Match(l.Text) is { Success: true } m ? m.Groups["letter"].Value + m.Groups["number"].Value : "",
                Bars: l.Text.Split('|').Skip(1).Count(cell => cell.Trim(' ', ':').Length > 0)));
        // A, B, C, or A1, A2, B: each is the next letter, or the next number of the same.
        bool IsNext(string before, string name) => name.Length > 0 && (name[0] == before[0] + 1 && name is [_] or [_, '1']
            || before.Length == 2 && name.Length == 2 && name[0] == before[0] && name[1] == before[1] + 1);
        var names = rows.Select(r => r.Name).Distinct().ToList();
        return names.Count > 1 && rows.TrueForAll(r => r.Bars > 0 && r.Bars % BarsInPhrase == 0) && names[0] is "A" or "A1"
            && names.Zip(names.Skip(1)).All(p => IsNext(p.First, p.Second));
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
        _lettersAreNames |= AreLettersAboveBars(lines);
        FindBracketed(lines);
        FindMarked(lines);
        FindInFront(lines);
    }

    /// <summary>A letter two blanks in front of bars that no line begins.</summary>
    [GeneratedRegex(@"^\s*(?<name>[A-H])\s{2,}(?<row>[A-H][^|]*\|.*)$")]
    private static partial Regex LetterBeforeBars();

    /// <summary>Letters two blanks in front of bars, <c>A  Fmaj7 | G7 |</c>, are names where they begin with A and leave none
    /// out, two or more, and whole phrases are behind each.</summary>
    private void FindInFrontOfBars(List<(string Text, int Number)> lines)
    {
        var found = new List<(int At, Match Match)>();
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= ChartLimits.LongestLine } line
                && LetterBeforeBars().Match(line) is { Success: true } match
                && match.Groups["row"].Value.Split('|').Count(cell => cell.Trim(' ', ':').Length > 0) % BarsInPhrase == 0)
                found.Add((i, match));
        var letters = found.Select(f => f.Match.Groups["name"].Value[0]).Distinct().ToList();
        if (letters.Count < 2 || letters.Where((l, i) => l != 'A' + i).Any()) return;
        foreach (var (at, match) in found)
        {
            var end = match.Groups["name"].Index + 1;
            lines[at] = ($"{lines[at].Text[..end]}:{lines[at].Text[(end + 1)..]}", lines[at].Number);
        }
    }

    /// <summary>A letter for a verse, a chorus, a bridge or another part in front of its row.</summary>
    [GeneratedRegex(@"^\s*(?<name>[VCBIMOPST])(?<number>[1-9]?)(?:[.)]\s{1,8}|\s{2,})(?<row>[A-H(|]\S*.*)$")]
    private static partial Regex LetterBeforeRow();

    /// <summary>In a chart that calls a verse V in front of its row, letters in front of rows that begin where that one does
    /// are names as well, C and B too.</summary>
    private void FindInFront(List<(string Text, int Number)> lines)
    {
        var found = new List<(int At, Match Match)>();
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= LongestRemarked } line
                && LetterBeforeRow().Match(line) is { Success: true } match && IsChordLine(match.Groups["row"].Value.Replace('|', ' ')))
                found.Add((i, match));
        FindInFrontOfBars(lines);
        if (found.Find(f => f.Match.Groups["name"].Value == "V").Match is not { } verse) return;
        foreach (var (at, match) in found.Where(f => f.Match.Groups["row"].Index == verse.Groups["row"].Index))
        {
            var end = match.Groups["number"].Index + match.Groups["number"].Length;
            lines[at] = ($"{lines[at].Text[..end]}:{lines[at].Text[(end + 1)..]}", lines[at].Number);
        }
    }

    [GeneratedRegex(@"^[\s\[(*_=~<>«»#–—-]*(?<letter>[CB])(?<number>[1-3]?)(?:\s|[\])*_=~<>«»–—-])*(?<count>\(?(?:[x×]\s?[2-9]|[2-9]\s?[x×])\)?)?\s*$", RegexOptions.NonBacktracking)]
    private static partial Regex LetterBetweenMarks();

    /// <summary>In a chart that calls its verses V1 and V2, C and B alone and apart above a row of chords are the chorus and the
    /// bridge.</summary>
    private void FindMarked(List<(string Text, int Number)> lines)
    {
        if (!lines.Exists(l => l.Text.Length <= LongestNaming && NamesVerseInShort().IsMatch(l.Text))) return;
        var named = new HashSet<char>();
        for (var i = 1; i < lines.Count; i++)
        {
            if (lines[i].Text.AsSpan().Trim() is ['C' or 'B', ':'] plain) named.Add(plain[0]);
            if (lines[i].Text is not { Length: > 0 and <= LongestNaming } line
                || LetterBetweenMarks().Match(line) is not { Success: true } match)
                continue;
            var (before, below) = (lines[i - 1].Text, i + 1 < lines.Count ? lines[i + 1].Text : "");
            var letter = match.Groups["letter"].Value[0];
            // Apart it is played again.
            var isAgain = named.Contains(letter) && before.Length == 0 && below.Length == 0;
            if (!isAgain && !((IsApart(before) || before.Contains('|') || NamesVerseInShort().IsMatch(before))
                && below.Length > 0 && (NextHasBars(lines, i) || below.Contains('['))))
                continue;
            named.Add(letter);
            var name = $"{letter}{match.Groups["number"].Value}";
            lines[i] = (isAgain ? $"[{name}] {match.Groups["count"].Value}".TrimEnd() : $"{name}: {match.Groups["count"].Value}".TrimEnd(), lines[i].Number);
        }
    }

    [GeneratedRegex(@"^[\s\[(*_=~<>«»#–—-]*V[1-9]?[\s\])*_=~<>«»–—.:-]*(?:\(.{0,40}\))?$")]
    private static partial Regex NamesVerseInShort();

    [GeneratedRegex(@"^\s*\[\s*(?<name>(?<letter>[A-H])['′’]{0,2}[0-9]?(?:\s+\([^()|\[\]]{1,40}\))?)\s*\]\s*$")]
    private static partial Regex LetterInBrackets();

    /// <summary>True where letters in brackets stand alone above bars, A and B at least.</summary>
    private bool AreLettersAboveBars(List<(string Text, int Number)> lines)
    {
        var letters = new HashSet<char>();
        for (var i = 0; i + 1 < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= LongestNaming } line && line.AsSpan().TrimStart() is ['[', ..]
                && lines[i + 1].Text is { Length: > 0 and <= ChartLimits.LongestLine } below
                && (below.AsSpan().TrimStart() is ['|', ..] || !below.Contains('[') && IsChordLine(below))
                && LetterInBrackets().Match(line) is { Success: true } match)
                letters.Add(match.Groups["letter"].Value[0]);
        return letters.Contains('A') && letters.Contains('B');
    }

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
        foreach (var (at, match) in found)
        {
            // A number behind the letter, A (2), is part of the name; before a colon it would be a count.
            var name = match.Groups["name"].Value;
            if (name is not [_, ' ', '(', >= '0' and <= '9', ..]) lines[at] = ($"{name}:", lines[at].Number);
        }
    }
}
