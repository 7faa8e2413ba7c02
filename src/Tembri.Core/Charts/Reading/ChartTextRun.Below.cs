using System.Text;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Lines that belong to the line above them: bars of strokes that say when the chords above them come, and bars of the
/// words that are sung through the bars above them.</content>
internal sealed partial class ChartTextRun
{
    private const int MostBarsApart = 2;   // by how many a line of words may have more or fewer bars than the chords above it

    /// <summary>Reads chords that stand above bars of strokes, each at the stroke it stands over; strokes with no chord above
    /// them hold the one before.</summary>
    /// <param name="chords">The line of chords.</param>
    /// <param name="number">Its number.</param>
    /// <param name="below">The line of strokes.</param>
    /// <returns>False, and nothing is read, when the line below is none, or not every chord finds a stroke.</returns>
    private bool TryOverStrokes(string chords, int number, (string Text, int Number) below)
    {
        if (Filled(chords, below.Text) is not var (filled, places)) return false;
        var section = Here(below.Number);
        var begin = section.Bars.Count;
        ReadGrid(filled, below.Number);
        // What is read stands in the line above; a bar as a whole stands nowhere.
        for (var i = begin; i < section.Bars.Count; i++)
            section.Bars[i] = section.Bars[i] with
            {
                Span = null,
                Slots = [.. section.Bars[i].Slots.Select(s => places.TryGetValue(s.Column, out var place) && s.Length > 0
                    ? s with { Line = number, Column = place.Column, Length = place.Length }
                    : s with { Length = 0 })],
            };
        return true;
    }

    /// <summary>Bars of strokes with the chords above them in their places, and where each of those stands in its own line; null
    /// where the lines are no such pair. Beats that are counted are such bars, each from its one on.</summary>
    private (string Bars, Dictionary<int, (int Column, int Length)> Places)? Filled(string chords, string below)
    {
        if (!AreBeats(below) || ChordsOf(chords) is not { Count: > 0 } above
            || !above.TrueForAll(p => IsChord(p.Text)))
            return null;
        var strokes = Enumerable.Range(0, below.Length).Where(i => below[i] == '/' || char.IsAsciiDigit(below[i])).ToList();
        if (Under(above, strokes, below) is not { } stands) return null;
        var (filled, places, from) = (new StringBuilder(), new Dictionary<int, (int Column, int Length)>(), 0);
        foreach (var ((text, column), at) in above.Zip(stands))
        {
            filled.Append(Parted(below[from..at])).Append(below[at] == '1' ? " | " : " ");
            places[filled.Length + 1] = (column, text.Length);
            filled.Append(text).Append(' ');
            from = at + 1;
        }
        return (filled.Append(Parted(below[from..])).ToString(), places);
    }

    /// <summary>Chords in square or curly brackets and nothing else.</summary>
    [GeneratedRegex(@"^\s*(?:[\[{][^\[\]{}|:]{1,24}[\]}]\s*)+$", RegexOptions.NonBacktracking)]
    private static partial Regex AreInBrackets();

    /// <summary>A row of chords in such brackets above a line of words, without the brackets, each chord in its place: the
    /// bracket stands above the syllable. Null for any other line.</summary>
    private string? RowInBrackets(string line, string below) =>
        line.AsSpan().TrimStart() is ['[' or '{', ..] && AreInBrackets().IsMatch(line)
            && OtherBrackets().Matches(line).All(m => IsChord(m.Groups["inside"].Value.Trim())) && IsLyrics(below)
                ? OtherBrackets().Replace(line, " ${inside} ")
                : null;

    /// <summary>A text with such rows without their brackets, to be changed bar by bar; the same text where there are
    /// none.</summary>
    internal static string RowsInPlain(string text)
    {
        var lines = text.Split('\n');
        ChartTextRun? run = null;
        for (var i = 0; i + 1 < lines.Length; i++)
        {
            if (!lines[i].AsSpan().ContainsAny('[', '{')
                || lines[i].Length > ChartLimits.LongestLine || lines[i + 1].Length > ChartLimits.LongestLine
                || LineTidy.Of(lines[i]) is var line && !AreInBrackets().IsMatch(line))
                continue;
            run ??= new() { Naming = ChartReader.Read(text).Naming };
            if (run.RowInBrackets(line, LineTidy.Of(lines[i + 1])) is not null)
                lines[i] = OtherBrackets().Replace(lines[i], "${inside}  ").TrimEnd();
        }
        return run is null ? text : string.Join('\n', lines);
    }

