using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Charts.Editing;

/// <content>What stands in a bar, as it is shown to be changed and as somebody types it.</content>
public static partial class BarEdits
{
    /// <summary>A bar as a cell of a bar grid has it, ready to be changed and given to <see cref="Write"/>.</summary>
    public static string Content(Chart chart, BarAddress at)
    {
        var section = chart.Sections[at.Section];
        if (section.Bars[at.Bar].Span is not { Content: var content })
            return ChartWriter.WriteBar(section.Bars[at.Bar], chart.Meter, false);
        if (content.Split(' ')[0] != "%" || section.Like is null) return content;
        // "As before" means the bar before in the section that is followed.
        while (section.Like is { } like && chart.SectionNamed(like) is { } parent && parent != section) section = parent;
        return Resolved(section, at.Bar);
    }

    /// <summary>Content as typed, made fit: one space between words, no bar lines around, chord letters large.</summary>
    internal static string Tidy(string content, ChartNaming naming = default)
    {
        // Where a small letter is a minor chord it stays one.
        if (naming.SmallIsMinor) return Apart(content);
        return Pieces().Replace(Apart(content), m =>
        {
            var letter = m.Value.TakeWhile(c => c is '<' or '/').Count();
            if (letter >= m.Length || m.Value[letter] is < 'a' or > 'g' || m.Value[0] == '(') return m.Value;
            var large = m.Value[..letter] + char.ToUpperInvariant(m.Value[letter]) + m.Value[(letter + 1)..];
            return letter == 1 && m.Value[0] == '/' || ChordReader.Read(large.TrimStart('<')).Ok ? large : m.Value;
        });
    }

    /// <summary>What was typed, one blank between its parts and no bar line around it.</summary>
    private static string Apart(string content) =>
        string.Join(' ', content.Trim().Trim('|').Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    private static (Chart Chart, Section Section, BarSpan Span, ChartNaming Naming)? Find(string text, BarAddress at)
    {
        var reading = ChartReader.Read(text);
        return reading.Chart.Sections.ElementAtOrDefault(at.Section) is { } section
                && section.Bars.ElementAtOrDefault(at.Bar)?.Span is { } place
            ? (reading.Chart, section, place, reading.Naming)
            : null;
    }

    private static Bar Read(string content, Meter meter) =>
        ChartReader.Read($"meter: {meter}\n| {content} |").Chart.Sections is [{ Bars: [var bar, ..] }]
            ? bar
            : new Bar(meter, []);

    /// <summary>A bar's content with the sign for "as before" written out.</summary>
    private static string Resolved(Section section, int bar)
    {
        static bool SaysAsBefore(Bar bar) => bar.Span?.Content.Split(' ')[0] == "%";
        while (bar > 0 && SaysAsBefore(section.Bars[bar])) bar--;
        // A section that begins with it has nothing before.
        return bar < 0 || SaysAsBefore(section.Bars[bar]) ? "N.C." : section.Bars[bar].Span?.Content ?? "N.C.";
    }
}
