using System.Buffers;
using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <summary>Puts usual signs in place of those that mean the same, character for character, so that every column stays what it
/// is.</summary>
internal static partial class LineTidy
{
    private const string BarSigns = "¦│┃┆┇┊┋║‖❘❙｜∣";
    private const string Blanks = "\u00A0\u2002\u2003\u2007\u2009\u200A\u202F\u3000\t";
    private const string ZeroWidth = "\u200B\u200C\u200D\u2060\uFEFF";
    private static readonly string Digits =
        string.Concat(Enumerable.Range(0x80, 0xFF00 - 0x80).Select(c => (char)c).Where(char.IsDigit));
    private static readonly SearchValues<char> Odd = SearchValues.Create(
        BarSigns + Blanks + ZeroWidth + Digits + "∆△【】〔〕" + string.Concat(Enumerable.Range(0xFF01, 0x5E).Select(c => (char)c)));

    /// <summary>Signs before a line that belong to a letter it was quoted in, or number it, or say when a section is heard:
    /// <c>&gt; | G |</c>, <c>1. | G |</c>, <c>0:15 Verse: Am F</c>.</summary>
    [GeneratedRegex(@"^\s*(?:(?:>\s*)+|[•▪‣●○◦]\s+|[-*]\s+(?=" + HeadingLine.KnownNames + @"\s*[:–—-]|(?:capo|key|tempo|bpm|tuning|time|title)(?:\s*[:=@]|\s[0-9A-H]))|#[0-9]{1,3}[.:)]?\s+(?=(?-i:\p{Lu}\p{Ll}{2}))|[0-9]{1,2}[.)]\s+(?=\||" + HeadingLine.KnownNames + @"\s*(?:[:–—(,-]|[x×]|$|(?:again|once|twice|same|as|like|over|goes|chords|is|are)\b)|end\s*(?:[:.]|$))"
            + @"|\(?[0-9]{1,2}:[0-5][0-9]\)?(?:\s?[-–—]\s?\(?[0-9]{1,2}:[0-5][0-9]\)?)?(?:\s?[-–—:])?\s+(?=" + HeadingLine.KnownNames + @"(?:\s*(?:[:–—|-]|[x×]|$)|\s+[A-H])))",
        LinePatterns.AnyCase)]
    private static partial Regex Before();

    /// <summary>A fact and the dots that lead to its value.</summary>
    [GeneratedRegex(@"^(?<name>\s*(?:key|tempo|bpm|time|meter|capo|tuning))\s{0,3}\.{4,}:?", LinePatterns.AnyCase)]
    private static partial Regex Leader();

    /// <summary>When and by whom a line was sent, as talk that was saved has it: <c>[19:04, 12.11.2026] Mira: </c>.</summary>
    [GeneratedRegex(@"^\s*(?:\[(?=[^\]]{0,30}[0-9][./-][0-9]{1,2}[./-][0-9])(?=[^\]]{0,30}[0-9]:[0-9][0-9])[^\]]{8,32}\]\s?"
            + @"|[0-9]{1,4}[./-][0-9]{1,2}[./-][0-9]{2,4},?\s+[0-9]{1,2}:[0-9][0-9](?::[0-9][0-9])?(?:\s?[ap]m)?\s*[-–]\s)\s*[^:|\[\]]{1,30}:(?=\s|$)",
        LinePatterns.AnyCase)]
    private static partial Regex Sent();

    /// <summary>The number of a bar in front of its chords.</summary>
    [GeneratedRegex(@"(?<=\|\s{0,4})[0-9]{1,3}:(?=\s+[^\s|])", RegexOptions.CultureInvariant)]
    private static partial Regex BarNumber();

    private const int FewestNumbered = 3;   // two may be endings

    /// <summary>What somebody says of the chords before an arrow: <c>B7 E7 &lt;- turnaround</c>.</summary>
    [GeneratedRegex(@"(?<=[^\s|])\s+(?:<[-=]{1,3}|←)\s?(?<said>[^\s|<>()\[\]][^|<>()\[\]]{0,60})$")]
    private static partial Regex SaidByArrow();

    /// <summary>That chords go round and round, which says nothing of how often.</summary>
    [GeneratedRegex(@"(?<=[A-G]\S{0,8})\s+(?:on\s(?:repeat|(?:a\s)?loop)|over\sand\sover(?:\sagain)?|round\sand\sround|looped|throughout)(?=\s*(?:[.,;]\s|[.,;]?$))",
        LinePatterns.AnyCase)]
    private static partial Regex RoundAndRound();

