using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>The title of the song, and the facts that stand beside it in its line.</content>
internal sealed partial class ChartHeader
{
    /// <summary>Song: and its title.</summary>
    [GeneratedRegex(@"^\s*(?:song|tune|name)\s*:(?>\s*)(?=[^|\[\]]*?\p{L})(?<title>(?>[^|\[\]]+))$", LinePatterns.AnyCase)]
    private static partial Regex SongLine();

    private bool _titleIsFirstLine;   // and nothing says that it is the title

    /// <summary>Takes the title of a line that says Song: in front of it; chords there are the bars of a section.</summary>
    private bool TrySong(string line, int number, Action<int, int, string> problem)
    {
        if (Title.Length > 0 && (!_titleIsFirstLine || IsBehindBars)
            || SongLine().Match(line) is not { Success: true } song)
            return false;
        var title = song.Groups["title"].Value;
        var words = title.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.All(w => Chords.ChordReader.Read(w).Ok)) return false;
        // What stood above says what the page is.
        if (Title.Length > 0) AddNote(Title);
        TakeTitle(title, number, problem);
        _titleIsFirstLine = false;
        return true;
    }

    [GeneratedRegex(@"\s+[-–—]{1,3}\s+|\s*[,;]\s*|\s{2,}|:\s+(?=[A-H][#b♯♭]?m?\s*,|[0-9]{1,2}/[0-9]{1,2}\s*,)")]
    private static partial Regex BesideTitle();

    /// <summary>A title in quotation marks with something behind it.</summary>
    [GeneratedRegex(@"^\s*[""“„«](?<title>[^""“”„«»]+)[""“”»](?<behind>.*)$")]
    private static partial Regex Quoted();

    /// <summary>The number of a song in a book or a list, in front of its title.</summary>
    [GeneratedRegex(@"^\s*(?:(?:song|tune|track|no\.?|nr\.?|number)\s{1,2})?[0-9]{1,3}(?:[.:)]|\s[-–—])\s+(?=\p{Lu}\p{L})", LinePatterns.AnyCase)]
    private static partial Regex NumberOfSong();

    /// <summary>What a line says it is before the title.</summary>
    [GeneratedRegex(@"^\s*(?:(?:chord\s(?:chart|sheet)|chords|lead\ssheet|chart)(?:\s(?:for|of))?|subject|re|fwd?)\s*:\s*(?=\p{L})", LinePatterns.AnyCase)]
    private static partial Regex WhatItIs();

    /// <summary>Takes a title. Facts in brackets or behind a dash or a comma are no part of it, <c>Paper Lighthouse (capo 2,
    /// slowly)</c>; what stands among them is kept as a note. A key that is said elsewhere holds.</summary>
    public void TakeTitle(string line, int number, Action<int, int, string> problem)
    {
        _titleIsFirstLine = true;
        line = NumberOfSong().Replace(WhatItIs().Replace(line, ""), "");
        for (var (i, end) = (0, line.TrimEnd().Length); i < MostRemarks && end > 0 && line[end - 1] == ']'
            && line.LastIndexOf('[', end - 1) is > 0 and var open && IsHeader($"({line[(open + 1)..(end - 1)]})"); i++)
        {
            line = $"{line[..open]}({line[(open + 1)..(end - 1)]}){line[end..]}";
            end = line[..open].TrimEnd().Length;
        }
        if (Quoted().Match(line) is { Success: true } quoted)
        {
            var behind = quoted.Groups["behind"].Value.Trim('(', ')', ' ', '-', '–', '—', ',', ':');
            if (behind.Length > 0 && !TakeFacts(BesideTitle().Split(behind), number, problem)) AddNote(behind);
            line = quoted.Groups["title"].Value;
        }
        Title = Bare(line);
        for (var i = 0; i < MostRemarks && Apart(Title) is (var title, { Length: > 0 } remark); i++)
        {
            if (!TakeFacts(BesideTitle().Split(remark), number, problem))
            {
                if (BareFactsOf(remark) is { } bare)
                {
                    var known = Key;
                    TakeBare(bare, number, problem);
                    Key = known ?? Key;
                }
                else if (SaysCapo(remark)) AddNote(remark);
                else break;
            }
            Title = title;
        }
        if (BesideTitle().Split(Title) is [{ Length: > 0 } first, .. { Length: > 0 } beside]
            && TakeFacts(beside, number, problem))
            Title = first;
        TakeFactsBehindTitle(number, problem);
        TakeMeterBehindTitle();
        if (Key is null && KeyInTitle(line) is var (at, length))
            TakeValue("key", line.Substring(at, length), number, at + 1, problem);
        Title = Bare(Title);
    }

    /// <summary>A title without the marks around it; a quotation mark that only ends it belongs to one within.</summary>
    private static string Bare(string title)
    {
        var bare = title.Trim(' ', '*', '_', '=', '♪', '♫', '★', '☆', '●');
        return bare.Length > 0 && Quotes.Contains(bare[0]) ? bare.Trim([.. Quotes, ' ', '*', '_', '='])
            : bare.AsSpan().Count('"') == 1 ? bare.TrimEnd('"') : bare;
    }

    private const int MostRemarks = 4;   // in brackets behind a title
    private const string Quotes = "\"“”„«»";

    private static Meter? MeterByName(string value) => value.Trim().ToLowerInvariant() switch
    {
        "common" or "common time" or "c" => Music.Meter.Common,
        "cut" or "cut time" or "alla breve" => new Meter(2, 2),
        "waltz" or "waltz time" => new Meter(3, 4),
        "2" or "3" or "4" => new Meter(value.Trim()[0] - '0', 4),
        "6" => new Meter(6, 8),
        _ => null,
    };

    private static readonly string[] SaidOfAMeter = ["time", "meter", "feel", "waltz", "swing", "shuffle", "jig", "march", "ballad"];

    /// <summary>A meter at the end of a title, and what it is called, are no part of it: <c>Harbour Steps 3/4 waltz
    /// feel</c>.</summary>
    private void TakeMeterBehindTitle()
    {
        var words = Title.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        var at = Array.FindLastIndex(words, w => Music.Meter.TryParse(w, out _));
        if (at < 1 || !words.Skip(at + 1).All(w => SaidOfAMeter.Contains(w, StringComparer.OrdinalIgnoreCase))
            || !Music.Meter.TryParse(words[at], out var meter))
            return;
        if (!IsMeterSaid) Use(meter);
        var title = words.AsSpan(0, words[at - 1] is "in" or "-" or "–" && at > 1 ? at - 1 : at);
        Title = string.Join(' ', title!);
        if (words.Length > at + 1 && words[^1] is not ("time" or "meter")) AddNote(string.Join(' ', words.Skip(at + 1)));
    }

    /// <summary>Facts that end a title with nothing but blanks between them: <c>Quick Silver River 4/4 112bpm Dm capo1</c>. A
    /// key or a meter is one beside a capo or a tempo; a letter alone, without <c>in</c>, belongs to the title.</summary>
    [GeneratedRegex(@"^(?<title>\S.{0,80}?\S)(?<facts>(?:\s(?:capo\s?[0-9]{1,2}|[0-9]{2,3}\s?bpm|[0-9]{1,2}/[0-9]{1,2}|(?:in\s|key\s(?:of\s)?)(?-i:[A-H][#b♯♭]?m?)(?:\sminor|\smajor)?|(?-i:[A-H](?:[#b♯♭]m?|m))|(?-i:[A-H])\s(?:minor|major)|(?<=(?:[0-9]|bpm)\s)(?-i:[A-H])(?=\s|$)))+)$",
        LinePatterns.AnyCase)]
    private static partial Regex FactsBehind();

    [GeneratedRegex(@"capo\s?(?<capo>[0-9]{1,2})|(?<tempo>[0-9]{2,3})\s?bpm|(?<time>[0-9]{1,2}/[0-9]{1,2})|(?:^|\s)(?<key>[A-H][#b♯♭]?(?:m|\sminor|\smajor)?)(?=\s|$)")]
    private static partial Regex FactBehind();

    private void TakeFactsBehindTitle(int number, Action<int, int, string> problem)
    {
        if (FactsBehind().Match(Title) is not { Success: true } match) return;
        var facts = FactBehind().Matches(match.Groups["facts"].Value.Replace("Capo", "capo", StringComparison.OrdinalIgnoreCase));
        if (!facts.Any(f => f.Groups["capo"].Success || f.Groups["tempo"].Success)) return;
        foreach (var name in new[] { "capo", "tempo", "time", "key" })
            if (facts.FirstOrDefault(f => f.Groups[name].Success) is { } fact && (name != "key" || Key is null))
                TakeValue(name, fact.Groups[name].Value, number, 1, problem);
        Title = match.Groups["title"].Value;
        if (Apart(Title) is not (var title, { Length: > 0 } remark)
            || InKey().Match(remark) is not { Success: true } alone)
            return;
        if (Key is null) TakeValue("key", alone.Groups["key"].Value, number, 1, problem);
        Title = title;
    }

    /// <summary>A key as it stands behind a title.</summary>
    [GeneratedRegex(@"^\s*(?:in\s+)?(?<key>[A-H](?:[#b♯♭]|[\s-](?:flat|sharp))?(?:m|\s?(?:min|maj)(?:or)?)?)\s*$")]
    private static partial Regex InKey();

    /// <summary>The key of the shapes beside other facts; alone in its line it is that of the song.</summary>
    [GeneratedRegex(@"^\s*(?:we\s)?play\b", LinePatterns.AnyCase)]
    private static partial Regex PlaysIn();

    /// <summary>A key that is no word: F#m, Bb, E minor.</summary>
    [GeneratedRegex(@"^\s*[A-G](?:[#♯♭]m?|bm?|m|\s(?:minor|major))\s*$")]
    private static partial Regex SureKey();

    /// <summary>True for a title with facts behind it.</summary>
    public static bool IsTitleWithFacts(string line) =>
        BesideTitle().Split(line.Trim()) is [{ Length: > 0 } first, .. { Length: > 0 } beside] && !IsFact(first.AsSpan().Trim("() "))
            && first.Count(char.IsLetter) > 2 && Array.Exists(beside, p => IsFact(p));

    /// <summary>Takes the facts of a line that says other things before them: <c>12 bars, shuffle, 84 bpm</c>.</summary>
    public bool TryTakeAmongWords(string line, int number, Action<int, int, string> problem) =>
        IsTitleWithFacts(line) && TakeFacts(BesideTitle().Split(line.Trim()), number, problem);

    /// <summary>Takes facts and notes beside them; false, and nothing taken, when there is no fact.</summary>
    private bool TakeFacts(string[] pieces, int number, Action<int, int, string> problem)
    {
        // A letter alone is a key beside other facts only.
        var keys = pieces.Count(p => InKey().IsMatch(p));
        if (!Array.Exists(pieces, p => IsFact(p) || keys == 1 && SureKey().IsMatch(p)
            || p.Contains("in ", StringComparison.Ordinal) && InKey().IsMatch(p)))
            return false;
        var known = Key;
        foreach (var piece in pieces)
            if (MeterAlone(piece) is { } meter) Use(meter);
            else if (InKey().Match(piece) is { Success: true } inKey)
                TakeValue("key", inKey.Groups["key"].Value, number, 1, problem);
            else if (Number().Match(piece) is { Success: true } beats)
                TakeValue("tempo", beats.Groups["tempo"].Value, number, 1, problem);
            else if ((PlaysIn().IsMatch(piece) || !TryTake(piece, number, problem)) && piece.Length > 0) AddNote(piece, number);
        Key = known ?? Key;
        return true;
    }
}
