using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>Facts without their names, and facts among words.</content>
internal sealed partial class ChartHeader
{
    private const string BareKey =
        @"(?<key>(?-i:[A-G])[#b♯♭]?(?:m(?![a-z])|\s(?:minor|major|min|maj)(?![a-z]))?)(?![\w#♯♭/])";

    /// <summary>Facts side by side without their names: <c>3/4 D</c>, <c>D, 3/4, 100</c>, <c>Bb (capo 3 = G)</c>.</summary>
    [GeneratedRegex(@"^[\s(\[]*(?>(?:(?<meter>[0-9]{1,2}/(?:16|[248]))(?:\s(?:time|feel))?|(?:(?:tempo|[♩♪]\.?)\s?=?\s?|~\s?)?(?<tempo>[0-9]{2,3})(?<bpm>\s?bpm)?(?![0-9/.])|(?:in\s|key(?:\sof)?\s)?" + BareKey
            + @"|capo\s?(?<capo>[0-9]{1,2})(?:st|nd|rd|th)?(?:\sfret)?(?:\s?[=:,]?\s?(?:play\s(?:in\s)?)?(?-i:[A-G])[#b♯♭]?m?(?:\sshapes)?(?=\s?[)\]]))?)(?:\s+/\s+|[\s,;•·–—|()\[\]-]+|\.(?:\s+|$)|$))+$",
        LinePatterns.AnyCase)]
    private static partial Regex BareFacts();

    private const int LongestBare = 60;

    /// <summary>A line of several facts without names, one of which cannot be anything else: a meter, beats a minute, a capo.
    /// With strokes between them a meter and a letter may be a bar.</summary>
    private static Match? BareFactsOf(string line) =>
        line.Length <= LongestBare && line.AsSpan().ContainsAny("/bBpP") && BareFacts().Match(line) is { Success: true } match
            && BareNames.Sum(n => match.Groups[n].Captures.Count) > 1
            && Array.TrueForAll(BareNames, n => match.Groups[n].Captures.Count <= 1)
            && (match.Groups["bpm"].Success || match.Groups["capo"].Success
                || match.Groups["meter"].Success && !line.Contains('|'))
            ? match
            : null;

    /// <summary>True for a line of facts without names, in which a letter is the key.</summary>
    public static bool AreBareFacts(string line) => BareFactsOf(line) is not null;

    private static readonly string[] BareNames = ["meter", "key", "tempo", "capo"];

    private void TakeBare(Match facts, int number, Action<int, int, string> problem)
    {
        foreach (var name in BareNames)
            if (facts.Groups[name] is { Success: true } fact) TakeValue(name, fact.Value, number, fact.Index + 1, problem);
    }

    /// <summary>A title with facts behind strokes: <c>"Ten Bells" | G | 4/4 | Folk</c>, <c>Ten Bells / G / 4/4</c>; with commas
    /// instead, null for any other line.</summary>
    public static string? TitleBeforeStrokes(string line)
    {
        if (line.Length > ChartLimits.LongestName || line.AsSpan().Trim() is ['|', ..] or [.., '|']) return null;
        var pieces = line.Split(line.Contains('|') ? "|" : " / ", StringSplitOptions.TrimEntries);
        if (pieces.Length < 2) return null;
        return IsWords(pieces[0]) && !IsFact(pieces[0]) && pieces.Skip(1).Any(p => IsFact(p))
            && pieces.Skip(1).All(p => IsFact(p) || InKey().IsMatch(p) || Number().IsMatch(p) || IsWords(p))
            ? string.Join(", ", pieces)
            : null;

        static bool IsWords(string piece) =>
            SmallThree().IsMatch(piece) && !piece.Contains('[') && !Chords.ChordReader.Read(piece).Ok;
    }

    [GeneratedRegex(@"\p{Ll}{3}")]
    private static partial Regex SmallThree();

