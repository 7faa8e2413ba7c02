using System.Text.Json;
using System.Text.Json.Serialization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Formats;

/// <summary>The chart as JSON: everything the chart model holds, with a version of the layout.</summary>
internal static class ChartJson
{
    private const string Kind = "tembri chart";
    private const int Version = 1;
    private const int LargestDocument = 2_000_000;

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true, DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault, MaxDepth = 16,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private sealed record Document(
        string Format, int Version, string? Title, string? Key, double Tempo, string? Meter, int Tuning, string? Strings,
        int RecordCapo, int VoiceShift, string? Singer, string? Melody,
        IReadOnlyList<TakeItem?>? Takes, IReadOnlyList<FieldItem?>? Extra, IReadOnlyList<SectionItem?>? Sections,
        IReadOnlyList<FormItem?>? Form);

    private sealed record TakeItem(string? Name, int Capo, int Tuning, double? Tempo);

    private sealed record FieldItem(string? Name, string? Value);

    private sealed record FormItem(string? Section, int Times);

    private sealed record SectionItem(string? Name, string? As, string? Strum, IReadOnlyList<int>? OwnBars,
        IReadOnlyList<string?>? Words, IReadOnlyList<BarItem?>? Bars, IReadOnlyList<string?>? Figures = null);

    private sealed record BarItem(string? Meter, bool StartsLine, string? Lead, IReadOnlyList<string>? Remarks,
        IReadOnlyList<SlotItem>? Slots, IReadOnlyList<NoteItem>? Melody);

    private sealed record SlotItem(string? Chord, double Beats, bool Early, string? Lyric);

    private sealed record NoteItem(string? Pitch, double At, double Beats);

    public static byte[] Write(Chart chart) => JsonSerializer.SerializeToUtf8Bytes(new Document(
        Kind, Version, chart.Title, chart.Key.ToString(), chart.Tempo, chart.Meter.ToString(), chart.TuningShift,
        chart.Strings.Equals(Core.Fretboard.Tuning.Standard) ? null : chart.Strings.Name, chart.RecordCapo, chart.VoiceShift,
        chart.Singer?.ToString(), chart.MelodyGiven?.ToString(),
        Some(chart.Recordings.Select(t => new TakeItem(t.Name, t.Capo, t.Tuning, t.Tempo))),
        Some(chart.Extra.Select(e => new FieldItem(e.Name, e.Value))),
        Some(chart.Sections.Select(s => new SectionItem(s.Name, s.Like, s.Strum.Length > 0 ? s.Strum : null, Some(s.OwnBars),
            Some(s.Words), Some(s.Bars.Select(b => Write(b, chart.Meter))),
            Some(s.Figures.Select(f => FigureText.Write(f, s.Bars)))))),
        Some(chart.Form.Select(f => new FormItem(f.Section, f.Times)))), Options);

    private static BarItem Write(Bar bar, Meter usual) => new(
        bar.Meter == usual ? null : bar.Meter.ToString(), bar.StartsLine, bar.Lead.Length > 0 ? bar.Lead : null,
        Some(bar.Remarks),
        [.. bar.Slots.Select(s => new SlotItem(s.Symbol, s.Beats, s.IsEarly, s.Lyric.Length > 0 ? s.Lyric : null))],
        Some(bar.Melody.Select(n => new NoteItem(n.Pitch.ToString(), n.At, n.Beats))));

    private static List<T>? Some<T>(IEnumerable<T> items) => items.ToList() is { Count: > 0 } list ? list : null;

