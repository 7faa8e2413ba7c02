using System.Globalization;
using PdfSharp.UniversalAccessibility;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Web.Drawings;
using Tembri.Web.Words;

namespace Tembri.Web.Sheets;

/// <summary>What of a version a sheet is made of.</summary>
/// <param name="Title">The song.</param>
/// <param name="Student">Whose it is.</param>
/// <param name="LeftHanded">True draws shapes the other way round.</param>
/// <param name="Ladder">The ladder.</param>
/// <param name="Rung">The version.</param>
/// <param name="Below">The version below; null for the lowest.</param>
/// <param name="Fit">How it fits.</param>
internal sealed record SheetOf(string Title, string Student, bool LeftHanded, Ladder Ladder, PlayableRung Rung,
    PlayableRung? Below, VersionFit Fit);

/// <summary>One version for one student on paper.</summary>
internal sealed class RungSheet(SheetOf of, SheetAsked asked)
{
    private const int BarsInALine = 4;
    private readonly Chart _chart = of.Rung.Song.Chart;

    /// <summary>The caution that stands on every sheet.</summary>
    public const string Caution =
        "Stop if it hurts, tingles or goes numb: shake the hand out, loosen the thumb, rest, and tell your teacher. If it "
            + "stays, see a doctor or a licensed therapist. Short and often is better than long.";

    private int Below => asked.FretsFromNut ? of.Rung.Capo : 0;

    private static string Whole(double value) => value.ToString("0", CultureInfo.InvariantCulture);

    private Chord Named(Chord chord) => chord.Named(asked.Names);

    private Chord AsShape(Chord sounding) => Named(sounding.Transpose(of.Ladder.Chart.Key, of.Ladder.ShapeKey));

    /// <summary>The sheet.</summary>
    public PaperSheet Write()
    {
        var blocks = new List<Block>
        {
            Paragraph.Title(of.Title), new Paragraph(Sentence, 12, PaperFace.Italic, Tone.Pencil) { Ruled = true, After = 8 }
        };
        switch (asked.Kind)
        {
            case SheetKind.Chart:
                blocks.AddRange([.. Lines(words: asked.Words), new Paragraph(Marks, Block.Small, tone: Tone.Pencil)]);
                break;
            case SheetKind.Shapes:
                blocks.AddRange([new ShapeRows(Shapes()), new Paragraph(ShapeNote, Block.Small, tone: Tone.Pencil)]);
                break;
            case SheetKind.Words:
                blocks.AddRange(Lines(words: true, wordsFirst: true));
                break;
            case SheetKind.Form:
                blocks.AddRange([Paragraph.Heading("Form"), new Picture(FormDrawing.Draw(_chart)), .. Counts(),
                    Paragraph.Heading("Chart"), .. Lines(words: false), new Paragraph(Marks, Block.Small, tone: Tone.Pencil)]);
                break;
            case SheetKind.Spoken:
                blocks.AddRange(Spoken());
                break;
            default:
                blocks.AddRange([new ShapeRows(Shapes()), .. OwnWords(),
                    new Paragraph($"{ShapeNote} {Marks}".Trim(), Block.Small, tone: Tone.Pencil)]);
                blocks.AddRange([Paragraph.Heading("Right hand"), .. Hands()]);
                blocks.AddRange([Paragraph.Heading("New in this version, and the order to learn it"), .. Order()]);
                blocks.AddRange([Paragraph.Heading("Form"), new Picture(FormDrawing.Draw(_chart)), Paragraph.Heading("Chart"),
                    .. Lines(asked.Words)]);
                break;
        }
        if (asked.Address is { } address)
            blocks.Add(new Together([
                new Picture(CodeDrawing.Draw(address, $"Code that opens {of.Student}’s page") with { Scale = 0.42 }, 2),
                new Paragraph(
                    [new Run($"{of.Student}’s own page, to practise along. Whoever has this sheet can open it.", Block.Small)])
                {
                    Address = address
                }]));
        blocks.Add(new Paragraph([new Run(Caution, Block.Small, PaperFace.Italic)], After: 0));
        return new PaperSheet($"{of.Title}, rung {of.Rung.Limits.Label} for {of.Student}", blocks)
        {
            Print = asked.Large ? 1.5 : 1
        };
    }

    private string Sentence => string.Join(" · ", new[]
    {
        $"for {of.Student}", $"rung {of.Rung.Limits.Label}, {of.Rung.Limits.Name.ToLowerInvariant()}",
        of.Rung.Capo == 0 ? "no capo" : $"capo at fret {of.Rung.Capo}",
        of.Ladder.Lift is { } up ? $"at fret {of.Rung.Capo + up.Semitones} from {_chart.Sections[up.Section].Name} on" : "",
        TuningWords.Say(_chart) is { Length: > 0 } tuned ? $"guitar tuned {tuned}" : "",
        $"{Whole(_chart.Tempo)} a "
            + $"minute{(of.Fit.ComfortableTempo is { } t && t < _chart.Tempo ? $", begin at {Whole(t)}" : "")}",
    }.Where(w => w.Length > 0));