    /// <summary>When something is heard, in minutes and seconds.</summary>
    [GeneratedRegex(@"\[[0-9]{1,2}:[0-9][0-9](?:[.:][0-9]{1,3})?\]", RegexOptions.CultureInvariant)]
    private static partial Regex HeardAt();

    /// <summary>The bracket that closes a last bar line, and the one that opens an ending.</summary>
    [GeneratedRegex(@"(?<=\|)\](?=\s*(?:$|[x×(0-9]))|\[(?=\||\s*[0-9]\s*(?:[.,)\]]|\s))", RegexOptions.CultureInvariant)]
    private static partial Regex BracketsOfBarLines();

    /// <summary>A count in square brackets, which else hold chords.</summary>
    [GeneratedRegex(@"\[(?<count>\s*(?:[x×]\s*[0-9]{1,2}|[0-9]{1,2}\s*[x×])\s*)\]", RegexOptions.CultureInvariant | RegexOptions.IgnoreCase)]
    private static partial Regex SquaredCount();

    /// <summary>What is to be done, in square brackets among chords that stand in such: <c>[*softly]</c>.</summary>
    [GeneratedRegex(@"\[\*(?<said>[^\[\]|]{1,60})\]", RegexOptions.CultureInvariant)]
    private static partial Regex SquaredRemark();

    /// <summary>How long a chord lasts, in square brackets behind it.</summary>
    [GeneratedRegex(@"(?<=^|\s)\[(?<length>\s{0,3}[0-9]{1,2}(?:\s?(?:beats?|bars?|measures?))?\s{0,3})\](?=\s|$)", LinePatterns.AnyCase)]
    private static partial Regex SquaredLength();

    /// <summary>A plus between chords in brackets: <c>(F G) x2 + (C G)</c>.</summary>
    [GeneratedRegex(@"(?<=(?:\)|[x×]\s?[0-9]|[0-9]\s?[x×])\s{1,4})\+(?=\s\(\s?[A-H])", LinePatterns.AnyCase)]
    private static partial Regex PlusBetween();

    /// <summary>Strokes in place of the bar lines of a repeat: <c>/: G D :/</c>, <c>//: Em / C ://</c>.</summary>
    [GeneratedRegex(@"(?<=^|\s)(?<one>/)?/(?=:)|(?<=:)/(?<one>/)?(?=\s|$)", RegexOptions.CultureInvariant)]
    private static partial Regex SlantedRepeats();

    /// <summary>A stroke that parts chords, each with none beside it.</summary>
    [GeneratedRegex(@"(?<=[^\s/:|]\s{1,8})/(?=\s{1,8}[^\s/:|])", RegexOptions.CultureInvariant)]
    private static partial Regex PartingStrokes();

    /// <summary>Strokes in place of all bar lines, the first and the last among them: <c>/Am/G/F/E7/</c>.</summary>
    [GeneratedRegex(@"^\s*/(?:\s{0,8}[A-HN%][^\s/|]{0,11}(?:\s{1,4}[A-H.%][^\s/|]{0,11}){0,7}\s{0,8}/){2,32}\s*(?:\(?[x×]\s?[0-9]{1,2}\)?)?$", RegexOptions.CultureInvariant)]
    private static partial Regex SlantedBars();

    /// <summary>A colon apart from the bar line it repeats at.</summary>
    [GeneratedRegex(@"(?<=\|)\s+:(?=\s)|(?<=\s):\s+(?=\|)", RegexOptions.CultureInvariant)]
    private static partial Regex ColonsApart();

    /// <summary>Dots that lead from a name to its colon.</summary>
    [GeneratedRegex(@"(?<=^\s*\p{L}{3,10})\.{2,}(?=\s*:)", RegexOptions.CultureInvariant)]
    private static partial Regex Leaders();

    /// <summary>How long a chord lasts, behind a dash: <c>Em - 2 bars</c>.</summary>
    [GeneratedRegex(@"(?<=\s)(?:[-–—]|[-=]>|→)\s(?<length>[0-9]{1,2}\s(?:beats?|bars?|measures?))(?=[\s,;|]|$)", LinePatterns.AnyCase)]
    private static partial Regex LengthBehindDash();

    private const string LikeAChord = "(?-i:[A-H])(?-i:maj|min|dim|aug|sus|add|m|M|[0-9]|[#b♯♭/+°øΔ-]|(?<=/)[A-H]){0,6}";

