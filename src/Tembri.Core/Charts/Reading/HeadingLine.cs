using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <summary>The name of a section as it stands in a line, alone or in front of its bars.</summary>
/// <param name="Name">The name.</param>
/// <param name="Times">How often the section is played, 1 or more; not bounded.</param>
/// <param name="RestAt">Where in the line the bars begin; the line's length when the name stands alone.</param>
internal sealed partial record HeadingLine(string Name, int Times, int RestAt)
{
    /// <summary>True when it is written to be the same as one of its kind before it, <c>Verse 2 (same)</c>.</summary>
    public bool IsSame { get; init; }

    private const string Ordinal = @"(?>(?:(?:[0-9]{1,2}(?:st|nd|rd|th)|[1-9]\.?|first|second|third|fourth|last|final|half|double|short)\s+)?)";
    private const string Kinds =
        @"(?>intro(?:du(?:ction|cción|ccion|zione|ção|cao))?|verse|pr[eé]-?\s?(?:chorus|refrain|refrão|refrao|refrein|coro|estribillo)"
        + @"|post-?\s?chorus|chorus|refrain|bridge|middle(?:[\s-]+(?:eight|8|part))?|mid[\s-]?(?:8|eight)|interlude"
        + "|instr(?:umental)?|solo|break(?:down)?|outro|ending|tag|coda|hook|turnaround|vamp"
        // As SectionNames has them; what begins with another of them stands before it.
        + "|kehrvers|verso|vers|refrein|refräng|refreng|refrén|refren|refrão|refrao|omkvæd|puente|ponte|pont|strophe|estrofa|estrofe|strofa"
        + "|vorspiel|voorspel|förspel|forspill|forspil|wstęp|вступление|zwischenspiel|tussenspel|mellanspel|mellomspill|mellemspil|interludio"
        + "|interlúdio|intermezzo|mezihra|проигрыш|nachspiel|naspel|schluss|finale|couplet|куплет|zwrotka|sloka|säkeistö|estribillo|coro"
        + "|ritornello|kertosäe|припев|vorrefrain|brücke|brug|brygga|mostek)";
    internal const string KnownNames =
        Ordinal + Kinds + @"(?:s(?=\s[0-9]))?(?:[0-9]{1,2}[a-d]?(?![0-9])|\s+(?:(?:(?:no|nr|number)\.?\s|\#\s?)?[0-9]{1,2}[a-d]?(?:\s?(?:,|&|and|\+|/)\s?[0-9]{1,2}(?![0-9]|\s?[x×]|\stimes)){0,5}|[ivx]{1,4}|one|two|three|four))?";
    private const string Letter = @"(?:\s+[a-d])?";
    private const string Number = @"[x×]\s*(?<times>[0-9]{1,2})|(?<![^\s|])\*\s?(?<times>[2-9])(?![*\w])|(?<times>[0-9]{1,2})\s*(?:[x×]|times(?:\s(?:a?round|through))?)";
    private const string Count = @"(?:(?:\(\s*)?(?:play(?:ed)?\s+|repeat\s+)?(?:" + Number
        + @"|(?<words>twice|two times|(?:three|four) times(?:\s(?:a?round|through))?|(?<=play(?:ed)?\s|,\s)once))(?:\s*\))?)";
    private const string Behind = @"(?:\s*[:,–—(-]\s*|\s+)";
    private const string HowPlayed =
        "then|but|and|with(?:out)?|(?:last|first|second|third|1st|2nd|3rd) (?:time|line|bar|chord)|slow(?:ly|er)?|soft(?:ly|er)?|quiet(?:ly|er)?|loud(?:ly|er)?|fad(?:e|ing)|half|double|all|no|only|a cappella|big";
    private const string Ornament = @"[-–—=*#_~<>«»‹›+(){}\[\]""“”„\s]*";

    [GeneratedRegex(@"^" + Ornament + @"(?:start[ _]of[ _]|repeat\s+)?(?<name>" + KnownNames + Letter + @")(?>(?:\s*[])}>*_.:,;–—-]){0,4})(?:\s*" + Count
            + @"!?)?(?:(?:\s+and|\s+to|\s+till|\s*,)\s+(?:fade(?:\s+out)?|(?:the\s+)?end))?(?:\s*(?:\.{2,4}|[.:…]))?" + Ornament + "$", LinePatterns.AnyCase)]
    private static partial Regex Known();

