using System.Globalization;
using System.Text;
using Tembri.Core.Charts;
using Tembri.Core.Music;

namespace Tembri.Formats;

/// <summary>Writes charts as words: chords in square brackets inside them, or on a line above.</summary>
internal static class TextWriters
{
    /// <summary>Words with chords in square brackets and header lines in curly brackets.</summary>
    public static string Brackets(Chart chart) => Write(chart, "{", "}", Bracketed);

    /// <summary>Chords on a line above the words.</summary>
    public static string OverLyrics(Chart chart) => Write(chart, "", "", Over);

    private static string Write(Chart chart, string open, string close, Func<IReadOnlyList<Bar>, Meter, string> writeLine)
    {
        var text = new StringBuilder();
        // The header and the order of the song are those of chart text, so that nothing of them is lost.
        foreach (var line in ChartWriter.Header(chart))
            text.Append(line.StartsWith('{') ? line : open + line + close).Append('\n');
        foreach (var section in chart.Sections)
        {
            text.Append('\n').Append(ChartWriter.Heading(section.Name));
            if (section.Strum.Length > 0) text.Append("strum: ").Append(section.Strum).Append('\n');
            foreach (var figure in section.Figures) text.Append(FigureText.Write(figure, section.Bars)).Append('\n');
            foreach (var line in section.Lines(int.MaxValue)) text.Append(writeLine(line, chart.Meter));
        }
        return text.ToString();
    }

    private static string Bracketed(IReadOnlyList<Bar> line, Meter meter)
    {
        // One chord a bar needs no bar lines; anything else does, or its lengths would be lost; a chord alone would be a name.
        var isAlone = line is [{ Slots: [var only], Lead: "" }] && only.Lyric.Trim().Length == 0;
        if (isAlone || !line.All(b => b.Meter == meter && b.Slots.Count == 1 && !b.Slots[0].IsEarly && b.Remarks.Count == 0
            && b.Melody.Count == 0 && Math.Abs(b.Beats - meter.Beats) < 1e-6))
            return ChartWriter.Line(line, meter, words: true);
        var text = string.Concat(line.Select(b => (b.Lead.Length > 0 ? b.Lead + " " : "")
                + $"[{b.Slots[0].Symbol}]{b.Slots[0].Lyric}{(b.Slots[0].Lyric.EndsWith(' ') ? "" : " ")}")).TrimEnd();
        return text + "\n";
    }

    private static string Over(IReadOnlyList<Bar> line, Meter meter)
    {
        var (chords, words) = (new StringBuilder(), new StringBuilder());
        foreach (var bar in line)
        {
            if (bar.Lead.Length > 0) Pad(words.Append(bar.Lead).Append(' '), chords);
            foreach (var (slot, i) in bar.Slots.Select((s, i) => (s, i)))
            {
                var at = Math.Max(chords.Length, words.Length);
                // A word that goes on under the next chord is not torn apart: a hyphen fills the room the chord takes.
                if (at > words.Length && words.Length > 0 && !char.IsWhiteSpace(words[^1])) words.Append('-', at - words.Length);
                chords.Append(' ', at - chords.Length).Append(slot.Symbol).Append(' ');
                if (slot.Lyric.Trim().Length == 0) continue;
                words.Append(' ', at - words.Length).Append(slot.Lyric.Trim());
                if (i + 1 == bar.Slots.Count || char.IsWhiteSpace(slot.Lyric[^1])) words.Append(' ');
            }
        }
        var text = chords.ToString().TrimEnd() + "\n";
        return words.Length > 0 ? text + words.ToString().TrimEnd() + "\n" : text;
    }

    private static void Pad(StringBuilder longer, StringBuilder shorter)
    {
        if (shorter.Length < longer.Length) shorter.Append(' ', longer.Length - shorter.Length);
    }
}
