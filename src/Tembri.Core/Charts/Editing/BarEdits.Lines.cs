namespace Tembri.Core.Charts.Editing;

// How the lines of a chart's text are taken apart and put together again around a bar.
public static partial class BarEdits
{
    private static string Whole(List<string> lines) => string.Join('\n', lines);

    private static string Written(List<string> lines, BarSpan place) => lines[place.Line - 1].Substring(place.Column - 1, place.Length);

    private static void Replace(List<string> lines, BarSpan place, string written) => lines[place.Line - 1] = lines[place.Line - 1].Remove(place.Column - 1, place.Length).Insert(place.Column - 1, written);

    private static List<BarSpan> InLine(Section section, BarSpan place) => [.. section.Bars.Select(b => b.Span).OfType<BarSpan>().Where(p => p.Line == place.Line).Distinct().OrderBy(p => p.Column)];

    private static int IndexInLine(Section section, BarSpan place) => InLine(section, place).IndexOf(place);

    /// <summary>Chords on a line above words stand where they stood: what one is longer or shorter is taken from the space after it.</summary>
    private static void KeepAligned(List<string> lines, BarSpan place, string content)
    {
        var line = lines[place.Line - 1];
        var (end, more) = (place.Column - 1 + content.Length, content.Length - place.Length);
        if (end >= line.Length) return;
        if (more < 0) { lines[place.Line - 1] = line.Insert(end, new string(' ', -more)); return; }
        var spaces = line.Skip(end).TakeWhile(c => c == ' ').Count();
        var taken = Math.Clamp(spaces - 1, 0, more);
        lines[place.Line - 1] = line.Remove(end, taken);
        // No room left: the words below move along with the chords above them.
        var pushed = more - taken;
        if (pushed == 0 || place.Line >= lines.Count || !ChartTextRun.IsLyricLine(lines[place.Line])) return;
        var words = lines[place.Line].PadRight(place.Column - 1 + place.Length + spaces);
        lines[place.Line] = words.Insert(place.Column - 1 + place.Length + spaces, new string(' ', pushed)).TrimEnd();
    }

    /// <summary>A bar's chords with the words of another: each word stays with the chord of its number, the rest with the last one.</summary>
    private static string WithWords(string content, string written)
    {
        var before = BeforeWords().Match(written).Length;
        var words = Bracketed().Split(written[before..]);
        var head = BeforeWords().Match(content + " ");
        var chords = new List<string>();
        foreach (var token in content[Math.Min(content.Length, head.Length)..].Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(t => t[0] != '('))
            if (token is "." or "-" or "·" && chords.Count > 0) chords[^1] += " .";
            else chords.Add(token);
        var remarks = string.Concat(Pieces().Matches(content[Math.Min(content.Length, head.Length)..]).Where(m => m.Value[0] == '(').Select(m => m.Value + " "));
        var lead = string.Concat(head.Value.Trim() is { Length: > 0 } h ? h + " " : "", remarks, words[0]);
        return (lead + string.Concat(chords.Select((chord, i) =>
            $"[{chord}]" + (i == chords.Count - 1 ? string.Concat(words.Skip(i + 1)) : i + 1 < words.Length ? words[i + 1] : "")))).Trim();
    }

    private static string Append(List<string> lines, Section section, string content)
    {
        var place = section.Bars[^1].Span!;
        var line = lines[place.Line - 1].TrimEnd();
        var written = content == "%" && place.Notation != BarNotation.Grid ? Resolved(section, section.Bars.Count - 1) : content;
        if (place.Notation is BarNotation.Grid or BarNotation.Words && InLine(section, place).Count < FullLine && line.EndsWith('|') && !line.TrimEnd('|').TrimEnd().EndsWith(':'))
        {
            lines[place.Line - 1] = $"{line} {(place.Notation == BarNotation.Words ? WithWords(written, "") : written)} |";
            return Whole(lines);
        }
        var after = place.Line;
        if (place.Notation == BarNotation.Over && after < lines.Count && ChartTextRun.IsLyricLine(lines[after])) after++;
        if (TuneLine(lines, place) is >= 0 and var tune) after = tune + 1;
        lines.Insert(after, $"| {written} |");
        return Whole(lines);
    }

