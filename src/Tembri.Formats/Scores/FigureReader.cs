using System.Xml.Linq;
using Tembri.Core.Charts;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;
using static Tembri.Formats.Scores.ScoreXml;

namespace Tembri.Formats.Scores;

/// <summary>Reads what a score writes with string and fret: riffs, runs and licks, in the one voice of the one part that has
/// most of it.</summary>
/// <remarks>A measure in which three strings or more are struck together is a strum, not a figure. Of two notes at once the
/// higher is kept. A fret is counted from the capo, whose fret the standard adds to the open strings.</remarks>
internal sealed class FigureReader
{
    private const double Hair = 1e-6;

    private readonly XElement _part;
    private readonly (string Staff, string Voice) _line;
    private readonly List<List<Read>> _notes = [];   // by measure
    private readonly int _together;

    private FigureReader(XElement part, (string, string) line, IReadOnlyList<ScoreMeasure> measures)
    {
        (_part, _line) = (part, line);
        var (divisions, rings) = (1, false);
        foreach (var (element, measure) in part.Elements("measure").Zip(measures))
        {
            if (element.Elements("attributes").Select(a => Whole(a.Element("divisions")?.Value))
                .LastOrDefault(d => d is > 0) is { } given)
                divisions = given;
            var (read, isStrum, lost) = Measure(element, measure.Meter, divisions, ref rings);
            _together += isStrum ? 0 : lost;
            _notes.Add(isStrum ? [] : read);
        }
    }

    /// <summary>A note before it has a pitch.</summary>
    /// <param name="At">Beats from the start of the measure.</param>
    /// <param name="Beats">Its length.</param>
    /// <param name="Where">String and fret.</param>
    /// <param name="How">How it comes from the one before.</param>
    /// <param name="Bent">Semitones it is bent up to while it sounds.</param>
    private readonly record struct Read(double At, double Beats, StringFret Where, Ornament How, int Bent);

    /// <summary>Finds the line of a score that is written with strings and frets; null when none is.</summary>
    /// <param name="parts">The parts.</param>
    /// <param name="measures">The measures as they were read, for their meters.</param>
    public static FigureReader? Of(IEnumerable<XElement> parts, IReadOnlyList<ScoreMeasure> measures) => parts
        .Where(part => !part.Descendants("lyric").Any())   // what is sung is the tune, whatever strings it is written for
        .Select(part => (Part: part,
            Lines: part.Elements("measure").Elements("note").Where(n => PlaceOf(n) is not null).GroupBy(LineOf)
                .Where(g => ScoreStrings.MayBeGuitar(part, g.Key.Staff)).Select(g => (Line: g.Key, Count: g.Count())).ToList()))
        .Where(p => p.Lines.Count > 0).OrderByDescending(p => p.Lines.Max(l => l.Count))
        .Select(p => new FigureReader(p.Part, p.Lines.MaxBy(l => l.Count).Line, measures)).FirstOrDefault();

    private static (string Staff, string Voice) LineOf(XElement note) =>
        (note.Element("staff")?.Value.Trim() ?? "1", note.Element("voice")?.Value.Trim() ?? "1");

    /// <summary>Where a note is played; null when it is not written for string and fret.</summary>
    public static StringFret? PlaceOf(XElement note) =>
        note.Element("notations")?.Element("technical") is { } technical
            && Whole(technical.Element("string")?.Value) is >= 1 and <= ScoreStrings.Guitar and var number
            && Whole(technical.Element("fret")?.Value) is >= 0 and <= NeckGeometry.MostFrets and var fret
            ? new StringFret(ScoreStrings.Guitar - number, fret) : null;

    /// <summary>How the strings are tuned without the capo; null when the score does not say it.</summary>
    public Tuning? Tuning => ScoreStrings.TuningOf(_part, _line.Staff);

    /// <summary>The part's capo; null where none is named.</summary>
    public int? Capo => ScoreStrings.CapoOf(_part);

    /// <summary>What a measure has of figures, in a form that is the same for the same notes.</summary>
    public string Written(int measure) => measure < _notes.Count ? string.Join(' ', _notes[measure]) : "";

    /// <summary>A chart with the figures in its sections; a section that has figures keeps them.</summary>
    /// <param name="chart">The chart as it sounds, with its tuning and the record's capo.</param>
    /// <param name="played">For each bar that was cut into sections, the measure it was read from.</param>
    /// <param name="starts">For each section, where its bars begin among those.</param>
    /// <param name="problems">Told what is left out.</param>
    public Chart PutInto(Chart chart, IReadOnlyList<int> played, IReadOnlyList<int> starts, ProblemList problems)
    {
        if (_together > 0)
            problems.Add(1, 1,
                $"In {(_together == 1 ? "one place" : $"{_together} places")} two strings are picked together; a figure has one "
                    + "voice, and the higher note is kept.");
        var left = FigureText.MostInChart;
        var sections = new List<Section>();
        foreach (var (section, start) in chart.Sections.Zip(starts))
        {
            var figures = section.Figures.Count > 0
                ? []
                : FiguresOf(section, i => played[start + i], chart.StringsAtRecord, chart.Key).ToList();
            var kept = figures.Take(Math.Min(left, FigureText.Most)).ToList();
            if (kept.Count < figures.Count)
                problems.Add(1, 1,
                    $"{section.Name} has {figures.Count} figures; {FigureText.Most} a section and {FigureText.MostInChart} a "
                        + "chart are the most, and the rest is left out.");
            left -= kept.Count;
            sections.Add(kept.Count > 0 ? section with { Figures = kept } : section);
        }
        return chart with { Sections = [.. sections, .. chart.Sections.Skip(sections.Count)] };
    }

