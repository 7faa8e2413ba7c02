using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;

namespace Tembri.Formats;

/// <summary>Facts of a chart that other formats have no place for, as named fields.</summary>
internal static class ChartFields
{
    private const string Strum = "strum of ";
    private const string Figure = "figure of ";
    private const string Extra = "chart ";

    /// <summary>True for the name of a field that holds a figure.</summary>
    public static bool IsFigure(string name) => name.StartsWith(Figure, StringComparison.Ordinal);

    /// <summary>The fields of a chart.</summary>
    public static IReadOnlyList<(string Name, string Value)> Of(Chart chart)
    {
        var fields = new List<(string Name, string Value)>();
        void Add(string name, string value) => fields.Add((name, value));
        if (ChartWriter.Tuning(chart) is { } tuning) Add("tuning", tuning);
        if (chart.RecordCapo != 0) Add("record capo", chart.RecordCapo.ToString(CultureInfo.InvariantCulture));
        if (chart.VoiceShift != 0) Add("voice", chart.VoiceShift.ToString(CultureInfo.InvariantCulture));
        if (chart.Singer is { } singer) Add("voice", singer.ToString());
        if (chart.MelodyGiven is { } melody) Add("melody", melody.ToString());
        foreach (var recording in chart.Recordings) Add("recording", ChartWriter.Write(recording));
        foreach (var section in chart.Sections.Where(s => s.Strum.Length > 0)) Add(Strum + section.Name, section.Strum);
        foreach (var section in chart.Sections)
            foreach (var figure in section.Figures) Add(Figure + section.Name, FigureText.Write(figure, section.Bars));
        foreach (var (name, value) in chart.Extra) Add(Extra + name, value);
        return fields;
    }

    /// <summary>A chart with its fields put back; fields of others are left alone.</summary>
    public static Chart Put(Chart chart, IReadOnlyList<(string Name, string Value)> fields)
    {
        // The header lines of chart text read the same facts, so they read these.
        string[] known = ["tuning", "record capo", "voice", "melody", "recording", "take"];
        var header = ChartReader.Read(string.Concat(
                fields.Where(f => known.Contains(f.Name)).Select(f => $"{f.Name}: {f.Value.ReplaceLineEndings(" ")}\n"))
            + "| C |").Chart;
        return chart with
        {
            TuningShift = header.TuningShift, Strings = header.Strings, RecordCapo = header.RecordCapo,
            VoiceShift = header.VoiceShift, Singer = header.Singer, MelodyGiven = header.MelodyGiven,
            Recordings = header.Recordings,
            Extra = [.. fields.Where(f => f.Name.StartsWith(Extra, StringComparison.Ordinal))
                .Select(f => (f.Name[Extra.Length..], f.Value))],
            Sections = [.. chart.Sections.Select(s => fields.FirstOrDefault(
                        f => f.Name == Strum + s.Name) is { Value: { Length: > 0 } strum }
                    ? s with { Strum = strum }
                    : s)
                .Select(
                    s => fields.Any(f => f.Name == Figure + s.Name) ? s with { Figures = FiguresOf(s, fields, header) } : s)],
        };
    }

    private static List<Core.Figures.Figure> FiguresOf(Section section, IReadOnlyList<(string Name, string Value)> fields,
        Chart header) =>
        [.. fields.Where(f => f.Name == Figure + section.Name)
            .Select(f => FigureText.Read(f.Value, section.Bars, header.StringsAtRecord, (_, _) => { }))
            .OfType<Core.Figures.Figure>().Take(FigureText.Most)];
}