    /// <summary>How long a chord lasts, behind a colon or right behind it, where another chord or nothing follows: <c>G: 4
    /// beats, C: 2 beats</c>, <c>Am 2 bars, F 1 bar</c>.</summary>
    [GeneratedRegex(@"(?<=(?:^|[\s,;|])" + LikeAChord + @")(?:(?::|\s?=)\s(?<length>[0-9]{1,2}\s(?:beats?|counts?))"
            + @"|\s(?:(?<length>[0-9]{1,2}\s(?:beat|count|bar|measure)(?=s))s|(?<one>1\s(?:beat|count))|1\s(?:bar|measure)))(?=\s*(?:[,;|]|$)|\s{1,8}(?-i:[A-H]))", LinePatterns.AnyCase)]
    private static partial Regex LengthBehind();

    /// <summary>Bars behind a colon, where more than one chord has them: <c>Bb: 2 bars, F: 1 bar</c>.</summary>
    [GeneratedRegex(@"(?<=(?:^|[\s,;])" + LikeAChord + @"):\s(?<length>[0-9]{1,2}\s(?:bars?|measures?))(?=\s*(?:[,;]|$))", LinePatterns.AnyCase)]
    private static partial Regex BarsBehindColon();

    /// <summary>How many bars a section has, behind its name: <c>Verse 16 bars</c>.</summary>
    [GeneratedRegex(@"^(?<name>\s*(?:" + HeadingLine.KnownNames + @"|(?:vs?|ch|cho|chor|br|pre|int|out|ref)[0-9]?)\s*[:,–-]?\s)(?<bars>[0-9]{1,2})\s(?:bar|measure)s(?=[\s:]|$)", LinePatterns.AnyCase)]
    private static partial Regex BarsBehindName();

    /// <summary>A great I for a bar line with the colon of a repeat.</summary>
    [GeneratedRegex(@"(?<=^|\s)I(?=:\s)|(?<=\s:)I(?=\s|$)", RegexOptions.CultureInvariant)]
    private static partial Regex LettersForLines();

    /// <summary>A row of chords with a number behind each, between commas: <c>Am 2, G 2</c>.</summary>
    [GeneratedRegex(@"^(?:[^:|\[\]]{0,40}:)?(?:\s{0,4}" + LikeAChord + @"\s[0-9]{1,2}(?:,|$)){2,32}$", RegexOptions.CultureInvariant)]
    private static partial Regex NumbersBetweenCommas();

    [GeneratedRegex(@"\s(?<beats>[0-9]{1,2})(?:,|$)", RegexOptions.CultureInvariant)]
    private static partial Regex NumberBehind();

    /// <summary>A row of a table whose cells stand between commas or semicolons: <c>Verse,C G Am F,2</c>.</summary>
    [GeneratedRegex(@"^\s*" + HeadingLine.KnownNames + @"\s?(?<first>[,;])\s{0,2}(?:" + LikeAChord
            + @"(?:[,;]\s{0,2}|\s{1,2}|(?=\s*$))){2,64}(?<times>[0-9]{1,2})?\s*$", LinePatterns.AnyCase)]
    private static partial Regex RowOfCells();

    private static string WithoutCells(Match row)
    {
        var (text, first, times) = (row.Value, row.Groups["first"].Index, row.Groups["times"]);
        if (times.Success && text[times.Index - 1] is ',' or ';') text = $"{text[..(times.Index - 1)]}x{text[times.Index..]}";
        return $"{text[..first]} {text[(first + 1)..].Replace(';', ' ')}";
    }

    /// <summary>A row of chords with their beats behind a colon: <c>G:4 D:2 Em:2</c>.</summary>
    [GeneratedRegex(@"^(?:[^:|\[\]]{0,40}:\s)?(?:\s{0,4}" + LikeAChord + @":[0-9]{1,2}(?:[,;\s]|$)){2,32}$", RegexOptions.CultureInvariant)]
    private static partial Regex BeatsBehindColons();

    [GeneratedRegex(@":(?=[0-9])", RegexOptions.CultureInvariant)]
    private static partial Regex ColonOfBeats();

    private static string LengthsInBrackets(string line) =>
        LengthBehind().Replace(LengthBehindDash().Replace(line, m => $"({m.Groups["length"].Value})".PadRight(m.Length)), InBrackets);

    private static string InBrackets(Match m) =>
        m.Groups["one"].Success ? " (1)".PadRight(m.Length)
            : m.Groups["length"].Success ? $" ({m.Groups["length"].Value.Replace(" ", "", StringComparison.Ordinal)})".PadRight(m.Length)
            : new string(' ', m.Length);

    private const string Strokes = "↓↑⬇⬆⇓⇑";

    /// <summary>Strokes drawn behind a chord, or in place of one that is held.</summary>
    [GeneratedRegex($@"(?<behind>(?<=[^\s|{Strokes}])[{Strokes}]+)|[{Strokes}]+", RegexOptions.CultureInvariant)]
    private static partial Regex Struck();