    /// <summary>True for a chord with nothing but blanks, and a name of the section or a count, around it in its line: it can be changed where it stands.</summary>
    private static bool StandsAlone(List<string> lines, Section section, BarSpan place)
    {
        if (place.Notation == BarNotation.Bracket) return Written(lines, place).StartsWith('[');
        var (places, line) = (InLine(section, place), lines[place.Line - 1]);
        return places.TrueForAll(p => !p.Content.Contains(' ')) && places.Zip(places.Skip(1)).All(p => p.Second.Column > p.First.Column + p.First.Length && line[(p.First.Column - 1 + p.First.Length)..(p.Second.Column - 1)].Trim().Length == 0)
            && line[ChartTextRun.BarsAt(line)..(places[0].Column - 1)].Trim().Length == 0;
    }

    /// <summary>Writes a line whose chords have a bar each with bar lines, so that a bar can hold more than a chord. A name in front and a count behind stay.</summary>
    private static List<string> WithBarLines(List<string> lines, Section section, BarSpan place)
    {
        var places = InLine(section, place);
        var line = lines[place.Line - 1].Replace('\t', ' ');
        var name = line[..ChartTextRun.BarsAt(line)];
        var count = HeadingLine.CountAt(line) is { At: var at, Times: > 1 } && at >= places[^1].Column ? line[at..] : "";
        if (place.Notation == BarNotation.Bracket)
        {
            var lead = line[name.Length..(places[0].Column - 1)].Trim();
            lines[place.Line - 1] = $"{name}| {(lead.Length > 0 ? lead + " " : "")}{string.Join(" | ", places.Select(p => Squared(line.Substring(p.Column - 1, p.Length).Trim())))} |{count}";
            return lines;
        }
        var hasWords = place.Line < lines.Count && ChartTextRun.IsLyricLine(lines[place.Line]);
        var words = hasWords ? lines[place.Line].Replace('\t', ' ') : "";
        string Under(int from, int to) => words[Math.Min(from, words.Length)..Math.Min(to, words.Length)];
        lines[place.Line - 1] = name + "|" + string.Concat(places.Select((p, i) => hasWords
            ? $" {(i == 0 && Under(0, p.Column - 1).Trim() is { Length: > 0 } lead ? lead + " " : "")}[{p.Content}]{Under(p.Column - 1, i + 1 < places.Count ? places[i + 1].Column - 1 : int.MaxValue).TrimEnd()} |"
            : $" {p.Content}{Said(p)} |")) + count;
        if (hasWords) lines.RemoveAt(place.Line);
        return lines;

        string Said(BarSpan span) => span.Content.Contains('(') ? "" : string.Concat(section.Bars.First(b => b.Span == span).Remarks.Select(r => $" ({r})"));

        static string Squared(string written) => written.StartsWith('(') && written.IndexOf(')') is > 0 and var close ? $"[{written[1..close]}]{written[(close + 1)..]}" : written;
    }

    /// <summary>Index of the line with the tune of a line of bars; −1 when it has none.</summary>
    private static int TuneLine(List<string> lines, BarSpan place)
    {
        var at = place.Line;
        if (place.Notation == BarNotation.Over && at < lines.Count && ChartTextRun.IsLyricLine(lines[at])) at++;
        return at < lines.Count && lines[at].TrimStart().StartsWith(MelodyLine.Mark) ? at : -1;
    }

    private static List<string> TuneCells(string line) => [.. line[(line.IndexOf(MelodyLine.Mark, StringComparison.Ordinal) + 1)..].Split('|', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)];

    private static void Tune(List<string> lines, Section section, BarSpan place, Action<List<string>> change)
    {
        if (TuneLine(lines, place) is not (>= 0 and var at)) return;
        var cells = TuneCells(lines[at]);
        var before = cells.Count;
        change(cells);
        if (cells.Count != before) lines[at] = $"{MelodyLine.Mark} | {string.Join(" | ", cells)} |";
    }
}
