using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Hearing;
using Tembri.Core.Music;
using Tembri.Core.Tests.Charts;
using Tembri.Core.Tests.Hearing;
using static Tembri.Core.Tests.Results.ResultLines;

namespace Tembri.Core.Tests.Results;

/// <summary>What is read in charts, what becomes of them when they are changed, and what is heard: a line for each.</summary>
internal static class ChartResultLines
{
    private static IEnumerable<(string Name, string Text)> Texts() =>
        Songs().Concat(MessyCharts.All.Select(c => (c.Key, c.Value.Text)));   // new charts come last and move no number

    /// <summary>All that is read in each chart of the corpus: facts, form, sections with their bars and words, where each chord
    /// stands, and what is said.</summary>
    public static IEnumerable<string> Charts()
    {
        foreach (var (name, text) in Texts())
        {
            var reading = ChartReader.Read(text);
            var c = reading.Chart;
            yield return $"{name}: {c.Title}; {c.Key}{(c.KeyIsGiven ? " given" : "")} {Number(c.Tempo)} {c.Meter} capo {c.RecordCapo} tuned {c.TuningShift} {c.Strings.Name} singer {c.VoiceShift} {c.Singer} {c.MelodyRange} {string.Join(";", c.Extra.Select(e => $"{e.Name}={e.Value}"))} {string.Join(";", c.Recordings.Select(ChartWriter.Write))} {reading.Naming.Names}{(reading.NamesAreSaid ? " said" : "")} form@{reading.FormLine} {string.Join(",", c.Form.Select(f => $"{f.Section}*{f.Times}"))} unnamed {string.Join(",", reading.BeginsUnnamed)}";
            foreach (var s in c.Sections)
            {
                yield return $" {s.Name} {s.Kind} @{s.Line}{(s.Like is { } like ? $" like {like}{(s.IsLikeAssumed ? " assumed" : "")} but {string.Join(",", s.OwnBars)} {string.Join("/", s.Words)}" : "")} {s.Strum} {s.UsualMeter}: {string.Join(" | ", s.Bars.Select(BarOf))}";
                foreach (var figure in s.Figures) yield return $"  figure {FigureText.Write(figure, s.Bars)}";
            }
            foreach (var p in reading.Problems) yield return $" ! {p.Line}:{p.Column} {p.Message}";
        }
    }

    private static string BarOf(Bar bar) =>
        $"{(bar.StartsLine ? "/ " : "")}{(bar.Lead.Length > 0 ? $"({bar.Lead}) " : "")}{string.Join(" ", bar.Slots.Select(SlotOf))}{string.Concat(bar.Remarks.Select(r => $" <{r}>"))}{(bar.Melody.Count > 0 ? " ~" + string.Join(",", bar.Melody.Select(n => $"{n.Pitch}:{Number(n.At)}:{Number(n.Beats)}")) : "")}{(bar.Span is { } at ? $" {at.Notation}@{at.Line}:{at.Column}+{at.Length}" : "")}";