    /// <summary>Reads a document.</summary>
    /// <exception cref="FormatException">It is no JSON, or not a chart, or of a later version.</exception>
    public static ChartReading Read(ReadOnlySpan<byte> json)
    {
        Document? document;
        try
        {
            document = JsonSerializer.Deserialize<Document>(json, Options);
        }
        catch (JsonException e)
        {
            throw new FormatException(
                $"The JSON breaks off or is damaged at line {(e.LineNumber ?? 0) + 1}; nothing of it could be read.", e);
        }
        if (json.Length > LargestDocument)
            throw new FormatException(
                $"This chart has {json.Length / 1e6:0.0} MB; {LargestDocument / 1_000_000} MB is the most.");
        if (document?.Format != Kind)
            throw new FormatException("This JSON is not a chart of Tembri; it should say \"format\": \"tembri chart\".");
        if (document.Version > Version)
            throw new FormatException(
                $"This chart was written by a later Tembri (layout {document.Version}, this one reads {Version}).");
        var problems = new ProblemList();
        void Problem(string message) => problems.Add(1, 1, message);
        IEnumerable<T> Items<T>(IReadOnlyList<T?>? items, string what) where T : class
        {
            if (items is null) return [];
            if (items.Contains(null)) Problem($"There is an empty place among the {what}; it is left out.");
            return items.OfType<T>();
        }
        var meter = Meter.TryParse(document.Meter, out var usual) ? usual : Meter.Common;
        var items = Items(document.Sections, "sections").ToList();
        var sections = items.Select(s => new Section(s.Name ?? "Song",
            [.. Items(s.Bars, "bars").Take(ChartLimits.MostBars)
                .Select((b, i) => ReadBar(b, meter, $"bar {i + 1} of {PlainText.Cut(s.Name ?? "Song", 40)}", Problem))
                .OfType<Bar>()])
        {
            Like = s.As, Strum = s.Strum ?? "", OwnBars = s.OwnBars ?? [], Words = [.. Items(s.Words, "words")],
        }).ToList();
        var figures = sections.Zip(items).Where(x => x.Second.Figures is { Count: > 0 })
            .ToDictionary(x => x.First, x => Items(x.Second.Figures, "figures").Take(FigureText.Most).ToList(),
                ReferenceEqualityComparer.Instance as IEqualityComparer<Section>);
        sections.RemoveAll(s => s.Bars.Count == 0);
        if (sections.Count == 0) Problem("This chart has no bars.");
        var keyGiven = Key.TryParse(document.Key, out var key);
        var chart = new Chart
        {
            Title = document.Title ?? "", Key = key, KeyIsGiven = keyGiven,
            Tempo = document.Tempo is >= 20 and <= 320 ? document.Tempo : 90, Meter = meter,
            TuningShift = Math.Clamp(document.Tuning, -7, 7),
            Strings = document.Strings is { } open && Core.Fretboard.Tuning.TryParse(open, out var strings)
                ? strings.Apart().Known
                : Core.Fretboard.Tuning.Standard,
            RecordCapo = Math.Clamp(document.RecordCapo, 0, 11), VoiceShift = Math.Clamp(document.VoiceShift, -11, 11),
            Singer = document.Singer is { } s && PitchRange.TryParse(s, out var singer) ? singer : null,
            MelodyGiven = document.Melody is { } m && PitchRange.TryParse(m, out var melody) ? melody : null,
            Recordings = [
                .. Items(document.Takes, "recordings").Select(t => new Recording(t.Name ?? "", t.Capo, t.Tuning, t.Tempo))],
            Extra = [.. Items(document.Extra, "extra lines").Select(e => (e.Name ?? "", e.Value ?? ""))],
            Sections = sections,
            Form = [.. Items(document.Form, "parts of the form").Select(f => new FormPart(f.Section ?? "", f.Times))],
        };
        // Strings and frets of figures are counted at the record's place.
        chart = chart with { Sections = [.. chart.Sections.Select(s => figures.TryGetValue(s, out var lines)
            ? s with { Figures = [.. lines.Select(l => FigureText.Read(l, s.Bars, chart.StringsAtRecord,
                    (_, message) => Problem($"In a figure of {PlainText.Cut(s.Name, 40)}: {message}")))
                .OfType<Core.Figures.Figure>()] }
            : s)] };
        chart = ChartTidy.Tidy(chart, problems);
        if (!keyGiven) chart = chart with { Key = KeyFinder.Guess([.. chart.Played().Select(x => x.Chord).OfType<Chord>()]) };
        return new ChartReading(chart, problems.ToList());
    }

    private static Bar? ReadBar(BarItem bar, Meter usual, string where, Action<string> problem)
    {
        var slots = (bar.Slots ?? []).OfType<SlotItem>().Where(s => s.Chord is not null && s.Beats is > 0 and < 100)
            .Take(ChartLimits.MostChordsInBar + 1).Select(s =>
        {
            var reading = ChordReader.Read(s.Chord);
            if (!reading.Ok) problem($"In {where}: {reading.Error}");
            return new Slot(s.Chord!, reading.Chord, s.Beats, s.Lyric ?? "") { IsEarly = s.Early };
        }).ToList();
        if (slots.Count == 0) { problem($"In {where} there is no chord; it is left out."); return null; }
        var notes = new List<MelodyNote>();
        foreach (var note in (bar.Melody ?? []).OfType<NoteItem>().Take(ChartLimits.MostNotesInBar + 1))
        {
            if (note.Pitch is not null && Pitch.TryParse(note.Pitch, out var pitch) && note.Beats > 0)
                notes.Add(new MelodyNote(pitch, note.At, note.Beats));
            else problem($"In {where} the note '{PlainText.Cut(note.Pitch ?? "", 12)}' could not be read; it is left out.");
        }
        return new Bar(Meter.TryParse(bar.Meter, out var own) && bar.Meter is not null ? own : usual, slots, bar.StartsLine,
            bar.Lead ?? "")
        {
            Remarks = [.. (bar.Remarks ?? []).OfType<string>()], Melody = notes
        };
    }
}
