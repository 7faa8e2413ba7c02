using Tembri.Core.Chords;
using Tembri.Core.Music;
using System.Globalization;
using System.Text;

namespace Tembri.Core.Charts;

/// <summary>Writes a chart as text that the reader reads back to the same chart.</summary>
public static class ChartWriter
{
    /// <summary>Writes header lines, sections and bars; bars with words carry their chords in square brackets.</summary>
    public static string Write(Chart chart)
    {
        var text = new StringBuilder();
        foreach (var line in Header(chart)) text.Append(line).Append('\n');
        foreach (var section in chart.Sections)
        {
            text.Append('\n').Append(section.Like is { } like ? $"[{section.Name}: as {like}]\n" : Heading(section.Name));
            if (section.Strum.Length > 0 && section.Strum != chart.SectionNamed(section.Like ?? "")?.Strum)
                text.Append("strum: ").Append(section.Strum).Append('\n');
            if (!section.Figures.SequenceEqual(chart.SectionNamed(section.Like ?? "")?.Figures ?? []))
                foreach (var figure in section.Figures) text.Append(FigureText.Write(figure, section.Bars)).Append('\n');
            if (section.Like is null)
            {
                foreach (var line in section.Lines(int.MaxValue)) text.Append(Line(line, chart.Meter));
                continue;
            }
            foreach (var words in section.Words) text.Append(words).Append('\n');
            foreach (var number in section.OwnBars)
                text.Append(CultureInfo.InvariantCulture, $"{number}: ").Append(Line([section.Bars[number - 1]], chart.Meter));
        }
        return text.ToString();
    }

    /// <summary>The line above a section, its end included; in square brackets a name that is a chord would be one.</summary>
    public static string Heading(string name) =>
        // A letter with a number behind it in brackets, C (2), would be a count before a colon.
        ChordReader.Read(name.Split(' ')[0]).Ok && name is not [_, ' ', '(', >= '0' and <= '9', ..] ? $"{name}:\n" : $"[{name}]\n";

    /// <summary>The header lines, without line ends.</summary>
    public static IReadOnlyList<string> Header(Chart chart)
    {
        var lines = new List<string>();
        void Add(string name, string value) => lines.Add($"{name}: {value}");
        if (chart.Title.Length > 0) Add("title", chart.Title);
        Add("key", chart.Key.ToString());
        Add("tempo", chart.Tempo.ToString(CultureInfo.InvariantCulture));
        Add("meter", chart.Meter.ToString());
        if (Tuning(chart) is { } tuning) Add("tuning", tuning);
        if (chart.RecordCapo != 0) Add("record capo", chart.RecordCapo.ToString(CultureInfo.InvariantCulture));
        if (chart.Singer is { } singer) Add("voice", singer.ToString());
        if (chart.MelodyGiven is { } melody) Add("melody", melody.ToString());
        if (chart.VoiceShift != 0) Add("voice", chart.VoiceShift.ToString(CultureInfo.InvariantCulture));
        foreach (var recording in chart.Recordings) Add("recording", Write(recording));
        foreach (var (name, value) in chart.Extra) lines.Add($"{{{name}: {value}}}");
        Add("form", string.Join(", ", chart.Form.Select(p => p.Times > 1 ? $"{p.Section} x{p.Times}" : p.Section)));
        return lines;
    }

    /// <summary>How the guitars are tuned, as the header says it; null for standard.</summary>
    public static string? Tuning(Chart chart) =>
        !chart.Strings.Equals(Fretboard.Tuning.Standard) ? chart.Strings.Shift(chart.TuningShift).Name
            : chart.TuningShift != 0 ? chart.TuningShift.ToString(CultureInfo.InvariantCulture)
            : null;

    /// <summary>A line of bars with its tune under it, line ends included.</summary>
    /// <param name="line">The bars.</param>
    /// <param name="usual">The meter that is not written.</param>
    /// <param name="words">True to carry chords in square brackets; when null, as soon as there are words.</param>
    public static string Line(IReadOnlyList<Bar> line, Meter usual, bool? words = null)
    {
        // One bar with words makes the whole line carry its chords in brackets.
        var bracketed = words ?? line.Any(b => b.Lead.Length > 0 || b.Slots.Any(s => s.Lyric.Length > 0));
        var text = "|" + string.Concat(line.Select(bar => $" {WriteBar(bar, usual, bracketed)} |")) + "\n";
        return line.All(b => b.Melody.Count == 0)
            ? text
            : text + MelodyLine.Mark + " |" + string.Concat(line.Select(bar => $" {MelodyLine.Write(bar.Melody, bar.Beats)} |"))
                + "\n";
    }

    /// <summary>Writes a recording as its header line has it.</summary>
    public static string Write(Recording recording) => string.Create(CultureInfo.InvariantCulture,
        $"{recording.Name}, capo {recording.Capo}, tuning "
            + $"{recording.Tuning}{(recording.Tempo is { } tempo ? $", tempo {tempo}" : "")}");

    internal static string WriteBar(Bar bar, Meter usual, bool words)
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