    private string ShapeNote =>
        "A ring is an open string, a broken line is left out."
            + (of.Rung.Capo > 0
                ? $" {(asked.FretsFromNut ? "Fret numbers are counted from the nut" : "Frets are counted from the capo")}; the "
                    + "chord names are those of the shapes."
                : "");

    private string Marks => VersionWords.Marks(_chart);

    private IEnumerable<PlayedChord> Drawn => VersionWords.Drawn(of.Rung);

    private List<ShapeCell> Shapes() => [.. Drawn.Select(c => new ShapeCell(
        Named(c.ShapeChord), ShapeDrawing.Draw(c.Choice.Fingering, of.LeftHanded, 1.02, Below), Under(c),
        c.ShapeChord.Section is { } only ? $"in {only}" : ""))];

    private List<Run> Under(PlayedChord c)
    {
        if (c.IsSecond)
            return c.Before is { } next
                ? [new Run("before ", Block.Small, Tone: Tone.Pencil), .. Pen.Of(Named(next), Block.Small, Tone.Pencil)]
                : [new Run("at the end", Block.Small, Tone: Tone.Pencil)];
        return c.Choice.Played.Name == c.ShapeChord.Name
            ? []
            : [new Run("as ", Block.Small, Tone: Tone.Pencil), .. Pen.Of(Named(c.Choice.Played), Block.Small, Tone.Pencil)];
    }

    private IEnumerable<Block> OwnWords() => VersionWords.Own(of.Rung, asked.Names).Select(w => new Paragraph(w));

    private IEnumerable<Block> Hands()
    {
        var groups = _chart.Sections.Select((s, i) => (Section: s, Pattern: of.Rung.Hand.In(i)))
            .GroupBy(x => (x.Pattern, x.Section.Hand.Loudness)).ToList();
        foreach (var group in groups)
        {
            var (pattern, loudness) = group.Key;
            var said = StrumWords.Name(pattern);
            var where = groups.Count > 1 ? $"{string.Join(", ", group.Select(x => x.Section.Name))}: " : "";
            yield return new Together([
                new Paragraph([new Run(where, Block.Body, PaperFace.Bold),
                    new Run($"{said}{(pattern.Swing == StrumPattern.Straight ? "" : ", swung")}{loudness switch { Loudness.Soft => ", soft", Loudness.Loud => ", loud", _ => "" }}",
                        Block.Body)])
                {
                    After = 2
                },
                new Picture(StrumDrawing.Draw(pattern, loudness) with { Scale = pattern.Steps.Count > 8 ? 0.75 : 0.95 }),
            ]);
        }
    }

    private IEnumerable<Block> Order()
    {
        var rung = of.Rung;
        var order = LearningOrder.Of(rung, of.Fit);
        var strum = of.Below is null || of.Below.Strum.Equals(rung.Strum) ? "" : " The strum is new.";
        var fresh = rung.Played.Where(c => c.IsNew).ToList();
        yield return new Paragraph([.. of.Below is null
            ? [new Run(
                $"This is where it begins: {rung.Played.Select(c => c.Choice.Fingering.ToString()).Distinct().Count()} shapes.",
                Block.Body)]
            : rung.SameAsBelow ? [new Run($"The shapes are those of rung {of.Below.Limits.Label}.{strum}", Block.Body)]
            : fresh.Count
                == 0 ? [new Run($"No shape is new; some chords are played by shapes you know from others.{strum}", Block.Body)]
            : (List<Run>)[
                .. fresh.SelectMany(c => (IEnumerable<Run>)[.. Pen.Of(Named(c.ShapeChord), 12.5), new Run("  ", Block.Body)]),
                new Run($"{(fresh.Count == 1 ? "has a new shape" : "have new shapes")}; the rest stays.{strum}", Block.Body)]]);
        var steps = new List<List<Run>>();
        if (order.Shapes.Where(s => !s.IsKnown).Select(s => Pen.Of(Named(rung.Chords[s.Chord].ShapeChord), 12))
            .ToList() is { Count: > 0 } shapes)
            steps.Add([new Run("the shapes ", Block.Body), .. Joined(shapes)]);
        if (order.Changes.Take(3)
            .Select(c => (IEnumerable<Run>)[.. Pen.Of(Named(rung.Chords[rung.Changes[c.Change].From].ShapeChord), 12),
                new Run(" → ", Block.Body), .. Pen.Of(Named(rung.Chords[rung.Changes[c.Change].To].ShapeChord), 12)])
            .ToList() is { Count: > 0 } changes)
            steps.Add([new Run("against a slow count ", Block.Body), .. Joined(changes)]);
        if (order.Sections.Count > 0)
            steps.Add([new Run($"{string.Join(", ", order.Sections.Select(s => _chart.Sections[s.Section].Name))}{(of.Fit.ComfortableTempo is { } ease && ease < _chart.Tempo ? $", from {Whole(ease)} a minute upward" : "")}",
                Block.Body)]);
        for (var i = 0; i < steps.Count; i++)
            yield return new Paragraph([new Run($"{i + 1}. ", Block.Body, PaperFace.Bold), .. steps[i]],
                PdfBlockLevelElementTag.Paragraph, 3);
    }

