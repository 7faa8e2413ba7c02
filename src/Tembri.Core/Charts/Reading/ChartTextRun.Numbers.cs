using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Verses with numbers, in front of their chords, in front of words below chords, or above them, and numbers that only
/// count lines.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>A number alone in its line.</summary>
    [GeneratedRegex(@"^\s*\(?(?<number>[0-9]{1,2})[.)]{0,2}\s*$")]
    private static partial Regex NumberAlone();

    /// <summary>A letter alone in its line, with or without a number.</summary>
    [GeneratedRegex(@"^\s*(?<name>[A-H]['′’]{0,2}[0-9]?(?:\s+\([^()|\[\]]{1,40}\))?)\s*$")]
    private static partial Regex LetterAbove();

    /// <summary>A number in front of chords.</summary>
    [GeneratedRegex(@"^\s*(?<number>[0-9]{1,2})[.):](?:\s+(?=[^\s|])|(?=\[))")]
    internal static partial Regex NumberInFront();

    /// <summary>A number apart from the words behind it, as it stands in front of words under chords.</summary>
    [GeneratedRegex(@"^\s*(?<number>[0-9]{1,2})\s{2,8}(?=\p{L})")]
    private static partial Regex NumberBeside();

    /// <summary>A number that is said to be like one before it: <c>3. as 1.</c></summary>
    [GeneratedRegex(@"^\s*[0-9]{1,2}[.)]\s{1,4}\(?" + HeadingLine.AsWords + @"\s{1,4}(?<like>[0-9]{1,2})[.)]{0,2}\s*$", LinePatterns.AnyCase)]
    private static partial Regex NumberLike();

    /// <summary>The letter of a refrain in front of its words.</summary>
    [GeneratedRegex(@"^\s*(?<name>R|Refr?|Chor?)[.:)]{1,2}\s+(?=\S)")]
    private static partial Regex RefrainInFront();

    /// <summary>The same alone in its line, as the numbers of the verses are: R), Ref. x2.</summary>
    [GeneratedRegex(@"^\s*(?<name>R|Refr?|Chor?)[.:)]{1,2}(?:\s+\(?(?<count>[x×]\s?[1-9]|[1-9]\s?[x×])\)?)?\s*$")]
    private static partial Regex RefrainAlone();

    /// <summary>Between verses with numbers a letter alone, or in front of words with chords, names the refrain.</summary>
    private void FindRefrains(List<(string Text, int Number)> lines)
    {
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and < ShortestHead * 2 } letter
                && RefrainAlone().Match(letter) is { Success: true } alone)
                lines[i] = ($"{alone.Groups["name"].Value}: {alone.Groups["count"].Value}".TrimEnd(), lines[i].Number);
            else if (lines[i].Text is { Length: > 0 and <= ChartLimits.LongestLine } line
                && RefrainInFront().Match(line) is { Success: true } refrain
                && (HasChordsAmongWords(line) || i > 0 && IsUnderChords(lines[i - 1].Text, line)))
            {
                _numbered[HasChordsAmongWords(line) ? i : i - 1] = refrain.Groups["name"].Value;
                lines[i] = (new string(' ', refrain.Length) + line[refrain.Length..], lines[i].Number);
            }
    }

    /// <summary>True for words with a chord among them in square brackets.</summary>
    private bool HasChordsAmongWords(string line) =>
        line.Contains('[') && !line.Contains('|') && InSquares().Matches(line).Any(m => IsChord(m.Groups["inside"].Value));

    /// <summary>True for words with a line of chords right above them.</summary>
    private bool IsUnderChords(string above, string line) =>
        above.Length is > 0 and <= ChartLimits.LongestLine && !above.Contains('|') && !line.AsSpan().ContainsAny('|', '[')
            && IsChordLine(above) && LinePatterns.SmallLetters().IsMatch(line);

    /// <summary>A name in short above words with chords among them; null for any other line.</summary>
    private HeadingLine? InShortAboveWords(List<(string Text, int Number)> lines, int at, string line) =>
        HeadingLine.IsInShort(line) && HasChordsAmongWords(Below(lines, at)) ? HeadingLine.InShortAlone(line, IsChord) : null;

    private int _versesByNumber;
    private readonly Dictionary<int, string> _numbered = [];   // verses that begin with a line of chords behind a number

    /// <summary>Numbers above their lines or in front of their chords, from 1 on without a gap, name verses, and letters above
    /// chords name parts, where nothing else does.</summary>
    private void FindNumbers(List<(string Text, int Number)> lines)
    {
        var (numbers, letters) = (new List<(int At, int InFront)>(), new List<(int At, string Name)>());
        // The first verse may have no number where the others are words alone.
        var (inOrder, hasChords, unnumbered) = (true, false, 0);
        bool IsNext(ReadOnlySpan<char> number) => number.SequenceEqual($"{numbers.Count + 1 + unnumbered}");
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i].Text;
            hasChords = hasChords || line.Length is > 0 and <= ChartLimits.LongestLine && HasBars(line);
            // Most lines begin otherwise.
            if (line.Length is 0 or > ChartLimits.LongestLine
                || line.AsSpan().TrimStart() is not [(>= '0' and <= '9') or '(' or (>= 'A' and <= 'H'), ..] head
                || head[0] >= 'A' && !LetterAbove().IsMatch(line))
                continue;
            var below = i + 1 < lines.Count ? lines[i + 1].Text : "";
            // Between lines of bars no letter is a chord.
            var hasBars = below.AsSpan().TrimStart() is ['|', ..];
            var isMarked = head[0] <= '9'
                && (line.AsSpan().TrimEnd() is [.., '.' or ')'] || line.Length < ShortestHead && NumberAlone().IsMatch(line))
                && below.Length <= ChartLimits.LongestLine && IsChordLine(below);
            var beside = i > 0 && NumberBeside().Match(line) is { Success: true } apart && IsUnderChords(lines[i - 1].Text, line)
                ? apart
                : null;
            if (i > 0 && !IsApart(lines[i - 1].Text) && !isMarked && beside is null && !NumberInFront().IsMatch(line)
                && !(hasBars && head[0] >= 'A' && lines[i - 1].Text.Contains('|')))
                continue;
            if (line.Length < ShortestHead && below.Length > 0 && NumberAlone().Match(line) is { Success: true } alone)
            {
                inOrder &= IsNext(alone.Groups["number"].ValueSpan);
                numbers.Add((i, 0));
            }
            else if (beside is not null)
            {
                inOrder &= IsNext(beside.Groups["number"].ValueSpan);
                numbers.Add((i, beside.Length));
            }
            else if (NumberLike().IsMatch(line))
            {
                inOrder &= line.TrimStart().StartsWith($"{numbers.Count + 1 + unnumbered}", StringComparison.Ordinal);
                numbers.Add((i, 0));
            }
            else if (NumberInFront().Match(line) is { Success: true } front
                && (IsChordLine(line[front.Length..]) || HasChordsAmongWords(line)
                    || i > 0 && IsUnderChords(lines[i - 1].Text, line)))
            {
                inOrder &= IsNext(front.Groups["number"].ValueSpan);
                numbers.Add((i, front.Length));
            }
            // Right below words it is the next one.
            else if (hasChords && i > 0 && NumberInFront().Match(line) is { Success: true } sung
                && (lines[i - 1].Text.Length == 0
                    || numbers is [.., var (last, _)] && (last == i - 1 || IsNext(sung.Groups["number"].ValueSpan)))
                && LinePatterns.SmallLetters().IsMatch(line) && !line.Contains('|'))
            {
                if (numbers.Count == 0 && sung.Groups["number"].ValueSpan is "2") unnumbered = 1;
                inOrder &= IsNext(sung.Groups["number"].ValueSpan);
                numbers.Add((i, sung.Length));
            }
            else if (below.Length is > 0 and <= ChartLimits.LongestLine
                && (hasBars || IsChordLine(below) || IsChordLine(below.Split('|')[0]))
                && LetterAbove().Match(line) is { Success: true } letter)
                letters.Add((i, letter.Groups["name"].Value));
        }
        var verses = Enumerable.Range(1, numbers.Count + unnumbered).Select(n => $"Verse {n}")
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (numbers.Count + unnumbered > 1 && inOrder
            && !lines.Exists(l => l.Text.Length <= ChartLimits.LongestLine
                && HeadingLine.Alone(l.Text, IsChord, beforeBars: false) is { } named && verses.Contains(named.Name)))
        {
            _versesByNumber = numbers.Count + unnumbered;
            for (var n = 0; n < numbers.Count; n++)
            {
                var ((at, inFront), name) = (numbers[n], $"Verse {n + 1 + unnumbered}");
                // The chords above the words begin the verse.
                if (inFront > 0) _numbered[at > 0 && IsUnderChords(lines[at - 1].Text, lines[at].Text) ? at - 1 : at] = name;
                if (NumberLike().Match(lines[at].Text) is { Success: true } like) name += $" (as Verse {like.Groups["like"].Value})";
                lines[at] = (inFront > 0 ? new string(' ', inFront) + lines[at].Text[inFront..] : name, lines[at].Number);
            }
            FindRefrains(lines);
        }
        // Under names of sections they only number lines, and one alone says nothing.
        else if (numbers.Count > 0 && inOrder && numbers.TrueForAll(n => n.InFront > 0))
            foreach (var (at, inFront) in numbers)
                lines[at] = (new string(' ', inFront) + lines[at].Text[inFront..], lines[at].Number);
        if (letters.Count >= 2 && letters[0].Name[0] == 'A')
        {
            _lettersAreNames = true;
            foreach (var (at, name) in letters) lines[at] = ($"[{name}]", lines[at].Number);
        }
        FindLettersOfForm(lines);
    }

    /// <summary>A running number before a bar line (with a colon it says which bar is meant), or in a cell of its own before the
    /// first chord.</summary>
    [GeneratedRegex(@"^\s*(?:\|\s*)?\(?(?<number>[0-9]{1,3})\s*[.)]?\s*\|(?=\s*[:%(]?\s*[A-H])")]
    private static partial Regex BeforeBars();

    /// <summary>Takes away the numbers of bars in front of their lines, where three or more begin with 1 and rise.</summary>
    private void FindBarNumbers(List<(string Text, int Number)> lines)
    {
        if (Naming.IsByDegree) return;
        var found = new List<(int At, int Number, int Length)>();
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= ChartLimits.LongestLine } line && line.Contains('|')
                && BeforeBars().Match(line) is { Success: true } match)
                found.Add((i, int.Parse(match.Groups["number"].ValueSpan, CultureInfo.InvariantCulture), match.Length - 1));
        if (found.Count < FewestNumberedLines || found[0].Number != 1
            || found.Zip(found.Skip(1), (a, b) => b.Number > a.Number).Contains(false))
            return;
        foreach (var (at, _, length) in found)
            lines[at] = (new string(' ', length) + lines[at].Text[length..], lines[at].Number);
    }

    [GeneratedRegex(@"\|\s*(?<number>[0-9]{1,3})\s*$")]
    private static partial Regex BehindLastBar();

    /// <summary>Takes away the numbers of the last bars behind their lines, where three or more rise.</summary>
    private void FindNumbersBehind(List<(string Text, int Number)> lines)
    {
        if (Naming.IsByDegree) return;
        var found = new List<(int At, int Number, int Index)>();
        for (var i = 0; i < lines.Count; i++)
            if (lines[i].Text is { Length: > 0 and <= ChartLimits.LongestLine } line && line.Contains('|')
                && BehindLastBar().Match(line) is { Success: true } match)
                found.Add((i, int.Parse(match.Groups["number"].ValueSpan, CultureInfo.InvariantCulture), match.Groups["number"].Index));
        if (found.Count < FewestNumberedLines || found.Zip(found.Skip(1), (a, b) => b.Number > a.Number).Contains(false)) return;
        foreach (var (at, _, index) in found) lines[at] = (lines[at].Text[..index].TrimEnd(), lines[at].Number);
    }

    private const int FewestNumberedLines = 3;   // two may be endings
    private const int ShortestHead = 8;

    /// <summary>True for what may stand right above a heading.</summary>
    private static bool IsApart(string line) =>
        line.Length == 0 || line.Length <= ChartLimits.LongestLine && (ChartHeader.IsHeader(line) || PageDebris.IsRule(line));
}
