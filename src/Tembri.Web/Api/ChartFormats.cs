using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Formats;

namespace Tembri.Web.Api;

/// <summary>The names the HTTP contract gives to chart formats, and charts that come in any of them.</summary>
internal static class ChartFormats
{
    private static readonly (string Name, ChartFormat Format)[] Names =
    [
        ("bars", ChartFormat.Bars), ("brackets", ChartFormat.Brackets), ("over-lyrics", ChartFormat.OverLyrics),
        ("musicxml", ChartFormat.MusicXml), ("mxl", ChartFormat.Mxl), ("midi", ChartFormat.Midi), ("json", ChartFormat.Json),
    ];

    /// <summary>The format of a name.</summary>
    public static ChartFormat ToFormat(string? name, string field) =>
        Names.FirstOrDefault(n => n.Name == name) is { Name: not null } known ? known.Format
            : throw new ApiProblem(field,
                $"The format '{name}' is not known; use {string.Join(", ", Names.Select(n => n.Name))}.");

    /// <summary>Reads a chart that came in a request. Files that are no text come as base64.</summary>
    /// <param name="chart">The text.</param>
    /// <param name="format">What the caller says it is; null or "auto" lets the file tell.</param>
    /// <param name="field">The field that names the format.</param>
    /// <param name="cancel">Ends the reading.</param>
    public static ChartReading Read(string? chart, string? format, string field, CancellationToken cancel = default)
    {
        if (string.IsNullOrWhiteSpace(chart)) throw new ApiProblem("chart", "Give the chart as text.");
        var said = format is null or "auto" ? (ChartFormat?)null : ToFormat(format, field);
        byte[] data;
        if (said is not (ChartFormat.Midi or ChartFormat.Mxl)) data = System.Text.Encoding.UTF8.GetBytes(chart);
        else
        {
            try { data = Convert.FromBase64String(chart); }
            catch (System.FormatException)
            {
                throw new ApiProblem("chart", $"A chart in the format '{format}' is no text; give the file in base64.");
            }
        }
        try
        {
            var reading = ChartFiles.Read(data, cancel).Reading;
            return reading.Chart.Chords.Count > 0
                ? reading
                : throw new ApiProblem("chart",
                    reading.Problems.Select(p => p.Message).FirstOrDefault() ?? "The chart has no chords.");
        }
        catch (System.FormatException e) { throw new ApiProblem("chart", e.Message); }
    }
}