    private static IEnumerable<Run> Joined(IEnumerable<IEnumerable<Run>> parts) =>
        parts.SelectMany((p, i) => i == 0 ? p : [new Run(" · ", Block.Body, Tone: Tone.Pencil), .. p]);

    private IEnumerable<Block> Counts() => _chart.Form.Select((p, i) => new Paragraph(
        [new Run($"{i + 1}. {p.Section}", Block.Body, PaperFace.Bold),
            new Run($"{(p.Times > 1 ? $", {p.Times} times" : "")}: {Counted(p)}", Block.Body)], After: 2));

    private string Counted(FormPart part)
    {
        if (_chart.SectionNamed(part.Section) is not { } section) return "";
        var bars = section.Bars.Count;
        return $"{(bars == 1 ? "1 bar" : $"{bars} bars")}, "
            + $"{(section.Beats * part.Times).ToString("0.##", CultureInfo.InvariantCulture)} beats";
    }

    private IEnumerable<Block> Lines(bool words, bool wordsFirst = false)
    {
        for (var number = 0; number < _chart.Sections.Count; number++)
        {
            var section = _chart.Sections[number];
            var times = _chart.Form.Where(f => f.Section == section.Name).Sum(f => f.Times);
            var more = of.Ladder.Lift is { } lift && lift.Section == number
                ? $"capo up to fret {of.Rung.Capo + lift.Semitones}"
                : times switch { 0 => "not played", 1 => "", 2 => "twice", _ => $"{times} times" };
            yield return Paragraph.Part(section.Name, more);
            foreach (var figure in of.Rung.Figures.Where(f => f.Section == number && f.Played is not null))
                yield return new Picture(FigureDrawing.Draw(figure.Played!, figure.Path!,
                        FigureText.BeatsOf(figure.Played!.Bar, section.Bars), Below) with { Scale = 0.8 });
            if (wordsFirst)
            {
                foreach (var line in section.Lines(BarsInALine)) yield return new WordLine(line, AsShape);
            }
            else foreach (var line in section.Lines(BarsInALine)) yield return new ChartLine(line, AsShape, words);
        }
    }

    private IEnumerable<Block> Spoken()
    {
        yield return Paragraph.Heading("The shapes, finger by finger");
        foreach (var chord in Drawn)
        {
            var name = Spelling.Say(Named(chord.ShapeChord))
                + (chord.IsSecond ? chord.Before is { } next ? $", before {Spelling.Say(Named(next))}" : ", at the end" : "")
                + (chord.ShapeChord.Section is { } only ? $", in {only}" : "");
            yield return new Paragraph([new Run($"{name}. ", Block.Body, PaperFace.Bold),
                new Run(Spelling.Say(chord.Choice.Fingering, Below), Block.Body)]);
        }
        yield return new Paragraph(of.Rung.Capo == 0
                ? "String 1 is the thinnest, string 6 the thickest."
                : "String 1 is the thinnest, string 6 the thickest. Frets are counted from the "
                    + $"{(asked.FretsFromNut ? "nut" : "capo")}.",
            Block.Small, tone: Tone.Pencil);
        yield return Paragraph.Heading("The right hand");
        foreach (var group in _chart.Sections.Select((s, i) => (Section: s, Pattern: of.Rung.Hand.In(i)))
            .GroupBy(x => x.Pattern))
            yield return new Paragraph($"{string.Join(", ", group.Select(x => x.Section.Name))}: {StrumWords.Name(group.Key)}; "
                + $"say {StrumWords.Spoken(group.Key)}.");
        yield return Paragraph.Heading("The form");
        yield return new Paragraph(
            string.Join(", ", _chart.Form.Select(p => p.Times > 1 ? $"{p.Section} {p.Times} times" : p.Section)) + ".");
        yield return Paragraph.Heading("The chords, bar by bar");
        foreach (var section in _chart.Sections)
            yield return new Paragraph([new Run($"{section.Name}. ", Block.Body, PaperFace.Bold),
                new Run(string.Join("; ",
                            section.Bars.Select((b, i) =>
                                $"bar {i + 1} {string.Join(", ", b.Slots.Select(s => s.Chord is { } c ? Spelling.Say(AsShape(c)) + (b.Slots.Count > 1 ? $" {s.Beats.ToString("0.##", CultureInfo.InvariantCulture)} beats" : "") : "nothing"))}"))
                        + ".", Block.Body)]);
    }
}
