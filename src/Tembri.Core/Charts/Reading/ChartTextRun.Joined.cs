using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>What stands before or between chords and is no name: which bars they fill, and words that only join
/// them.</content>
internal sealed partial class ChartTextRun
{
    private const int MostNamedBars = 64, LongestRemarked = 200;

    [GeneratedRegex(@"^\s*[\[(]?(?:bars?|measures?)\s{1,3}(?<from>[0-9]{1,3})(?:\s{0,3}(?:[-–—&]|to|and)\s{0,3}(?<to>[0-9]{1,3}))?\s{0,3}[\])]?\s{0,3}[:=]\s{0,8}(?=[^\s|])",
        LinePatterns.AnyCase)]
    private static partial Regex BarsNamed();

    [GeneratedRegex(@"(?<=[\s,;])(?:(?:and\s)?then|and|to|into)(?=\s)", LinePatterns.AnyCase)]
    private static partial Regex Joining();

    [GeneratedRegex(@"^[\s\[(*_]*vs?\.?\s?[1-9]?(?:\s*[:.)\]*_-]+\s*|\s+)(?=[A-H|\[(])", LinePatterns.AnyCase)]
    private static partial Regex ShortVerse();

    private bool _hasVerses;   // so that C1 and B2 may be a chorus and a bridge

    /// <summary>True for a line that names a verse in short in front of its chords.</summary>
    internal static bool NamesVerse(string line) =>
        line.Length <= LongestRemarked && line.AsSpan().TrimStart([' ', '[', '(', '*', '_']) is ['V' or 'v', ..]
            && ShortVerse().IsMatch(line);

