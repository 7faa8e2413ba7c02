using Tembri.Core.Charts.Reading;

namespace Tembri.Core.Charts.Editing;

/// <summary>The lines of a chart's text while a bar of it is changed.</summary>
/// <param name="text">The text, with line feeds.</param>
/// <param name="naming">By which names it calls its chords.</param>
internal sealed class ChartLines(string text, ChartNaming naming)
{
    private readonly List<string> _lines = [.. text.Split('\n')];

    /// <summary>How many there are.</summary>
    public int Count => _lines.Count;

    /// <summary>A line, from 0.</summary>
    public string this[int at]
    {
        get => _lines[at];
        set => _lines[at] = value;
    }

    /// <summary>The line a bar stands in.</summary>
    public string LineOf(BarSpan place) => _lines[place.Line - 1];

    /// <summary>Puts another line in the place of the one a bar stands in.</summary>
    public void SetLineOf(BarSpan place, string line) => _lines[place.Line - 1] = line;

    /// <summary>The text as it is now.</summary>
    public string Whole => string.Join('\n', _lines);

    /// <summary>A bar as it is written.</summary>
    public string Written(BarSpan place) => LineOf(place).Substring(place.Column - 1, place.Length);

    /// <summary>Writes something else where a bar stands.</summary>
    public void Replace(BarSpan place, string written) =>
        SetLineOf(place, LineOf(place).Remove(place.Column - 1, place.Length).Insert(place.Column - 1, written));

    /// <summary>Writes something else where a bar stands above words. What stands behind it keeps its place as far as there is
    /// space; where there is none, the words below move along.</summary>
    public void ReplaceInPlace(BarSpan place, string written)
    {
        var begin = BarsAt(LineOf(place));
        // Words that nobody set below their chords need not go along.
        var wasSpread = place.Notation == BarNotation.Over && place.Line < Count
            && ChartTextRun.AreSpread(new string(' ', begin) + LineOf(place)[begin..], this[place.Line], begin > 0);
        Replace(place, written);
        var line = LineOf(place);
        var (end, more) = (place.Column - 1 + written.Length, written.Length - place.Length);
        if (end >= line.Length) return;
        if (more < 0)
        {
            SetLineOf(place, line.Insert(end, new string(' ', -more)));
            return;
        }
        // Signs of a page's source stand there too, and stay.
        var space = LineTidy.Of(line).Skip(end).TakeWhile(c => c == ' ').Count();
        var blanks = Enumerable.Range(end, Math.Min(space, line.Length - end)).Where(i => line[i] == ' ').ToList();
        var taken = Math.Clamp(Math.Min(space - 1, blanks.Count), 0, more);
        SetLineOf(place, string.Concat(line.Where((_, i) => !blanks.TakeLast(taken).Contains(i))));
        var pushed = more - taken;
        if (pushed == 0 || !HasWordsBelow(place) || wasSpread) return;
        var at = place.Column - 1 + place.Length + space;
        this[place.Line] = place.Notation == BarNotation.Grid
            ? PushedBelowBars(this[place.Line], at, pushed)
            : PushedBelowChords(this[place.Line], place.Column - 1, at, pushed, mayPart: true);
    }

    /// <summary>Words below bars with blanks before those that begin at a place or behind it: a word belongs to the bar it
    /// begins under.</summary>
    /// <param name="words">The line.</param>
    /// <param name="at">The place, from 0.</param>
    /// <param name="by">How many blanks.</param>
    public static string PushedBelowBars(string words, int at, int by)
    {
        while (at > 0 && at < words.Length && words[at - 1] != ' ') at++;
        return Pushed(words, at, by);
    }

    /// <summary>Words below chords with blanks before the word under a chord that has moved, which goes along as a
    /// whole.</summary>
    /// <param name="words">The line.</param>
    /// <param name="from">Where the chord before it stands, from 0. A word that it stands above as well does not move.</param>
    /// <param name="at">Where the chord stood.</param>
    /// <param name="by">How many blanks.</param>
    /// <param name="mayPart">True to part such a word before the chord's syllable; else it is left.</param>
    public static string PushedBelowChords(string words, int from, int at, int by, bool mayPart)
    {
        var begin = Math.Min(at, words.Length);
        while (begin > 0 && words[begin - 1] != ' ' && (at >= words.Length || words[at] != ' ')) begin--;
        return begin > from ? Pushed(words, begin, by) : mayPart ? Pushed(words, at, by) : words;
    }

    private static string Pushed(string words, int at, int by) => words.PadRight(at).Insert(at, new string(' ', by)).TrimEnd();

    public void Insert(int at, string line) => _lines.Insert(at, line);

    public void InsertRange(int at, IEnumerable<string> lines) => _lines.InsertRange(at, lines);

    public void RemoveAt(int at) => _lines.RemoveAt(at);

    /// <summary>The places of the bars in a line, from left to right.</summary>
    public static List<BarSpan> InLine(Section section, BarSpan place) =>
        [.. section.Bars.Select(b => b.Span).OfType<BarSpan>().Where(p => p.Line == place.Line).Distinct()
            .OrderBy(p => p.Column)];

    /// <summary>True when a line of words stands right below the line of a bar.</summary>
    public bool HasWordsBelow(BarSpan place) => place.Line < Count && ChartTextRun.IsLyricLine(_lines[place.Line], naming);

    /// <summary>Where in a line the bars begin, behind a section's name in front of them; 0 where there is none.</summary>
    public int BarsAt(string line) => ChartTextRun.BarsAt(line, naming, _lines.Exists(ChartTextRun.NamesVerse));

    /// <summary>Index of the line with the tune of a line of bars; −1 when it has none.</summary>
    public int TuneOf(BarSpan place)
    {
        var at = place.Line + (BarWriting.Of(place.Notation).StandsOverWords && HasWordsBelow(place) ? 1 : 0);
        return at < Count && _lines[at].TrimStart().StartsWith(MelodyLine.Mark) ? at : -1;
    }

    /// <summary>The bars of a line of tune.</summary>
    public static List<string> TuneCells(string line) =>
        [.. line[(line.IndexOf(MelodyLine.Mark, StringComparison.Ordinal) + 1)..].Split('|',
            StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)];

    /// <summary>Changes how many bars the tune of a line has.</summary>
    public void ChangeTune(BarSpan place, Action<List<string>> change)
    {
        if (TuneOf(place) is not (>= 0 and var at)) return;
        var cells = TuneCells(_lines[at]);
        var before = cells.Count;
        change(cells);
        if (cells.Count != before) _lines[at] = $"{MelodyLine.Mark} | {string.Join(" | ", cells)} |";
    }
}
