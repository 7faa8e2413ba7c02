using Tembri.Web.Words;
using System.Text.Json;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Checking;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Web.Recordings;

namespace Tembri.Web.Songs;

/// <summary>A chart's text with what was read of it, the problems and the doubts.</summary>
/// <param name="Text">The text.</param>
/// <param name="Reading">What was read.</param>
/// <param name="Doubts">What may be wrong.</param>
internal sealed record ReadChart(string Text, ChartReading Reading, IReadOnlyList<Doubt> Doubts)
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web);

    public static readonly ReadChart Nothing = new("", new ChartReading(new Chart(), []), []);

    public static ReadChart Of(string text, NoteNames names = NoteNames.AsKey, HeardSong? heard = null)
    {
        var plain = text.Replace("\r\n", "\n", StringComparison.Ordinal);
        var reading = ChartReader.Read(plain);
        return new(plain, reading,
            reading.Chart.Sections.Count == 0
                ? []
                : DoubtFinder.Find(plain, reading.Chart, names: names, written: reading.Naming,
                    heard: heard?.ForChecking(reading.Chart, names)));
    }

    /// <summary>A chart to try, in the three ways people write.</summary>
    public const string Example = """
        The Lantern Bend
        Key of G, Tempo: 92, Capo: 2

        Intro: | G | D/F# | Em . . D | C |

        Verse 1
        G                D/F#
        Round by the lantern bend
        Em               C
        water and evening meet

        [Chorus] (x2)
        | [C]Hold the [D]light, | [G]hold it [Em]low | [C]carry it [D]home to the | [G]end |

        Outro: C - D - G - G
        """;

    /// <summary>Names sections usually have.</summary>
    public static readonly IReadOnlyList<string> SectionNames =
        ["Intro", "Verse 1", "Pre-chorus", "Chorus", "Post-chorus", "Bridge", "Interlude", "Solo", "Outro"];

    /// <summary>A name for the next section that is not taken yet.</summary>
    public string NextSection => Reading.Chart.Sections.Count == 0 ? "Verse 1"
        : new[] { "Chorus", "Verse 2", "Bridge", "Verse 3", "Outro" }.FirstOrDefault(n => Reading.Chart.SectionNamed(n) is null)
            ?? $"Part {Reading.Chart.Sections.Count + 1}";

    /// <summary>What could not be read. A bar that does not add up stands among the doubts, where it can be mended or
    /// kept.</summary>
    public IReadOnlyList<ChartProblem> Problems { get; } = ProblemsOf(Text, Reading);

    private static IReadOnlyList<ChartProblem> ProblemsOf(string text, ChartReading reading)
    {
        // A song that can be read but not arranged says so where it is written.
        if (reading.Chart.Chords.Count > 0 && LadderBuilder.Objection(reading.Chart.Chords.Count) is { } objection)
            reading = reading with { Problems = [new ChartProblem(1, 1, objection), .. reading.Problems] };
        if (reading.Problems.Count == 0) return [];
        var bars = DoubtFinder.Find(text, reading.Chart, evenKept: true)
            .Where(d => d.Id.StartsWith("beats", StringComparison.Ordinal)).Select(d => (d.Line, d.Column)).ToHashSet();
        return [.. reading.Problems.Where(p => !bars.Contains((p.Line, p.Column)))];
    }

    /// <summary>Tells one text from another: the page settles a doubt only in the text it was found in. The script reckons it
    /// alike.</summary>
    public string Mark { get; } = MarkOf(Text);

    private static string MarkOf(string text)
    {
        long sum = 0;
        for (var i = 0; i < text.Length; i++) sum = (sum + text[i] * (i % 997 + 1L)) % 1_000_000_007;
        return $"{text.Length}-{sum}";
    }

    /// <summary>Edits as a form carries them.</summary>
    public static string Pack(IReadOnlyList<TextEdit> edits) => JsonSerializer.Serialize(edits, Options);

    private ChartEdits.FormSpan FormHere => _formHere ??= ChartEdits.FormSpan.In(Text);

    private ChartEdits.FormSpan? _formHere;

    /// <summary>The form with a part moved; null when it cannot go there.</summary>
    public string? PackMoved(int part, int by) =>
        ChartEdits.Moved(Reading.Chart.Form, part, by) is { } form ? Pack([FormHere.Write(form)]) : null;

    public string PackRepeated(int part, int more) =>
        Pack([FormHere.Write(ChartEdits.Repeated(Reading.Chart.Form, part, more))]);

    /// <summary>The form with a section at its end.</summary>
    public string PackPlayed(string section) => Pack([FormHere.Write([.. Reading.Chart.Form, new FormPart(section, 1)])]);

    public string PackKeep(Doubt doubt) => Pack([DoubtFinder.Keep(Text, doubt)]);

    /// <summary>The text with packed edits made; null when they do not fit it any more.</summary>
    public static string? Apply(string text, string? packed)
    {
        try
        {
            var edits = JsonSerializer.Deserialize<List<TextEdit>>(packed ?? "", Options) ?? [];
            return edits.Take(500).Aggregate(text.Replace("\r\n", "\n", StringComparison.Ordinal), (t, e) => e.Apply(t));
        }
        catch (Exception e) when (e is JsonException or ArgumentException) { return null; }
    }

    /// <summary>What the record does and what that means for the hand, a sentence a recording.</summary>
    public IEnumerable<string> Recordings
    {
        get
        {
            var chart = Reading.Chart;
            yield return Say(new Recording("The record", chart.RecordCapo, chart.TuningShift, chart.Tempo));
            foreach (var recording in chart.Recordings)
                yield return Say(recording with { Name = char.ToUpperInvariant(recording.Name[0]) + recording.Name[1..] });

            string Say(Recording recording)
            {
                var shapes = chart.Key.Transpose(-(recording.Capo + recording.Tuning));
                var said = TuningWords.Say(chart with { TuningShift = recording.Tuning });
                var tuning = said.Length == 0 ? "standard tuning"
                    : chart.Strings.Equals(Core.Fretboard.Tuning.Standard) ? "the guitar "
                        + Pages.Songs.PlacesModel.TuningWords(recording.Tuning)
                    : $"the guitar in {said}";
                return $"{recording.Name} sounds in {chart.Key}; with {tuning} and "
                    + $"{(recording.Capo == 0 ? "no capo" : $"capo {recording.Capo}")} you play shapes in "
                    + $"{shapes}{(recording.Tempo is { } tempo && tempo != chart.Tempo ? $", at {tempo.ToString("0.#", System.Globalization.CultureInfo.InvariantCulture)}" : "")}.";
            }
        }
    }
}