    /// <summary>Makes rows of chords of lines that say more: <c>Bars 1-4: Am</c>, <c>G D x2, then C G</c>.</summary>
    private void FindJoined(List<(string Text, int Number)> lines)
    {
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i].Text;
            if (line.Length is 0 or > ChartLimits.LongestLine) continue;
            _hasVerses |= NamesVerse(line);
            line = FirstOfSeveral(lines, i);
            if (line.AsSpan().TrimStart() is ['B' or 'b' or 'M' or 'm' or '[' or '(', ..]
                && BarsNamed().Match(line) is { Success: true } bars)
                lines[i] = (FillingBars(line, bars), lines[i].Number);
            else if (!line.Contains('[') && Joining().IsMatch(line))
            {
                // Behind a name and its colon, or all of it; a title can be of two letters, joined.
                var from = RowAt(line);
                var row = Apart(line[from..]);
                if ((i > 0 || from > 0 || ChordsOf(row).Count > 2) && IsChordLine(row))
                    lines[i] = (line[..from] + row, lines[i].Number);
            }
            if (line.Length <= LongestRemarked && ThenRow().Match(line) is { Success: true, Length: var then }
                && IsChordLine(HeadingLine.Counted(line[then..]).Name))
                lines[i] = (new string(' ', then) + line[then..], lines[i].Number);
            if (line.Length <= LongestNaming && line.Contains("chords", StringComparison.OrdinalIgnoreCase)
                && SameChordsFor().Match(line) is { Success: true } same)
                lines[i] = ($"{same.Groups["name"].Value} (same)", lines[i].Number);
            if (line.Length <= LongestRemarked && Tells().Match(line) is { Success: true } told
                && Apart(line[told.Length..].TrimEnd('.')) is var chords && IsChordLine(chords))
                lines[i] = (told.Groups["name"].Value + ":".PadRight(told.Length - told.Groups["name"].Length) + chords, lines[i].Number);
            else if (line.Length <= LongestRemarked && ToldBehind().Match(line) is { Success: true } behind
                && behind.Groups["row"] is var front && Apart(front.Value) is var ahead && IsChordLine(ahead))
                lines[i] = ($"{new string(' ', front.Index)}{ahead} ({behind.Groups["name"].Value})", lines[i].Number);
            SetCountBehind(lines, i);
            SetApart(lines, i);
        }
    }

    /// <summary>A name that a sentence tells the chords of: <c>Verse goes Em C G D</c>, <c>Bridge is just Em and
    /// D.</c></summary>
    [GeneratedRegex(@"^(?<name>\s*(?:the\s)?(?:" + HeadingLine.KnownNames + @"))(?:\schords)?\s(?:goes|is|are|has)\s(?:just\s|only\s|like\s)?(?=\s{0,4}[A-H])", LinePatterns.AnyCase)]
    private static partial Regex Tells();

    /// <summary>A row that goes on from the one above: <c>then Dm C Bb A twice</c>.</summary>
    [GeneratedRegex(@"^\s*(?:and\s)?then,?\s+(?=(?-i:[A-H]))", LinePatterns.AnyCase)]
    private static partial Regex ThenRow();

    /// <summary>Chords and the name they are for: <c>play G C G D for the verse</c>.</summary>
    [GeneratedRegex(@"^\s*(?>(?:[*•-]\s)?)(?:play\s)?(?<row>[A-H][^|\[\]():]{1,80}?)\s(?:for|in|on)\s(?:the\s)?(?<name>" + HeadingLine.KnownNames
            + @")\s*\.?$", LinePatterns.AnyCase)]
    private static partial Regex ToldBehind();

    /// <summary>Words that ask for a section once more.</summary>
    [GeneratedRegex(@"^\s*(?:(?:and\s)?then\s|repeat\s|play\s|back\sto\s)|\s(?:again|once\smore)$", LinePatterns.AnyCase)]
    private static partial Regex SaysAgain();

    /// <summary>A count in front of the chords of a section goes behind them: <c>Verse: 4x (C G)</c>.</summary>
    private void SetCountBehind(List<(string Text, int Number)> lines, int at)
    {
        var (line, number) = lines[at];
        if (line.Length > LongestRemarked || RowAt(line) is not (>= 0 and var from)
            || HeadingLine.CountAt(line) is not null
            || HeadingLine.CountInFront(line[from..]) is not (> 0 and var length)
            || !IsChordLine(line[(from + length)..].Split('|', 2)[0].Replace('[', ' ').Replace(']', ' '))
            || line.AsSpan().TrimEnd() is [.., '|'])
            return;
        lines[at] = ($"{line[..from]}{new string(' ', length)}{line[(from + length)..]} {line.Substring(from, length).Trim()}", number);
    }

    /// <summary>A section that is said to have the chords of one above: <c>Chords for verse 2 are the same</c>, <c>Repeat chords
    /// for verse 2</c>.</summary>
    [GeneratedRegex(@"^[\s(*_-]*(?:(?:repeat\s+)(?:the\s+)?(?:same\s+)?chords\s+(?:for|in)\s+(?:the\s+)?(?<name>" + HeadingLine.KnownNames
            + @")|(?:the\s+)?same\s+chords\s+(?:for|in)\s+(?:the\s+)?(?<name>" + HeadingLine.KnownNames
            + @")|(?:the\s+)?chords\s+(?:for|in|of)\s+(?:the\s+)?(?<name>" + HeadingLine.KnownNames + @")\s+(?:are|stay)\s+(?:the\s+)?same"
            + @"|(?<name>" + HeadingLine.KnownNames + @")\s+(?:has|uses|is|with)\s+(?:the\s+)?same\s+chords)[\s.)*_!-]*$", LinePatterns.AnyCase)]
    private static partial Regex SameChordsFor();

    /// <summary>The name of a section behind the chords of another in the same line.</summary>
    [GeneratedRegex(@"(?:[,;.]|\s[-–—])\s+(?=" + HeadingLine.KnownNames + @"\s*:)", LinePatterns.AnyCase)]
    private static partial Regex NextNamed();

    /// <summary>Sets sections that stand behind each other, <c>Verse: G C, chorus: C G</c>, in lines of their own.</summary>
    /// <returns>The first of them; the line itself where there is only one.</returns>
    private string FirstOfSeveral(List<(string Text, int Number)> lines, int at)
    {
        var (line, number) = lines[at];
        if (!line.Contains(':') || NextNamed().Matches(line) is not { Count: > 0 } next) return line;
        var begins = next.Select(m => m.Index + m.Length).Prepend(0).ToList();
        var parts = begins.Select((from, n) => line[from..(n < next.Count ? next[n].Index : line.Length)]).ToList();
        // The first may have no name.
        bool IsNamed(string part) => part == parts[0] && HeadingLine.Alone(part, IsChord, beforeBars: false) is not null
            || RowAt(part) is var row && (row > 0 ? HeadingLine.IsKnown(part[..row]) : part == parts[0])
            && IsChordLine(Apart(part[row..].TrimEnd('.')));
        if (!parts.TrueForAll(IsNamed)) return line;
        lines[at] = (parts[0], number);
        lines.InsertRange(at + 1, parts.Skip(1).Select((p, n) => (new string(' ', begins[n + 1]) + p, number)));
        return parts[0];
    }

    /// <summary>Sets a remark behind the chords of a section in brackets, before their count, or in a line of its own where it
    /// says what comes next: <c>Chorus: C G D x2, end on Em</c>.</summary>
    private void SetApart(List<(string Text, int Number)> lines, int at)
    {
        var (line, number) = lines[at];
        // "Chorus 2 as chorus 1, but end on Am"
        if (line.Length <= LongestRemarked && EndOnAmong().Match(line) is { Success: true, Index: > 0 and var ends }
            && !line.AsSpan().ContainsAny('|', '[', '{') && OtherTime().Replace(line[..ends].TrimEnd(' ', ',', ';', '-'), "") is var same
            && (HeadingLine.SameAs(same, "") is not null || HeadingLine.CountAt(same) is { At: 0 } || SaysAgain().IsMatch(same)
                || HeadingLine.Alone(same, IsChord, beforeBars: false) is not null)
            && LastChord(line[ends..]) is not null)
        {
            lines[at] = (same, number);
            lines.Insert(at + 1, (new string(' ', ends) + line[ends..], number));
            return;
        }
        if (Remarked(line, mayBeOne: true) is not var (from, end, count, begin)) return;
        if (EndOnAmong().Match(line, begin) is { Success: true, Index: var last } && last > begin
            && LastChord(line[last..]) is not null)
        {
            lines.Insert(at + 1, (new string(' ', last) + line[last..], number));
            line = line[..last].TrimEnd(' ', ',', ';', '(');
            lines[at] = (line, number);
            if (begin >= line.Length) return;
        }
        var remark = line[begin..];
        if (LastChord(remark) is not null)
        {
            lines[at] = (line[..end], number);
            lines.Insert(at + 1, (new string(' ', begin) + remark, number));
        }
        // Without a name in front they may be words, but for a count, or commas between more than letters (A, B, C, said she).
        else if ((from > 0 || count < end || line[..(end + 1)].Contains(',') && line[..end].Any(c => char.IsAsciiLetterLower(c)))
            && !IsChordLine(line[from..])
            && !remark.Split(' ', '(', ')', ',').Any(IsChord))
            lines[at] = ($"{line[..count].TrimEnd(' ', ',')} ({remark.Trim('(', ')', ' ')}) {line[count..end].TrimStart()}".TrimEnd(), number);
    }

    /// <summary>A text with each chord it ends on, and each section behind another, in a line of its own, to be changed line by
    /// line.</summary>
    internal static string EndingsBelow(string text)
    {
        if (!EndOnAmong().IsMatch(text) && !NextNamed().IsMatch(text)) return text;
        var lines = text.Split('\n');
        var slots = ChartReader.Read(text).Chart.Sections.SelectMany(s => s.Bars).SelectMany(b => b.Slots).ToLookup(s => s.Line);
        for (var i = 0; i < lines.Length; i++)
            if (lines[i].Length <= ChartLimits.LongestLine && NextNamed().Matches(lines[i]) is { Count: > 0 } next
                && next.All(m => slots[i + 1].Any(s => s.Column <= m.Index)
                    && slots[i + 1].Any(s => s.Column > m.Index + m.Length)))
                lines[i] = NextNamed().Replace(lines[i], "\n");
            else if (lines[i].Length <= LongestRemarked && EndOnAmong().Match(lines[i]) is { Success: true, Index: var at }
                && lines[i].AsSpan(0, at).Trim(" [(*_-").Length > 0 && slots[i + 1].Any(s => s.Column > at))
                lines[i] = $"{OtherTime().Replace(lines[i][..at].TrimEnd(' ', ',', ';'), "")}\n{lines[i][at..].TrimStart(' ', ',', ';')}";
        return string.Join('\n', lines);
    }

    [GeneratedRegex(@"(?<![\p{L}\p{N}])\(?(?:(?:(?:and|but)\s)?then\s|and\s|but\s)?(?:ends?|finish(?:es)?)\s(?:on|with)\s", LinePatterns.AnyCase)]
    private static partial Regex EndOnAmong();

    /// <summary>The time for which the last chord is: <c>Back to start, second time end on Em</c>.</summary>
    [GeneratedRegex(@",?\s(?:and\s|but\s)?(?:the\s)?(?:second|2nd|third|3rd|last|final)\stime$", LinePatterns.AnyCase)]
    private static partial Regex OtherTime();

    /// <summary>Where the chords of a line begin and end, where their count begins and where a remark behind them; null for any
    /// other line.</summary>
    private (int From, int End, int Count, int Remark)? Remarked(string line, bool mayBeOne = false)
    {
        if (line.Length > LongestRemarked || line.AsSpan().ContainsAny('|', '[', '{')
            || !LinePatterns.SmallLetters().IsMatch(line))
            return null;
        var from = RowAt(line);
        return (from == 0 || HeadingLine.IsKnown(line[..(from - 1)]))
                && RemarkBehind(line, from, mayBeOne) is var (end, count, begin)
            ? (from, end, count, begin)
            : null;
    }

    /// <summary>Where in a line its row begins: behind a colon, or a name and a dash or an arrow; else at 0.</summary>
    private static int RowAt(string line) =>
        line.IndexOf(':') is >= 0 and var colon ? colon + 1 : DashedName().Match(line).Length;

    [GeneratedRegex(@"^\s*" + HeadingLine.KnownNames + @"\s+(?:[-–—=]{0,2}[>→⇒]|>>|»|[-–—])(?=\s)", LinePatterns.AnyCase)]
    private static partial Regex DashedName();

    /// <summary>Where the chords of a line and their count end, where the count begins, and where what is remarked of them
    /// begins; null where there is no remark, or only one chord that may be a word.</summary>
    private (int End, int Count, int Remark)? RemarkBehind(string line, int from, bool mayBeOne)
    {
        int chords = 0, end = from, count = from;
        foreach (var (word, at) in LinePatterns.WordsOf(line[from..]))
        {
            var (text, start) = (word.TrimEnd(',', ';'), from + at);
            var (isChord, isCount) = (IsChord(text), text.Length > 0 && HeadingLine.CountInFront(text) == text.Length);
            if (!isChord && !isCount && !IsHeld(text) && !IsDash(text) && text != "%")
                return chords > 1 || chords == 1 && mayBeOne && from > 0 && (line[end] == ',' || !IsAlsoAWord(line[from..end]))
                    ? (end, count, start)
                    : null;
            chords += isChord ? 1 : 0;
            end = start + text.Length;
            if (!isCount) count = end;
        }
        return null;
    }

    /// <summary>True for chords that are words as well: A long time ago, Am I late.</summary>
    private static bool IsAlsoAWord(string chord) => chord.Trim() is "A" or "Am";

    /// <summary>A row with blanks in the place of what joins its chords.</summary>
    private static string Apart(string row) => Joining().Replace(row, m => new string(' ', m.Length));

    /// <summary>The chords behind the numbers of their bars, as a row that fills as many; as it stands where they do not share
    /// them evenly.</summary>
    private string FillingBars(string line, Match named)
    {
        var row = new string(' ', named.Length) + line[named.Length..].TrimEnd(' ', ',', ';');
        // A full stop close behind the last chord; apart it holds that chord.
        if (row is [.., not ' ', '.']) row = row[..^1];
        if (!IsChordLine(row)) return line;
        int Number(string group) => int.Parse(named.Groups[group].ValueSpan, CultureInfo.InvariantCulture);
        var bars = named.Groups["to"].Success ? Number("to") - Number("from") + 1 : 1;
        var chords = ChordsOf(row);
        if (bars is < 1 or > MostNamedBars || row.Contains('(') || !chords.TrueForAll(c => IsChord(c.Text))) return row;
        if (bars % chords.Count == 0) return bars == chords.Count ? row : $"{row} ({bars / chords.Count} bars each)";
        if (chords.Count % bars != 0) return row;
        var lined = row.ToCharArray();
        for (var i = 0; i < chords.Count; i += chords.Count / bars) lined[chords[i].Column - 2] = '|';
        return new string(lined) + " |";
    }

    /// <summary>True for a chord that might be the short name of a section in front of others, C2, where no verses are
    /// named.</summary>
    private bool IsChordInFront(string line, HeadingLine front) =>
        (Naming.IsByDegree || !_hasVerses && front.Name.Length == 2) && IsChord(front.Name)
            && line.AsSpan(0, front.RestAt).Trim(" (),-–—").SequenceEqual(front.Name);
}