    private static string SlotOf(Slot s) =>
        $"{s.Symbol}{(s.IsUnread ? "!" : s.Chord?.Name == s.Symbol ? "" : $"={s.Chord?.Name}")}:{Number(s.Beats)}@{s.Line}:{s.Column}+{s.Length}{(s.IsEarly ? "<" : "")}{(s.Lyric.Length > 0 ? $"\"{s.Lyric}\"" : "")}";

    /// <summary>What becomes of each chart of the corpus by one edit of each kind, in another section and bar of each: the lines
    /// that come in place of others, or why it is refused.</summary>
    public static IEnumerable<string> Edits()
    {
        var number = 0;
        foreach (var (name, text) in Texts())
        {
            number++;
            var chart = ChartReader.Read(text).Chart;
            var filled = chart.Sections.Select((s, i) => (s.Bars.Count, At: i)).Where(s => s.Count > 0).ToList();
            if (filled.Count == 0) continue;
            var (bars, section) = filled[number % filled.Count];
            var at = new BarAddress(section, number * 7 % bars);
            yield return $"{name}: {chart.Sections[section].Name} {at.Bar + 1}";
            (string Of, Func<Edited> Made)[] edits =
            [
                ("content", () => new Edited(BarEdits.Content(chart, at), null)),
                ("write", () => BarEdits.Write(text, at, number % 3 == 0 ? "Am D" : number % 3 == 1 ? "Bb . . C/E" : "%")),
                ("split", () => BarEdits.Split(text, at, 0)), ("join", () => BarEdits.Join(text, at, 0)),
                ("meter", () => BarEdits.SetMeter(text, at, new Meter(number % 2 == 0 ? 2 : 3, 4))),
                ("add", () => BarEdits.Add(text, at)), ("remove", () => BarEdits.Remove(text, at)),
                ("variant", () => SectionEdits.Variant(text, section)), ("copy", () => SectionEdits.Copy(text, section)),
                ("without", () => SectionEdits.Without(text, section)), ("new", () => SectionEdits.NewSection(text, "Landing")),
                ("move", () => new Edited(ChartTextMover.Move(text, chart.Key.Transpose(number % 11 + 1)), null)),
            ];
            // Each kind for every third chart, so that all meet every way of writing in a text one can still look through.
            foreach (var (of, made) in edits.Where((_, i) => (i + number) % 3 == 0))
                yield return $" {of}: {made() switch { { Fault: { } fault } => $"refused: {fault}", { Text: var to } => of == "content" ? to : Changed(text, to!) }}";
        }
    }

    private static string Changed(string from, string to)
    {
        var (a, b) = (from.Split('\n'), to.Split('\n'));
        int first = 0, last = 0;
        while (first < Math.Min(a.Length, b.Length) && a[first] == b[first]) first++;
        while (last < Math.Min(a.Length, b.Length) - first && a[^(last + 1)] == b[^(last + 1)]) last++;
        return $"{first + 1}-{a.Length - last} {string.Join(" // ", b[first..(b.Length - last)])}";
    }

    /// <summary>What is heard in a song that is played out of tune and in another key, with another chord and another form,
    /// and by one who knows no chart.</summary>
    public static IEnumerable<string> Heard()
    {
        const string song = "tempo: 100\nform: Verse, Chorus, Verse, Chorus\n[Verse]\n| G | Em7 | C | D7 |\n[Chorus]\n| Cmaj7 | G/B | Am . D . | Gsus4 G |\n";
        var written = ChartReader.Read(song).Chart;
        foreach (var (words, played, chart, tempo, cents, semitones) in new[]
        {
            ("out of tune", song, written, 140, -35, 2),
            ("another chord and form", song.Replace("| C |", "| Am |", StringComparison.Ordinal)
                .Replace("Verse, Chorus, Verse", "Verse, Verse, Chorus", StringComparison.Ordinal), written, 126, 20, 0),
            ("no chart", song, null, 100, 0, -3),
        })
        {
            var heard = Ear.Listen(Tones.Play(ChartReader.Read(played).Chart, tempo, cents, semitones), chart);
            yield return $"{words}: {Number(heard.Cents)} cents {heard.Semitones} semitones {Number(heard.Tempo)} {Number(heard.Drift.Slowest)} {Number(heard.Drift.Fastest)} {(heard.Matches ? "matches" : "no match")} {Number(heard.Agreement)} {Number(heard.Standing)} {Number(heard.Seconds)} {string.Join(" ", heard.FormChanges.Select(f => $"{f.Kind} {f.Section} {f.Bars} {Number(f.At)}"))}";
            yield return $" bars {string.Join(" ", heard.Bars.Select(b => $"{b.Section}.{b.Bar}.{b.Pass} {Number(b.Start)}"))}";
            foreach (var p in heard.Places)
                yield return $" {p.Section}.{p.Bar}.{p.Slot} {p.Written?.Name} {p.Heard.Name}{(p.Agrees ? " agrees" : "")} {Number(p.Certainty)} {string.Join(" ", p.Notes.Select(n => Number(n)))} {string.Join(" ", p.Passes.Select(x => $"{Number(x.Start)} {x.Heard.Name}{(x.Agrees ? "+" : "-")}"))}";
            if (heard.Draft is { } draft) yield return $" {ChartWriter.Write(draft).Replace("\n", " // ", StringComparison.Ordinal)}";
        }
    }
}