    [GeneratedRegex(@"^" + Ornament + "(?:(?<name>" + KnownNames + @")\s*(?:[-–—:=(]+\s*)?|(?<name>\p{L}{1,4}[0-9]{0,2})\s*[:)]\s*\(?|(?<name>\p{L}{1,4}[0-9]{1,2})\s+)same(?:\s*chords\)?|\s*\))?(?:,?\s(?<but>(?:but|with)\s[^()|\[\]:]{1,40})(?:\([^()|\[\]]{1,40}\))?)?(?:\s*\])?\s*$",
        LinePatterns.AnyCase)]
    private static partial Regex Same();

    /// <summary>A name with what is remarked of it, such as Bridge (half time) or Last chorus - slowly.</summary>
    [GeneratedRegex("^" + Ornament + @"(?:repeat\s+)?(?<name>" + KnownNames + Letter + @")(?:\s*\])?(?:\s*" + Count
            + @")?(?:\s*\((?<remark>[^()|\[\]]{1,60})\)(?:\s*[.:])?(?:\s*" + Count + @")?|(?<comma>,)\s+(?<remark>(?>" + HowPlayed
            + @")(?=[\s,.]|$)[^()|\[\]]{0,60})|\s+[-–—]\s+(?<remark>(?!same|as\s|like|repeat)(?:\p{Ll}{3}|\p{L}\p{Ll}{4})[^()|\[\]]{0,60}))(?:\s*[.:])?"
            + Ornament + "$", LinePatterns.AnyCase)]
    private static partial Regex Remarked();

    /// <summary>A name and the one it plays again, such as Verse 2 as Verse 1, or Outro: repeat Intro and fade.</summary>
    // The name that is followed stands once in each of these patterns: the code that is made of it is long.
    [GeneratedRegex("^" + Ornament + "(?<name>" + KnownNames + Letter
            + @")(?:\s*\])?(?:(?<as>\s*=\s*(?:" + AsWords + @"\s+)?|" + Behind + "(?:" + AsWords + @"|repeat)\s+)|" + Behind + @"(?<over>over\s+)?)"
            + Article + "(?<like>" + KnownNames + "(?(as)" + Letter + @"))(?(as)\)?(?:\s*" + Count
            + @")?(?:(?:\s+|,\s*)(?<more>(?:and|to|till|until|then|end|but|with|without)\s[^|()\[\]]*))?|(?(over)(?:\s+chords)?|\s+chords)(?:\s*[,)])?(?:\s*" + Count + ")?)"
            + Ornament + "$", LinePatterns.AnyCase)]
    private static partial Regex Again();

    /// <summary>A name with words behind it, such as Verse 2: Over the ridge.</summary>
    [GeneratedRegex(@"^\s*(?<open>\[\s*)?(?<name>" + KnownNames + @")(?(open)\s*\]|\s*:)\s*(?<rest>[^\s|][^|]*)$", LinePatterns.AnyCase)]
    private static partial Regex BeforeWords();

    [GeneratedRegex(Kinds, LinePatterns.AnyCase)]
    private static partial Regex Kind();

    /// <summary>A mark around a part with the part's own name in it.</summary>
    [GeneratedRegex(@"^\s*\{\s*start[ _]of[ _](?<kind>" + KnownNames
            + @")(?:\s*:|\s)\s*(?:label\s*=\s*)?(?<name>[^{}]*)\}\s*$", LinePatterns.AnyCase)]
    private static partial Regex Labelled();

    /// <summary>The short marks some programs write around a part.</summary>
    [GeneratedRegex(@"^\s*\{\s*(?:so(?<part>[cvb])(?:\s*:(?<name>[^{}]*)\}|\s*\})|eo[cvb]\s*\})\s*$", LinePatterns.AnyCase)]
    private static partial Regex Short();

    [GeneratedRegex(@"^\s*(?:\{\s*end[ _]of[ _](?>[\w ]+)\}?|end_of_\w+|\[\s*/\s*" + KnownNames + @"\s*\]|end\s+of\s+(?:the\s+)?(?:" + KnownNames
            + @"|song|part|section|tab(?:lature)?|grid)(?:\s+(?:[0-9]{1,2}|one|two|three|four))?)\s*$", LinePatterns.AnyCase)]
    private static partial Regex EndOf();

    [GeneratedRegex(@"^\s*(?:\[(?<name>[^\]|]+)\]|\(?(?<name>" + KnownNames + @"(?:\s\([0-9]{1,2}\s?bars?\))?|(?:vs?|end|ch|br|pre|pc|int|ref|instr?|chor|brg|out|riff)[0-9]{0,2}|[cb][1-3]|[A-H]['′’]{1,2})\)?)(?:\s*" + Count
            + @")?(?:\s*[:.=])?(?:\s*(?:[-–—=]?[>→⇒]|>>|»|[-–—]))?(?:\s+|,\s*)(?<rest>\S.*)$", LinePatterns.AnyCase)]
    private static partial Regex InFront();

