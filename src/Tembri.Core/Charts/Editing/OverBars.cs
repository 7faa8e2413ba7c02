using Tembri.Core.Charts.Reading;
using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Editing;

/// <summary>A chord on a line above the words, a bar a chord.</summary>
internal sealed partial class OverBars : BarWriting
{
    public static readonly OverBars Instance = new();

    public override bool StandsOverWords => true;

    /// <summary>A chord with its beats or bars behind it: <c>C(2)</c>, <c>C-2</c>, <c>C (2 beats)</c>, <c>C (2 bars)</c>.
    /// F(4) is one where others of the line have numbers too; alone it is a chord.</summary>
    [GeneratedRegex(@"(?<![^\s()])(?<chord>[A-H][^\s()]{0,23})(?:\s{1,8}\(\s*(?<count>[0-9]{1,2})(?:\s*(?:beats?|(?<bars>bars?)))?\s*\)|\((?<count>[0-9]{1,2})\)|-(?<count>[1-4]|8|12|16)(?=$|[\s,;]))",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex HasBeats();

    /// <summary>A chord without the beats that stand close behind it.</summary>
    public static string WithoutBeats(string written) =>
        HasBeats().Match(written) is { Success: true, Index: 0 } m && m.Length == written.Length ? m.Groups["chord"].Value : written;

    /// <summary>One chord, where nothing but blanks stands between the chords of the line: it can be changed where it
    /// stands.</summary>
    public override bool Holds(ChartLines lines, Section section, BarSpan place, string content)
    {
        if (!IsOneChord(content) || HasBeats().IsMatch(place.Content)) return false;
        var (places, line) = (ChartLines.InLine(section, place), LineTidy.Of(lines.LineOf(place)));
        bool IsBlank(int from, int to) => line[from..to].Trim().Length == 0;
        // What stands over another bass goes on from the chord before it.
        return places.TrueForAll(p => !p.Content.Contains(' ', StringComparison.Ordinal) && lines.Written(p) is not ['/', _, ..])
            && places.Zip(places.Skip(1))
                .All(p => p.Second.Column > p.First.Column + p.First.Length
                    && IsBlank(p.First.Column - 1 + p.First.Length, p.Second.Column - 1))
            && IsBlank(lines.BarsAt(line), places[0].Column - 1);
    }

    /// <summary>The chords after it stand where they stood: what it is longer or shorter is taken from the space behind
    /// it.</summary>
    public override void Write(ChartLines lines, BarSpan place, IReadOnlyList<string> bars) =>
        lines.ReplaceInPlace(place, bars[0]);

    /// <summary>The words below would lose their chord.</summary>
    public override (int From, int To)? Extent(string line, BarSpan place, bool isLast) => null;

    public override void WriteWithBarLines(ChartLines lines, Section section, BarSpan place)
    {
        var places = ChartLines.InLine(section, place);
        var line = lines.LineOf(place).Replace('\t', ' ');
        var (name, count) = Around(lines, line, places);
        // Words in front of the chords would be lost.
        if (line[name.Length..(places[0].Column - 1)].Trim(' ', '(', '|').Length > 0) return;
        var hasWords = lines.HasWordsBelow(place);
        var words = hasWords ? lines[place.Line].Replace('\t', ' ') : "";
        // Chords of one bar that share it by numbers cannot stand among words.
        if (hasWords && places.Exists(p => HasBeats().IsMatch(p.Content))) return;
        // Words that nobody set below their chords are sung as they were read.
        var isSpread = hasWords
            && ChartTextRun.AreSpread(new string(' ', name.Length) + line[name.Length..], words, name.Length > 0);
        string Under(int from, int to) => words[Math.Min(from, words.Length)..Math.Min(to, words.Length)];
        string Bar(BarSpan p, int i)
        {
            if (!hasWords) return $" {InDots(p)}{Said(p)} |";
            if (isSpread) return $" [{p.Content}]{string.Concat(section.Bars.First(b => b.Span == p).Slots.Select(s => s.Lyric)).TrimEnd()} |";
            var lead = i == 0 && Under(0, p.Column - 1).Trim() is { Length: > 0 } upbeat ? upbeat + " " : "";
            return $" {lead}[{p.Content}]{Under(p.Column - 1, i + 1 < places.Count ? places[i + 1].Column - 1 : int.MaxValue).TrimEnd()} "
                + "|";
        }
        // A count within the line stands between bar lines from now on.
        var counts = HeadingLine.CountedParts(line)?.SkipLast(1)
            .Select(p => (p.To, Said: line[p.From..p.To].TrimEnd(' ', ',', ';')))
            .Select(p => (p.To, HeadingLine.CountAt(p.Said)?.Times)).ToList() ?? [];
        string Counted(int i) => string.Concat(counts
            .Where(c => c.To >= places[i].Column && (i + 1 == places.Count || c.To < places[i + 1].Column)).Select(c => $" x{c.Times} |"));
        lines.SetLineOf(place, $"{name}|{string.Concat(places.Select((p, i) => Bar(p, i) + Counted(i)))}{count}");
        if (hasWords) lines.RemoveAt(place.Line);

        // Chords last as long as the numbers behind them said; a chord of several bars is written once, then as before.
        string InDots(BarSpan span)
        {
            var beats = section.Bars.First(b => b.Span == span).Meter.Beats;
            return HasBeats().Replace(span.Content, m =>
            {
                var count = int.Parse(m.Groups["count"].ValueSpan, CultureInfo.InvariantCulture);
                if (m.Groups["bars"].Success) count *= beats;
                var chord = m.Groups["chord"].Value;
                return count > beats ? chord + string.Concat(Enumerable.Repeat(" | %", (count / beats) - 1))
                    : count == beats || count == 0 ? chord
                    : chord + string.Concat(Enumerable.Repeat(" .", count - 1));
            });
        }

        string Said(BarSpan span) =>
            span.Content.Contains('(', StringComparison.Ordinal)
                ? ""
                : string.Concat(section.Bars.First(b => b.Span == span).Remarks.Select(r => $" ({r})"));
    }
}
