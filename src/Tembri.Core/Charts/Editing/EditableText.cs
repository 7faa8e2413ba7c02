using Tembri.Core.Charts.Reading;
using static Tembri.Core.Charts.Editing.EditCheck;

namespace Tembri.Core.Charts.Editing;

/// <summary>A text made ready to be changed: what other lines alone show is written down first, so that a change of those takes
/// nothing with it.</summary>
internal static class EditableText
{
    /// <summary>Ready for a change of bars.</summary>
    public static string ForBars(string text) => ChartTextRun.RowsInPlain(ChartTextRun.ChordsInBars(WithNames(text)));

    /// <summary>Ready for a change of whole lines: one column below the other.</summary>
    public static string ForLines(string text) => ColumnLines.OneBelowTheOther(WithNames(text));

    /// <summary>The text with names of sections in its form, where that has letters for them, which another section would move,
    /// and above each section that has none.</summary>
    private static string WithNames(string text)
    {
        text = ChartTextRun.EachNameInItsLine(text);
        var reading = ChartReader.Read(text);
        if (!reading.FormIsByOrder) return WithSectionsNamed(text, reading);
        text = ChartEdits.Form(text, reading.Chart.Form).Apply(text);
        return WithSectionsNamed(text, ChartReader.Read(text));
    }

    /// <summary>The text with a name above each section that begins without one behind a section that has one; the same text
    /// where it has none, or where a name would be read otherwise.</summary>
    private static string WithSectionsNamed(string text, ChartReading reading)
    {
        if (reading.BeginsUnnamed.Count == 0) return text;
        var lines = text.Split('\n').ToList();
        foreach (var section in reading.Chart.Sections.Where(s => reading.BeginsUnnamed.Contains(s.Line))
            .OrderByDescending(s => s.Line))
            lines.Insert(section.Line - 1, $"[{section.Name}]");
        var named = string.Join('\n', lines);
        return Known(ChartReader.Read(named).Chart).SequenceEqual(Known(reading.Chart)) ? named : text;
    }
}