    [GeneratedRegex(@"^\s*(?:\[(?<name>[^\]|]+)\](?:\s*:)?|(?<name>(?:[0-9]{1,2}[\s-])?\p{L}(?:[\p{L}\p{N} .'’/&+-]|,[0-9]){0,58}?(?:\s\((?!\s*[x×0-9])[^()|\[\]:]{1,40}\))?)(?:\s{1,3}" + Count + @")?\s*:)(?:\s*"
            + Count + @"(?:\s*:)?)?\s*$", LinePatterns.AnyCase)]
    private static partial Regex Marked();

    [GeneratedRegex(@"^\s*(?<name>\p{L}(?:[\p{L}\p{N} .'’/&+-]|,[0-9]){0,58}?(?:\s\([^()|\[\]:]{1,40}\))?)\s*[:)]\s+(?<rest>[^|\[][^\[]*)$", RegexOptions.NonBacktracking)]
    private static partial Regex Named();

    [GeneratedRegex(@"^\s*(?:\[(?<first>[^\]|]+)\]|\(?(?<first>" + KnownNames
            + @")\)?(?:\s*:)?)\s{3,}(?<column>\[(?<second>[^\]|]+)\]|\(?(?<second>" + KnownNames
            + @")\)?(?:\s*:)?)(?:\s{3,}(?:\[[^\]|]+\]|\(?" + KnownNames + @"\)?(?:\s*:)?))?\s*$",
        LinePatterns.AnyCase)]
    private static partial Regex Two();

    /// <summary>True for a line of a name of its own kind, such as Verse 2, ornaments and a count aside.</summary>
    public static bool IsKnown(string line) => Known().IsMatch(line);

    /// <summary>True for a mark that only says where a part ends.</summary>
    public static bool IsEnd(string line) =>
        EndOf().IsMatch(line) || Short().Match(line) is { Success: true } mark && !mark.Groups["part"].Success;

    /// <summary>True for a mark that says where a section ends; staves and grids stand within one.</summary>
    public static bool IsEndOfSection(string line) =>
        IsEnd(line) && !line.Contains("tab", StringComparison.OrdinalIgnoreCase)
            && !line.Contains("grid", StringComparison.OrdinalIgnoreCase);

    /// <summary>A line that is nothing but a heading; null for any other.</summary>
    /// <param name="line">The line.</param>
    /// <param name="isChord">Tells a chord from a name.</param>
    /// <param name="beforeBars">True when bars follow: a letter in brackets names them then.</param>
    public static HeadingLine? Alone(string line, Func<string, bool> isChord, bool beforeBars)
    {
        if (Known().Match(line) is { Success: true } known) return Made(known, line.Length);
        if (Same().Match(line) is { Success: true } same && Made(same, line.Length) is var alike)
            return alike with
            {
                IsSame = true,
                Name = same.Groups["but"] is { Success: true } but ? $"{alike.Name} ({but.Value.Trim()})" : alike.Name,
            };
        if (PlaysAgain().Match(line) is { Success: true } plays)
            return new($"{NameIn(plays)}, as {plays.Groups["like"].Value}", TimesOf(plays), line.Length);
        if (Again().Match(line) is { Success: true } again)
        {
            var (said, often) = Counted(again.Groups["more"].Value.Trim());
            var more = said.Length > 0 && said is not ("but" or "and" or "then") ? $" ({said})" : "";
            return new($"{NameIn(again)}{more}, as {again.Groups["like"].Value}", Math.Max(TimesOf(again), often), line.Length);
        }
        if (Remarked().Match(line) is { Success: true } noted
            // Between brackets all of it is the name.
            && !(noted.Groups["comma"].Success && line.AsSpan().TrimStart() is ['[', ..])
            && (!noted.Groups["remark"].Value.Split(' ', StringSplitOptions.RemoveEmptyEntries).All(w => isChord(w) || w is "-")
                // One chord behind a name above bars is its key.
                || beforeBars && isChord(noted.Groups["remark"].Value.Trim())))
        {
            // A count may stand within the remark: (slowly x3).
            var (said, count) = (noted.Groups["remark"].Value.Trim(), TimesOf(noted));
            var (remark, often) = count > 1 ? (BesideACount(said), count) : CountedAround(said);
            return new(remark.Length > 0 ? $"{NameIn(noted)} ({remark})" : NameIn(noted), often, line.Length);
        }
        if (Labelled().Match(line) is { Success: true } labelled) return Between(labelled, labelled.Groups["kind"].Value, line);
        if (Short().Match(line) is { Success: true } mark && mark.Groups["part"].Success)
            return Between(mark, mark.Groups["part"].Value.ToLowerInvariant() switch
            {
                "c" => "Chorus",
                "v" => "Verse",
                _ => "Bridge",
            }, line);
        if (LetteredSection().Match(line) is { Success: true } lettered)
        {
            var words = NameIn(lettered).Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var (remark, often) = CountedAround(lettered.Groups["remark"].Value.Trim());
            return new(string.Join(' ', words) + (remark.Length > 0 ? $" ({remark})" : ""), Math.Max(TimesOf(lettered), often),
                line.Length);
        }
        if (beforeBars && line.Length <= LongestInShort && line.AsSpan().ContainsAny(TellsAName)
            && Told().Match(line) is { Success: true } told)
            return Made(told, line.Length);
        if (beforeBars && line.Length <= LongestInShort && InShort().Match(line) is { Success: true } brief)
            return InShortBeside(brief, line.Length, isChord);
        if (!line.AsSpan().ContainsAny('[', ':') || ChartHeader.IsHeader(line)
            || Marked().Match(line) is not { Success: true } marked || ChartHeader.MeterAlone(marked.Groups["name"].Value) is not null)
            return null;
        var name = NameIn(marked);
        // No chord has another name behind a colon or a comma.
        var letter = IsLetter(name, isChord, beforeBars) || LikeAnother().Match(name).Groups["mark"].Value is ":" or ",";
        if (line.Contains('[') && !letter && isChord(name.Split(' ')[0].TrimStart('<'))) return null;
        return WithRemark(Made(marked, line.Length), name);
    }