    /// <summary>A text with chords above bars of strokes written into the bars, to be changed bar by bar; the same text where
    /// there are none.</summary>
    internal static string ChordsInBars(string text)
    {
        var lines = text.Split('\n').ToList();
        bool IsOne(string line) =>
            line.Length <= ChartLimits.LongestLine && AreBeats(LineTidy.Of(line));
        if (!lines.Exists(IsOne)) return text;
        var run = new ChartTextRun { Naming = ChartReader.Read(text).Naming };
        for (var i = lines.Count - 2; i >= 0; i--)
            if (IsOne(lines[i + 1]) && lines[i].Length <= ChartLimits.LongestLine && LineTidy.Of(lines[i]) is var chords
                && run.IsChordLine(chords) && run.Filled(chords, LineTidy.Of(lines[i + 1])) is var (bars, _))
            {
                lines[i + 1] = ManyBlanks().Replace(bars, " ");
                lines.RemoveAt(i);
            }
        return string.Join('\n', lines);
    }

    [GeneratedRegex(" {2,}")]
    private static partial Regex ManyBlanks();

    /// <summary>The stroke each chord stands over: the one right below it; else the first of its bar, where there are as many
    /// chords as bars; else the nearest behind the one before. Null where they do not suffice.</summary>
    private static List<int>? Under(List<(string Text, int Column)> chords, List<int> strokes, string line)
    {
        if (chords.TrueForAll(c => strokes.Contains(c.Column - 1))) return chords.ConvertAll(c => c.Column - 1);
        var firsts = strokes.FindAll(s => s == strokes[0] || line[..s].TrimEnd(' ', ':').EndsWith('|'));
        if (firsts.Count == chords.Count) return firsts;
        var (stands, next) = (new List<int>(), 0);
        foreach (var (_, column) in chords)
        {
            if (next >= strokes.Count) return null;
            stands.Add(strokes.Skip(next).MinBy(s => Math.Abs(s - (column - 1))));
            next = strokes.IndexOf(stands[^1]) + 1;
        }
        return stands;
    }

    private static bool AreBeats(string line) => AreStrokes(line) || AreCounted(line);

    /// <summary>Bars of nothing but strokes, and perhaps how often they are played.</summary>
    private static bool AreStrokes(string line)
    {
        var bars = line.AsSpan(0, HeadingLine.CountAt(line) is { At: > 0 and var at } ? at : line.Length);
        return bars.ContainsAny("|") && bars.ContainsAny("/") && !bars.ContainsAnyExcept(" |:/");
    }

    /// <summary>Beats counted from one as often as there are bars, two bars or more, all of as many beats: <c>1 2 3 4 1 2 3
    /// 4</c>, with or without what is said between them.</summary>
    internal static bool AreCounted(string line)
    {
        if (line.AsSpan().ContainsAnyExcept(" 123456789&+") || !line.Contains('1')) return false;
        var beats = line.Where(char.IsAsciiDigit).Select(c => c - '0').ToList();
        var bar = beats.Max();
        return bar > 1 && beats.Count >= 2 * bar && beats.Count % bar == 0
            && beats.Select((beat, i) => beat == i % bar + 1).All(isNext => isNext);
    }

    /// <summary>Strokes with a blank on both sides; beats that are counted are strokes, and each one begins a bar.</summary>
    private static string Parted(string strokes) => string.Concat(strokes.Select(c => c switch
    {
        '/' => " / ",
        '1' => " | / ",
        >= '2' and <= '9' => " / ",
        '&' or '+' => " ",
        _ => c.ToString(),
    }));

    /// <summary>Takes the words between bar lines below bars without words, bar by bar.</summary>
    /// <param name="line">The line of bars, which was just read.</param>
    /// <param name="below">The line below it.</param>
    /// <param name="section">Where its bars are.</param>
    /// <param name="from">The first of them there.</param>
    /// <returns>False when the line below holds no such words.</returns>
    private bool TryWordsInBars(string line, string below, OpenSection section, int from)
    {
        if (!below.Contains('|') || below.Length > ChartLimits.LongestLine || below.Contains('[') || section.Bars.Count <= from)
            return false;
        if (IsCounting(below)) return true;
        var (bars, sung) = (CellsOf(line).Length, CellsOf(below));
        if (sung.Length < 2 || Math.Abs(sung.Length - bars) > MostBarsApart || !LinePatterns.SmallLetters().IsMatch(below)
            || sung.Count(c => AreChords(c) || c.AsSpan().ContainsAny("%/")) is var odd && 2 * odd >= sung.Length
            || PageDebris.Of(below, _ => false) != Debris.Page)
            return false;
        for (var i = 0; i < sung.Length; i++)
        {
            var at = Math.Min(from + i, section.Bars.Count - 1);
            var (bar, words) = (section.Bars[at], sung[i].Trim());
            if (words.Length > 0)
                section.Bars[at] = bar with
                {
                    Slots = [bar.Slots[0] with { Lyric = $"{bar.Slots[0].Lyric} {words}".Trim() }, .. bar.Slots.Skip(1)],
                };
        }
        return true;
    }