    [GeneratedRegex(@"(?<!\p{L})[A-G](?!\p{Ll}{3})", RegexOptions.CultureInvariant)]
    private static partial Regex ChordLetter();

    /// <summary>The line in usual signs, as long as it was.</summary>
    public static string Of(string line)
    {
        if (line.AsSpan().ContainsAny(Odd))
            line = string.Create(line.Length, line,
                (into, from) => { for (var i = 0; i < from.Length; i++) into[i] = Usual(from[i]); });
        if (line.Contains(':') && line.AsSpan().TrimStart() is ['[' or (>= '0' and <= '9'), ..]
            && Sent().Match(line) is { Success: true } sent)
            line = new string(' ', sent.Length) + line[sent.Length..];
        // A song that was copied between quotation marks: the first chords have one in front, the last one behind.
        if (line.AsSpan().TrimStart() is ['"' or '“' or '„' or '\'', >= 'A' and <= 'H', ..] && !LinePatterns.SmallLetters().IsMatch(line))
            line = line.Replace(line.TrimStart()[0], ' ');
        if (line.Contains('<')) line = MarkOfPage().Replace(line, m => new string(' ', m.Length));
        // A line that is broken by hand.
        if (line.AsSpan().TrimEnd() is [.., '\\']) line = $"{line.TrimEnd()[..^1]} ";
        // A quoted line may have a number of its own.
        for (var i = 0; i < 2 && Before().Match(line) is { Success: true } before; i++)
            line = new string(' ', before.Length) + line[before.Length..];
        if (line.Length <= LongestName && line.AsSpan().IndexOfAnyInRange('\u2190', '\uFFFF') >= 0) line = WithoutPictures(line);
        if (line.Length <= LongestTold && line.AsSpan().TrimStart() is ['{', ..])
            line = RemarkAndMore().Replace(line, WithoutRemarkMarks);
        if (line.Length <= LongestTold && line.AsSpan().ContainsAny(MarksOfNames))
            line = MarkedName().Replace(line, WithoutMarks);
        if (line.AsSpan().ContainsAny('<', '←'))
            line = SaidByArrow().Replace(line, m => $" ({m.Groups["said"].Value.TrimEnd()})".PadRight(m.Length));
        if (line.Length <= LongestTold && line.AsSpan().ContainsAny(Rounds))
            line = RoundAndRound().Replace(line, m => new string(' ', m.Length));
        // Marks around what is set as it stands.
        if (line.AsSpan().Trim() is ['`', _, .., '`']) line = line.Replace('`', ' ');
        // A fact with dots between its name and its value: Tempo ........ 76.
        if (line.Contains("....", StringComparison.Ordinal))
            line = Leader().Replace(line, m => m.Groups["name"].Value + ":".PadRight(m.Length - m.Groups["name"].Length));
        // Facts that are set slanted.
        if (line.AsSpan().Trim() is ['*', _, .., '*'] or ['_', _, .., '_'] && line.Count(c => c is '*' or '_') == 2
            && line.Replace('*', ' ').Replace('_', ' ') is var upright && ChartHeader.IsHeader(upright))
            line = upright;
        if (line.Contains("**", StringComparison.Ordinal)) line = line.Replace("**", "  ", StringComparison.Ordinal);
        if (line.Contains('[') && line.Contains(':')) line = HeardAt().Replace(line, m => new string(' ', m.Length));
        if (line.Contains("[:", StringComparison.Ordinal) && line.Contains(":]", StringComparison.Ordinal))
            line = line.Replace("[:", "|:", StringComparison.Ordinal).Replace(":]", ":|", StringComparison.Ordinal);
        if (line.Contains('['))
        {
            // Words that are set slanted.
            if (line.AsSpan().Trim() is ['*', _, .., '*'] or ['_', _, .., '_'] && line.Count(c => c is '*' or '_') == 2)
                line = line.Replace('*', ' ').Replace('_', ' ');
            line = SquaredCount().Replace(line, "(${count})");
            if (line.Contains("[*", StringComparison.Ordinal)) line = SquaredRemark().Replace(line, " (${said})");
            if (line.AsSpan().TrimStart() is [>= 'A' and <= 'H', ..] || line.Contains("bar", StringComparison.OrdinalIgnoreCase) && line.AsSpan().TrimStart() is not ['[', ..])
                line = SquaredLength().Replace(line, "(${length})");
        }
        if (line.Contains(") ", StringComparison.Ordinal) && line.Contains(" + ", StringComparison.Ordinal)) line = PlusBetween().Replace(line, " ");
        if (line.Contains("//", StringComparison.Ordinal)) line = StrokesBeforeCount().Replace(line, "  ");
        if (line.Contains("/:", StringComparison.Ordinal) && line.Contains(":/", StringComparison.Ordinal))
        {
            line = SlantedRepeats().Replace(line,
                m => !m.Groups["one"].Success ? "|" : m.Index > 0 && line[m.Index - 1] == ':' ? "| " : " |");
            // Between such signs a stroke alone parts bars.
            if (PartingStrokes().Count(line) is > 0 and var parting && parting == line.AsSpan().Count('/'))
                line = line.Replace('/', '|');
        }
        if (line.AsSpan().TrimStart() is ['/', not ('/' or ':'), ..] && SlantedBars().IsMatch(line))
            line = line.Replace('/', '|');
        if (line.Contains("..", StringComparison.Ordinal) && line.Contains(':'))
            line = Leaders().Replace(line, m => new string(' ', m.Length));
        // Between bar lines each stroke, or two of one beat, holds the chord; without them it says nothing of how long.
        if (line.AsSpan().ContainsAny(Strokes) && !line.Contains("strum", StringComparison.OrdinalIgnoreCase)
            && ChordLetter().IsMatch(line))
            line = Struck().Replace(line,
                m => (m.Groups["behind"].Success || !line.Contains('|') ? ' ' : '.') + new string(' ', m.Length - 1));
        if (line.Contains(" bars", StringComparison.OrdinalIgnoreCase) || line.Contains(" measures", StringComparison.OrdinalIgnoreCase))
            line = BarsBehindName().Replace(line,
                m => $"{m.Groups["name"].Value.TrimEnd(' ', ':', ',', '–', '-')} ({m.Groups["bars"].Value}bar)".PadRight(m.Length));
        if (line.Contains("I:", StringComparison.Ordinal) && line.Contains(":I", StringComparison.Ordinal))
            line = LettersForLines().Replace(line, "|");
        if (line.AsSpan().TrimStart() is [':', ' ', ..] && ColonsForLines().IsMatch(line)) line = line.Replace(':', '|');
        if (!line.Contains('|') && line.Contains(':') && BarsBehindColon().Count(line) > 1)
            line = BarsBehindColon().Replace(line, InBrackets);
        if (line.Contains(',') && NumbersBetweenCommas().IsMatch(line)) line = NumberBehind().Replace(line, "(${beats})");
        if (line.AsSpan().ContainsAny(',', ';') && line.Length <= LongestTold) line = RowOfCells().Replace(line, WithoutCells);
        if (line.Contains(':') && BeatsBehindColons().IsMatch(line)) line = ColonOfBeats().Replace(line, "-");
        if (!line.Contains('|'))
            return line.AsSpan().ContainsAnyInRange('0', '9')
                ? LengthsInBrackets(line)
                : line;
        if (line.AsSpan().ContainsAnyInRange('0', '9')) line = LengthsInBrackets(line);
        if (line.Contains('(')) line = BarsInBrackets().Replace(line, m => $"{m.Groups["before"].Value}|{m.Groups["bars"].Value}|");
        if (line.Length <= LongestName && NameBetweenLines().IsMatch(line)) return line.Replace('|', ' ');
        if (line.AsSpan().ContainsAny('[', ']')) line = BracketsOfBarLines().Replace(line, " ");
        if (line.Contains(':') && BarNumber().Count(line) >= FewestNumbered)
            line = BarNumber().Replace(line, m => new string(' ', m.Length));
        return !line.Contains(':')
            ? line
            : ColonsApart()
                .Replace(line,
                    m => m.Value.TrimStart().Length < m.Length
                        ? ":" + new string(' ', m.Length - 1)
                        : new string(' ', m.Length - 1) + ":");
    }

    private const int LongestName = 60, LongestTold = 200;

    private static readonly SearchValues<string> Rounds =
        SearchValues.Create(["on repeat", "loop", "over and over", "round and round", "throughout"], StringComparison.OrdinalIgnoreCase);

    private static char Usual(char c) =>
        BarSigns.Contains(c) ? '|'
            : Blanks.Contains(c) || ZeroWidth.Contains(c) ? ' '
            : c is >= '\uFF01' and <= '\uFF5E' ? (char)(c - 0xFEE0)
            : c is '∆' or '△' ? 'Δ'
            : c is '【' or '〔' ? '[' : c is '】' or '〕' ? ']'
            : c > '9' && char.IsDigit(c) ? (char)('0' + CharUnicodeInfo.GetDecimalDigitValue(c))
            : c;
}
