using System.Buffers;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Several facts in one line, and what parts them.</content>
internal sealed partial class ChartHeader
{
    /// <summary>A sign between two facts, of which the second has a name or begins with a number.</summary>
    // Between two numbers of two digits it is from the one to the other: Tempo: 96 - 100.
    private const string BetweenFacts =
        @"(?<=\S)\s[/•·–—-]\s(?=" + Values + @"\b)|(?<=\S)(?<![\s:=][0-9]{2,3}|tempo|bpm|capo|time|meter)\s[/•·–—-]\s(?=[0-9])";

    private static readonly SearchValues<char> PartingSigns = SearchValues.Create("/•·–—-");

    [GeneratedRegex(BetweenFacts, LinePatterns.AnyCase)]
    private static partial Regex SignBetween();

    [GeneratedRegex(@"(?<!\s)\s*[,;|]\s*|(?<=\p{L}{3})\.\s+|\.\s+(?=" + Values + @"\b)|(?<=[0-9]/[0-9]{1,2})(?:\s(?:at|@)\s|\.\s+)(?=[0-9]{2})|" + BetweenFacts + @"|(?<![:=\s])(?:\s{2,}|\s(?=" + Values + @"\s*[:=]))",
        LinePatterns.AnyCase)]
    private static partial Regex Gaps();

    /// <summary>True for the line that says the title.</summary>
    public static bool IsTitle(string line) =>
        Header(line) is { } header && (NameIn(header) is "title" or "t");

    /// <summary>Several facts in one line, between commas or strokes, when all of it are facts, or words beside them; columns
    /// stay.</summary>
    private static List<string>? Facts(string line)
    {
        // The first of them may stand in brackets.
        if (line.AsSpan().TrimStart() is ['(', ..] && line.IndexOf(')') is > 0 and var close && line.IndexOf('(') is var open
            && IsFact(line.AsSpan(open + 1, close - open - 1)))
            line = $"{line[..open]} {line[(open + 1)..close]} {line[(close + 1)..]}";
        // Most lines are none, which their first words show.
        var end = line.AsSpan().IndexOfAny(',', ';', '|');
        if (end < 0 && line.AsSpan().Count('=') + line.AsSpan().Count(':') > 1
            && Gaps().Match(line, line.Length - line.AsSpan().TrimStart().Length) is { Success: true } first)
            end = first.Index;
        void EndAt(int at) => end = at >= 0 && (end < 0 || at < end) ? at : end;
        EndAt(line.IndexOf(". ", StringComparison.Ordinal));
        EndAt(line.IndexOf("  ", line.Length - line.AsSpan().TrimStart().Length, StringComparison.Ordinal));
        if (line.AsSpan().ContainsAny(PartingSigns) && SignBetween().Match(line) is { Success: true } sign) EndAt(sign.Index);
        if (line.Contains('/') && AtTempo().Match(line) is { Success: true } tempo) EndAt(tempo.Index);
        if (end <= 0 || !IsFact(line.AsSpan(0, end))) return null;
        // The value of these may hold commas of its own; it ends where another fact is named.
        var isFree = Header(line) is { } whole
            && NameIn(whole) is not ("key" or "tempo" or "bpm" or "meter" or "time" or "capo");
        var facts = new List<string>();
        var from = 0;
        foreach (Match gap in Gaps().Matches(line))
        {
            // What stands in brackets belongs to the fact before it.
            if (line.AsSpan(from, gap.Index - from).Count('(') > line.AsSpan(from, gap.Index - from).Count(')')) continue;
            if (isFree && facts.Count == 0 && !NamedFact().IsMatch(line.AsSpan(gap.Index + gap.Length))
                && !(NameIn(Header(line)!) == "tuning" && JottedLine().IsMatch(line.AsSpan(gap.Index + gap.Length))))
                continue;
            facts.Add(new string(' ', from) + WithoutSign(line[from..gap.Index]));
            from = gap.Index + gap.Length;
        }
        if (facts.Count == 0) return null;
        facts.Add(new string(' ', from) + line[from..]);
        facts.RemoveAll(f => f.Trim().Length == 0);
        return facts.Count > 1 && facts.TrueForAll(
            f => IsFact(f) || Number().IsMatch(f) || Word().IsMatch(f) && !f.AsSpan().ContainsAny(OfBars)) ? facts : null;
    }

    /// <summary>Where a tempo begins behind a meter: 4/4 at 96.</summary>
    [GeneratedRegex(@"(?<=[0-9]/[0-9]{1,2})\s(?:at|@)\s(?=[0-9]{2})", LinePatterns.AnyCase)]
    private static partial Regex AtTempo();

    [GeneratedRegex("^" + Values + @"\s*[:=]", LinePatterns.AnyCase)]
    private static partial Regex NamedFact();

    /// <summary>A line in curly brackets that says something of the writer's own is kept as it is.</summary>
    private bool TryOwn(string line, int number, Action<int, int, string> problem)
    {
        if (!line.TrimStart().StartsWith('{')) return false;
        if (line.Trim().Trim('{', '}').Split(':', 2) is [var name, var rest])
        {
            AddExtra(name.Trim(), rest.Trim());
            if (name.Trim().Equals("transpose", StringComparison.OrdinalIgnoreCase) && rest.Trim() is not ("" or "0"))
                problem(number, line.IndexOf('{') + 1,
                    $"'{line.Trim()}' is kept and not followed: chords sound as they are written. Move the chart to the key that is "
                        + "meant, and take this line out.");
        }
        else
            problem(number, line.IndexOf('{') + 1,
                "This line in curly brackets is not understood and left out; write a name, a colon and what is to be kept, such "
                    + "as {note: softly}.");
        return true;
    }
}