    /// <summary>A fact among words: <c>a slow one in 3/4, key of D, about 80 bpm</c>.</summary>
    [GeneratedRegex(@"(?<![\w/])(?<!\b(?:page|sheet|part|p\.?)\s?)(?<meter>(?:[2-9]|12)/(?:2|4|8))(?![\w/])|\bkey(?:\sof|\sis|\s=|:)?\s" + BareKey
            + @"|(?:\btempo\s(?:~\s?|about\s)?)(?<tempo>[0-9]{2,3})(?![\w.])|(?<![\w.])(?<tempo>[0-9]{2,3})\s?bpm\b"
            + @"|\b(?<count>[23456]|two|three|four|six)[-\s](?<of>four|eight)(?:[-\s]time)?\b|\b(?<count>[23456]|three|four|six)\sbeats\s(?:per|to\sthe|in\sa|a)\s(?:bar|measure)\b"
            + @"|^\s*(?:in\s(?<count>[346]|three|four|six)\s*\.?\s*$|(?:(?:a\s)?(?:slow|fast|quick|medium|gentle|easy)\s)?(?<waltz>waltz)(?:\stime|\sfeel)?(?=\s*$|\s*[,;.]|\sin\s))",
        LinePatterns.AnyCase)]
    private static partial Regex FactsAmongWords();

    /// <summary>The only key that words name, <c>numbers, key of E</c>; null where they name none, or several.</summary>
    public static Key? KeyAmongWords(string words) =>
        words.Length <= 2 * ChartLimits.LongestName
            && FactsAmongWords().Matches(words).Where(m => m.Groups["key"].Success).ToList() is [var only]
            && Music.Key.TryParse(only.Groups["key"].Value, out var key)
                ? key
                : null;

    /// <summary>What nothing but words among others say: the name of the fact, its value and where it stands.</summary>
    public List<(string Name, string Value, int Line, int Column)> AmongWords { get; } = [];

    /// <summary>Takes meter, key and tempo that words above the bars say, where no line of its own did; a line that says two of
    /// a kind says neither.</summary>
    /// <param name="words">The line.</param>
    /// <param name="number">Its number.</param>
    /// <param name="isAtFoot">True behind all bars, where they say it as well.</param>
    /// <returns>True where one was taken.</returns>
    public bool TakeAmongWords(string words, int number, bool isAtFoot = false)
    {
        if (IsBehindBars && !isAtFoot || words.Length > 2 * ChartLimits.LongestName
            || FactsAmongWords().Matches(words) is not { Count: > 0 } facts)
            return false;
        var before = AmongWords.Count;
        foreach (var name in new[] { "meter", "key", "tempo" })
        {
            var isSaid = name switch { "meter" => IsMeterSaid, "key" => Key is not null, _ => _tempoSaid is not null };
            if (isSaid || facts.Select(f => (At: f.Index, Value: ValueOf(f, name))).Where(f => f.Value.Length > 0).ToList()
                is not [var only])
                continue;
            TakeValue(name, only.Value, number, only.At + 1, (_, _, _) => { });
            AmongWords.Add((name, only.Value, number, only.At + 1));
        }
        return AmongWords.Count > before;
    }

    /// <summary>Keeps words beside facts, and takes what they say.</summary>
    private void AddNote(string words, int number)
    {
        AddNote(words.Trim());
        TakeAmongWords(words, number);
    }

    private static readonly string[] CountWords = ["", "", "two", "three", "four", "", "six"];

    private static string ValueOf(Match fact, string name)
    {
        if (name != "meter" || fact.Groups["meter"].Success) return fact.Groups[name].Value;
        if (fact.Groups["waltz"].Success) return "3/4";
        if (fact.Groups["count"] is not { Success: true } count) return "";
        var beats = Array.FindIndex(CountWords, w => w.Equals(count.Value, StringComparison.OrdinalIgnoreCase)) is > 0 and var n
            ? n.ToString(CultureInfo.InvariantCulture)
            : count.Value;
        return $"{beats}/{(fact.Groups["of"].Value.Equals("eight", StringComparison.OrdinalIgnoreCase) || beats == "6" ? 8 : 4)}";
    }
}
