using System.Globalization;
using System.Text;

namespace Tembri.Core.Charts;

/// <summary>Writes a chart as text that <see cref="ChartReader"/> reads back to the same chart.</summary>
public static class ChartWriter
{
    /// <summary>Writes header lines, sections and bars; bars with words carry their chords in square brackets.</summary>
    public static string Write(Chart chart)
    {
        var text = new StringBuilder();
        void Header(string name, string value) => text.Append(name).Append(": ").Append(value).Append('\n');
        if (chart.Title.Length > 0) Header("title", chart.Title);
        Header("key", chart.Key.ToString());
        Header("tempo", chart.Tempo.ToString(CultureInfo.InvariantCulture));
        Header("meter", chart.Meter.ToString());
        if (chart.TuningShift != 0) Header("tuning", chart.TuningShift.ToString(CultureInfo.InvariantCulture));
        if (chart.RecordCapo != 0) Header("record capo", chart.RecordCapo.ToString(CultureInfo.InvariantCulture));
        if (chart.Singer is { } singer) Header("voice", singer.ToString());
        if (chart.MelodyGiven is { } melody) Header("melody", melody.ToString());
        if (chart.VoiceShift != 0) Header("voice", chart.VoiceShift.ToString(CultureInfo.InvariantCulture));
        foreach (var take in chart.Takes) Header("take", Write(take));
        foreach (var (name, value) in chart.Extra) text.Append('{').Append(name).Append(": ").Append(value).Append("}\n");
        Header("form", string.Join(", ", chart.Form.Select(p => p.Times > 1 ? $"{p.Section} x{p.Times}" : p.Section)));
        foreach (var section in chart.Sections)
        {
            text.Append("\n[").Append(section.Name).Append(section.Like is { } like ? $": as {like}" : "").Append("]\n");
            if (section.Strum.Length > 0 && section.Strum != chart.SectionNamed(section.Like ?? "")?.Strum) Header("strum", section.Strum);
            if (section.Like is null)
            {
                foreach (var line in section.Lines(int.MaxValue)) WriteLine(text, "", line, chart.Meter);
                continue;
            }
            foreach (var words in section.Words) text.Append(words).Append('\n');
            foreach (var number in section.OwnBars) WriteLine(text, number.ToString(CultureInfo.InvariantCulture) + ": ", [section.Bars[number - 1]], chart.Meter);
        }
        return text.ToString();
    }

    private static void WriteLine(StringBuilder text, string label, IReadOnlyList<Bar> line, Meter usual)
    {
        // One bar with words makes the whole line carry its chords in brackets.
        var words = line.Any(b => b.Lead.Length > 0 || b.Slots.Any(s => s.Lyric.Length > 0));
        text.Append(label).Append('|');
        foreach (var bar in line) text.Append(' ').Append(WriteBar(bar, usual, words)).Append(" |");
        text.Append('\n');
        if (line.All(b => b.Melody.Count == 0)) return;
        text.Append(MelodyLine.Mark).Append(" |");
        foreach (var bar in line) text.Append(' ').Append(MelodyLine.Write(bar.Melody, bar.Beats)).Append(" |");
        text.Append('\n');
    }

    private static string Write(Take take) => string.Create(CultureInfo.InvariantCulture,
        $"{take.Name}, capo {take.Capo}, tuning {take.Tuning}{(take.Tempo is { } tempo ? $", tempo {tempo}" : "")}");

    private static string WriteBar(Bar bar, Meter usual, bool words)
    {
        var held = Units(bar);
        var parts = bar.Slots.Select((slot, i) =>
        {
            var chord = (slot.IsEarly ? "<" : "") + slot.Symbol + string.Concat(Enumerable.Repeat(" .", held[i] - 1));
            return words ? $"[{chord}]{slot.Lyric}" : chord;
        });
        var text = string.Join(words ? "" : " ", parts);
        if (bar.Lead.Length > 0) text = bar.Lead + " " + text;
        var remarks = string.Concat(bar.Remarks.Select(r => $"({r}) "));
        if (words) text = remarks + text;
        else if (remarks.Length > 0) text += " " + remarks.TrimEnd();
        return bar.Meter == usual ? text : $"{bar.Meter} {text}";
    }

    /// <summary>How many beats or divisions each slot is written with; all 1 when they share the bar evenly.</summary>
    private static int[] Units(Bar bar)
    {
        var total = bar.Slots.Sum(s => s.Beats);
        var even = bar.Slots.All(s => Math.Abs(s.Beats - bar.Slots[0].Beats) < 1e-6) && Math.Abs(total - bar.Meter.Beats) < 1e-6;
        if (even) return [.. bar.Slots.Select(_ => 1)];
        var unit = 1.0;
        if (bar.Slots.Any(s => Math.Abs(s.Beats - Math.Round(s.Beats)) > 1e-6)) unit = 1.0 / bar.Meter.Division;
        if (bar.Slots.Any(s => Math.Abs(s.Beats / unit - Math.Round(s.Beats / unit)) > 1e-6)) unit = 0.25;
        return [.. bar.Slots.Select(s => Math.Max(1, (int)Math.Round(s.Beats / unit)))];
    }
}