    /// <summary>What stands behind a colon of its own is a remark, where it does not name another section: <c>[Verse 2:
    /// quieter]</c>.</summary>
    private static HeadingLine WithRemark(HeadingLine made, string name) =>
        name.Split(':', 2) is [var kind, var said] && IsKnown(kind) && !LikeAnother().IsMatch(name)
            && said.Replace('(', ' ').Replace(')', ' ').Trim() is { Length: > 0 } remark
                ? made with { Name = $"{kind.Trim()} ({remark})" }
                : made;

    /// <summary>A heading with its bars behind it in the same line; null for any other line.</summary>
    /// <param name="line">The line.</param>
    /// <param name="isChord">Tells a chord from a name.</param>
    /// <param name="isChords">Tells a row of chords from words.</param>
    public static HeadingLine? WithBars(string line, Func<string, bool> isChord, Func<string, bool> isChords)
    {
        if (BeforeColon(line, isChord, isChords) is { } before) return before;
        if (InFront().Match(line) is { Success: true } front)
        {
            var (name, rest) = (NameIn(front), front.Groups["rest"]);
            var bracketed = line.TrimStart().StartsWith('[');
            var bars = (rest.Value.StartsWith('|') || IsBarred(rest.Value, isChords))
                && (!bracketed || !rest.Value.Contains('[') || !isChord(name));
            var chords = (!bracketed || !isChord(name))
                && (isChords(rest.Value) || rest.Value.StartsWith('[') && (!bracketed || IsKnown(name) || IsEndName(name)));
            if (bars || chords) return Made(front, rest.Index);
        }
        if (line.Contains(',') && Several().Match(line) is { Success: true } several && several.Groups["rest"] is var shared
            && (isChords(shared.Value) || IsBarred(shared.Value, isChords)))
            return Made(several, shared.Index);
        if (!ChartHeader.IsHeader(line) && Named().Match(line) is { Success: true } named
            && (isChords(named.Groups["rest"].Value) || IsBarred(named.Groups["rest"].Value, isChords)))
            return Made(named, named.Groups["rest"].Index);
        return null;
    }

    /// <summary>Names that share a row, Intro, verse, chorus: G C D C.</summary>
    [GeneratedRegex(@"^\s*(?<name>" + KnownNames + @"(?:\s*,(?:\s*and)?\s*" + KnownNames + @"){1,4}(?:\s*(?:&|and)\s*" + KnownNames + @")?)\s*:\s*(?<rest>[^\s\[].*)$",
        LinePatterns.AnyCase)]
    private static partial Regex Several();