    /// <summary>Measures one after another that have notes are one figure.</summary>
    private IEnumerable<Figure> FiguresOf(Section section, Func<int, int> measureOf, Tuning strings, Key key)
    {
        var (notes, first, at) = (new List<FigureNote>(), 0, 0.0);
        for (var i = 0; i < section.Bars.Count; i++)
        {
            var read = measureOf(i) is var measure && measure < _notes.Count ? _notes[measure] : [];
            var beats = section.Bars[i].Beats;
            var here = read.Where(n => n.At < beats - Hair).Select(n => n with { Beats = Math.Min(n.Beats, beats - n.At) })
                .SelectMany(n => Sounding(n, strings, key)).ToList();
            if (notes.Count > 0 && (here.Count == 0 || notes.Count + here.Count > Figure.MostNotes))
            {
                yield return new Figure(first, notes);
                notes = [];
            }
            if (here.Count > 0 && notes.Count == 0) (first, at) = (i, 0);
            // What rings over a bar line has to ring from somewhere.
            notes.AddRange(here.Select((n, k) =>
                n with { At = at + n.At, How = n.How == Ornament.Held && (k > 0 || notes.Count == 0) ? Ornament.None : n.How }));
            at += beats;
        }
        if (notes.Count > 0) yield return new Figure(first, notes);
    }

    private (List<Read> Notes, bool IsStrum, int Lost) Measure(XElement measure, Meter meter, int divisions, ref bool rings)
    {
        var struck = new SortedDictionary<double, List<(double Duration, StringFret Where, XElement Note)>>();
        foreach (var (item, at, duration) in Placed(measure))
        {
            if (item.Name.LocalName != "note" || duration <= 0 || LineOf(item) != _line || PlaceOf(item) is not { } where) continue;
            if (!struck.TryGetValue(at, out var here)) struck[at] = here = [];
            if (here.Count < ScoreStrings.Guitar) here.Add((duration, where, item));
        }
        // As fine as a line of a chart can be written.
        var grain = meter.Beats > 4 ? 12 : 24;
        double Rounded(double d) => Math.Round(Beats(d, divisions, meter) * grain) / grain;
        var notes = new List<Read>();
        foreach (var (at, here) in struck)
        {
            var (duration, where, note) = here.MaxBy(n => n.Where.String);
            var (from, to) = (Rounded(at), Math.Min(meter.Beats, Rounded(at + duration)));
            if (to - from < Hair || from > meter.Beats - Hair) continue;
            if (notes.Count > 0 && notes[^1].At + notes[^1].Beats > from)
                notes[^1] = notes[^1] with { Beats = from - notes[^1].At };
            var isTied = Ties(note).Contains("stop");
            var joins =
                isTied && notes.Count > 0 && notes[^1].Where == where && Math.Abs(notes[^1].At + notes[^1].Beats - from) < Hair;
            if (joins) notes[^1] = notes[^1] with { Beats = to - notes[^1].At };
            else
                notes.Add(new Read(from, to - from, where, isTied && rings && from < Hair ? Ornament.Held : HowOf(note),
                    BentBy(note)));
            rings = Ties(note).Contains("start") && to > meter.Beats - Hair;
        }
        if (notes.Count == 0) rings = false;
        return ([.. notes.Where(n => n.Beats > Hair)], struck.Values.Any(s => s.Count > 2),
            struck.Values.Count(s => s.Count == 2));
    }

    private static IEnumerable<string?> Ties(XElement note) =>
        note.Elements("tie").Concat(note.Elements("notations").Elements("tied")).Select(t => t.Attribute("type")?.Value);

    private static Ornament HowOf(XElement note)
    {
        bool Stops(XElement? e) => e?.Attribute("type")?.Value == "stop";
        var technical = note.Element("notations")!.Element("technical")!;
        if (technical.Elements("hammer-on").Any(Stops)) return Ornament.Hammer;
        if (technical.Elements("pull-off").Any(Stops)) return Ornament.Pull;
        return note.Elements("notations").Elements().Where(e => e.Name.LocalName is "slide" or "glissando").Any(Stops)
            ? Ornament.Slide
            : Ornament.None;
    }

    private static int BentBy(XElement note) => note.Elements("notations").Elements("technical").Elements("bend")
        .Where(b => b.Element("pre-bend") is null && b.Element("release") is null)
        .Select(b => (int)Math.Round(Value(b, "bend-alter"))).FirstOrDefault(a => a is >= 1 and <= 4);

    /// <summary>A note with its pitch; one that is bent becomes two, the second where the bend arrives.</summary>
    private static IEnumerable<FigureNote> Sounding(Read note, Tuning strings, Key key)
    {
        var midi = Math.Min(127, strings.Strings[note.Where.String] + note.Where.Fret);
        var first = new FigureNote(Pitch.FromMidi(midi, key), note.At, note.Bent > 0 ? note.Beats / 2 : note.Beats, note.How,
            note.Where);
        yield return first;
        if (note.Bent > 0)
            yield return new FigureNote(Pitch.FromMidi(Math.Min(127, midi + note.Bent), key), note.At + note.Beats / 2,
                note.Beats / 2, Ornament.Bend);
    }
}