    // What stands further out than this, against the line of bars, was not set below them sign by sign.
    private const double MostOverhang = 1.25;

    /// <summary>True for words that are set below the bars they are sung to.</summary>
    internal static bool IsSetBelow(string line, string below) => below.TrimEnd().Length <= line.TrimEnd().Length * MostOverhang;

    /// <summary>Takes the words below a line of bars without words, each with the chord it begins under; words that are much
    /// longer than the bars are spread over them.</summary>
    /// <param name="line">The line of bars, which was just read.</param>
    /// <param name="number">Its number.</param>
    /// <param name="below">The line below it.</param>
    /// <param name="section">Where its bars are.</param>
    /// <param name="from">The first of them there.</param>
    /// <returns>False when the line below holds no words, or the section has those of each line above it.</returns>
    private bool TryWordsBelow(string line, int number, string below, OpenSection section, int from)
    {
        if (section.Bars.Count <= from || section.Like is not null) return false;
        var lead = section.Bars[from].Lead;
        if (lead.Length > 0 && lead[0] != '(') section.HasWordsAbove ??= true;
        if (section.HasWordsAbove == true || !IsLyrics(below)) return false;
        var (places, before) = (new List<(int Column, int Bar, int Slot)>(), 0);
        for (var b = from; b < section.Bars.Count; b++)
        {
            var bar = section.Bars[b];
            if (bar.Slots.Any(s => s.Lyric.Length > 0)) return false;
            // What is repeated stands there once.
            if (bar.Span is not { } span || span.Line != number || span.Column <= before) break;
            before = span.Column;
            // Words are set below the bar line as well as below the chord.
            places.Add((line.LastIndexOf('|', Math.Min(span.Column, line.Length) - 1) + 1, b, 0));
            for (var s = 1; s < bar.Slots.Count; s++)
                if (bar.Slots[s] is { Length: > 0 } slot && slot.Line == number && slot.Column > places[^1].Column)
                    places.Add((slot.Column, b, s));
        }
        if (places.Count == 0) return false;
        section.HasWordsAbove = false;
        var (start, end, width) = (below.Length - below.TrimStart().Length, below.TrimEnd().Length, line.TrimEnd().Length);
        var first = places[0].Column - 1;
        var narrower = IsSetBelow(line, below) ? 1 : (double)(width - first) / (end - start);
        foreach (var sung in LinePatterns.WordsOf(below).GroupBy(w => Above(w.Offset)))
        {
            var (bar, words) = (section.Bars[sung.Key.Bar], string.Join(' ', sung.Select(w => w.Text)));
            // A blank parts them from those of the chord behind it in its bar.
            if (sung.Key.Slot < bar.Slots.Count - 1) words += " ";
            section.Bars[sung.Key.Bar] = bar with
            {
                Slots = [.. bar.Slots.Select((s, i) => i == sung.Key.Slot ? s with { Lyric = words } : s)],
            };
        }
        return true;

        (int Bar, int Slot) Above(int word)
        {
            var column = narrower < 1 ? first + (word - start) * narrower : word;
            var place = places[Math.Max(0, places.FindLastIndex(p => p.Column - 1 <= column))];
            return (place.Bar, place.Slot);
        }
    }

    /// <summary>True for bars that only count their beats: | 1 &amp; 2 &amp; 3 &amp; 4 &amp; |.</summary>
    private static bool IsCounting(string line) =>
        !line.AsSpan().ContainsAnyExcept(" |123456789&+eanduh") && line.AsSpan().ContainsAny("12")
            && CellsOf(line).All(c => c.Trim() is ['1', ' ', ..]);

    /// <summary>Words with strokes where a bar begins, without the strokes; empty where they are bars.</summary>
    private string WithoutBarLines(string line) =>
        line.Contains('|') && !line.AsSpan().ContainsAny('[', ':') && PageDebris.Of(line, _ => false) == Debris.Page
            && !line.Split('|').Any(AreChords)
                ? line.Replace('|', ' ')
                : "";

    /// <summary>True for a bar of chords, also of such that come early, with what is remarked of it.</summary>
    private bool AreChords(string cell) =>
        IsChordLine(cell) || cell.AsSpan().ContainsAny('<', '(')
            && IsChordLine(Remarked().Replace(cell, " ").Replace("<", "", StringComparison.Ordinal));

    [GeneratedRegex(@"\([^()]{0,80}\)", RegexOptions.NonBacktracking)]
    private static partial Regex Remarked();

    private static string[] CellsOf(string line) => line.Trim().Trim('|', ':').Split('|');
}
