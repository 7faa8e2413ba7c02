using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;

namespace Tembri.Bench;

/// <summary>Prints how chart texts are read: facts, sections with their bars and words, the form, and what is said.</summary>
internal static class ReadLook
{
    public static int Run(IEnumerable<string> files)
    {
        foreach (var file in files)
        {
            var (chart, problems) = ChartReader.Read(File.ReadAllText(file));
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"== {Path.GetFileName(file)}: '{chart.Title}' {chart.Key} {chart.Meter} tempo {chart.Tempo} capo "
                    + $"{chart.RecordCapo} tuning {chart.TuningShift}; form "
                    + $"{string.Join(", ", chart.Form.Select(p => $"{p.Section} x{p.Times}"))}"));
            foreach (var section in chart.Sections)
            {
                Console.WriteLine($"   {section.Name}: "
                    + string.Join(" | ",
                        section.Bars.Select(b => string.Join(" ",
                            b.Slots.Select(s => string.Create(CultureInfo.InvariantCulture,
                                $"{s.Chord?.Name ?? $"({s.Symbol})"}:{s.Beats:0.##}"))))));
                var words = string.Concat(section.Bars.Select(b => (b.Lead.Length > 0 ? $"<{b.Lead}>" : "")
                        + string.Concat(b.Slots.Select(s => s.Lyric.Length > 0 ? $" {s.Lyric.Trim()}" : "")))).Trim();
                if (words.Length > 0) Console.WriteLine($"      words: {words}");
            }
            foreach (var p in problems) Console.WriteLine($"   ! {p.Line}:{p.Column} {p.Message}");
        }
        return 0;
    }
}