    /// <summary>Whatever a name is made of, a colon and chords before the first bar line end it: <c>Bridge / band out: Dm | A
    /// |</c>.</summary>
    private static HeadingLine? BeforeColon(string line, Func<string, bool> isChord, Func<string, bool> isChords)
    {
        if (line.IndexOf('|') is not (> 1 and var bar) || line.LastIndexOf(':', bar - 1) is not (> 0 and var colon)
            || !char.IsLetterOrDigit(line.AsSpan().TrimStart()[0]) || ChartHeader.IsHeader(line)
            || !isChords(line[(colon + 1)..bar])
            || line[..colon].Split('[').Skip(1).Any(p => isChord(p.Split(']', ' ')[0])))
            return null;
        var (name, times) = Counted(line[..colon].Replace('[', '(').Replace(']', ')').Trim());
        return new(name, times, line.Length - line.AsSpan(colon + 1).TrimStart().Length);
    }

    /// <summary>A heading with words, or words with chords among them, behind it in the same line; null for any other
    /// line.</summary>
    public static HeadingLine? WithWords(string line) =>
        line.AsSpan().ContainsAny('[', ':') && BeforeWords().Match(line) is { Success: true } match
                && match.Groups["rest"] is var rest && (rest.Value.Contains('[') || rest.Value[0] is '"' or '“' or '„' || LinePatterns.SmallLetters().IsMatch(rest.Value))
            ? Made(match, rest.Index)
            : null;

    /// <summary>What a line under a heading says the section is the same as: a name, or nothing but that it is the same; null
    /// for any other line.</summary>
    /// <param name="line">The line.</param>
    /// <param name="heading">The name above it.</param>
    public static string? SameAs(string line, string heading)
    {
        if (SameLine().Match(line) is not { Success: true } match) return null;
        // "Repeat chorus" under a verse whose words are left out sends on; under an outro it says what the outro is.
        return match.Groups["repeat"].Success && !AreOfOneKind(match.Groups["like"].Value, heading)
            && AreOfOneKind("verse", heading)
            ? null
            : match.Groups["like"].Value;
    }

    /// <summary>True for names of sections that are of one kind, such as Verse 2 and Last verse.</summary>
    public static bool AreOfOneKind(string a, string b) =>
        Kind().Match(a) is { Success: true } mine && Kind().Match(b) is { Success: true } theirs
            && Letters(mine.ValueSpan).Equals(Letters(theirs.ValueSpan), StringComparison.OrdinalIgnoreCase);

    private static string Letters(ReadOnlySpan<char> name) => string.Concat(name.ToString().Where(char.IsLetterOrDigit));

    /// <summary>True for bars without a line in front.</summary>
    private static bool IsBarred(string rest, Func<string, bool> isChords) =>
        rest.IndexOf('|') is > 0 and var bar && isChords(rest[..bar].TrimEnd(':'));

    /// <summary>A name without its number, to find others of its kind.</summary>
    public static string KindOf(string name) => name.TrimEnd(' ', '1', '2', '3', '4', '5', '6', '7', '8', '9', '0');

    /// <summary>Where the second of two headings side by side begins; null when there are not two. Chords in brackets head
    /// nothing.</summary>
    public static int? SecondColumn(string line) =>
        Two().Match(line) is { Success: true } two && !ForeignNames.IsChordInAny(two.Groups["first"].Value)
                && !ForeignNames.IsChordInAny(two.Groups["second"].Value)
            ? two.Groups["column"].Index
            : null;

    /// <summary>The name as it is written between its marks; a space where nothing is.</summary>
    private static string NameIn(Match match) => match.Groups["name"].Value.Trim() is { Length: > 0 } name ? name : " ";

    /// <summary>A part between marks: by its own name, or by that of its kind.</summary>
    private static HeadingLine Between(Match match, string kind, string line)
    {
        var own = match.Groups["name"].Value.Trim().Trim('"', '“', '”').Trim();
        var (name, times) = Counted(own.Length > 0 ? own : kind);
        return new(name.Length > 0 ? name : kind, times, line.Length);
    }

    private static HeadingLine Made(Match match, int rest)
    {
        var whole = NameIn(match);
        // A mark names a kind in small letters.
        if (match.Value.Contains("start", StringComparison.OrdinalIgnoreCase))
            whole = char.ToUpperInvariant(whole[0]) + whole[1..];
        var (name, times) = Counted(whole);
        return new(name.Length > 0 ? name : whole,
            match.Groups["times"].Success || match.Groups["words"].Success ? TimesOf(match) : times, rest);
    }
}
