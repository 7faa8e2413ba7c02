using System.Globalization;
using Tembri.Core.Charts;

namespace Tembri.Core.Tests.Charts;

/// <summary>The charts of <c>tests/corpora/messy/charts.txt</c>, as people paste them, with what must be read of each.</summary>
internal static class MessyCharts
{
    public static TheoryData<string> Names => [.. All.Keys];

    public static readonly Dictionary<string, (string Text, List<string> Expected)> All = Load();

    private static Dictionary<string, (string, List<string>)> Load()
    {
        var all = new Dictionary<string, (string, List<string>)>();
        var whole = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "messy", "charts.txt")).ReplaceLineEndings("\n");
        foreach (var entry in whole.Split("\n=== ").Skip(1))
        {
            var end = entry.IndexOf('\n');
            // Only a line of three dashes alone ends the chart.
            var parts = entry[(end + 1)..].Split("\n---\n", 2);
            all.Add(entry[..end].Trim(), (parts[0], [.. parts[1].Split('\n').Where(l => l.Trim().Length > 0)]));
        }
        return all;
    }

    /// <summary>Some places of a row, the first and the last among them: with some five hundred charts each kind of place comes
    /// often enough, and every edit of every place takes four times as long.</summary>
    /// <param name="count">How many places there are.</param>
    /// <param name="most">How many are wanted, two at least.</param>
    public static IEnumerable<int> Some(int count, int most) => count <= most
        ? Enumerable.Range(0, count)
        : Enumerable.Range(0, most).Select(i => i * (count - 1) / (most - 1));

    public static string Bars(Section section) =>
        string.Join(" | ",
            section.Bars.Select(b => string.Join(" ",
                b.Slots.Select(s => $"{s.Chord?.Name ?? s.Symbol}:{s.Beats.ToString("0.##", CultureInfo.InvariantCulture)}"))));

    public static string FormOf(Chart chart) =>
        string.Join(", ", chart.Form.Select(p => p.Times > 1 ? $"{p.Section} x{p.Times}" : p.Section));
}
