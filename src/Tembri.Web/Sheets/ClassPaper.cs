using System.Globalization;
using Tembri.Core.Classes;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Web.Drawings;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Sheets;

/// <summary>A class on paper: one page for the wall, and a sheet for each.</summary>
internal static class ClassPaper
{
    private const int BarsInALine = 8;

    /// <summary>The sheets.</summary>
    /// <param name="open">The class.</param>
    /// <param name="asked">How sheets are wanted.</param>
    /// <param name="where">Where a part is, in words.</param>
    /// <param name="words">What a part eases, and where it is late.</param>
    public static IEnumerable<PaperSheet> Write(OpenClass open, SheetAsked asked, Func<ClassPart, string> where,
        Func<ClassPart, IEnumerable<string>> words)
    {
        var sheet = open.Sheet!;
        yield return Wall(open, sheet, asked.Names, where, words);
        foreach (var part in sheet.Parts)
        {
            var student = open.Of(part);
            yield return new RungSheet(
                    new SheetOf(open.Song.Title, student.Nickname, student.LeftHanded, part.Ladder, part.Eased, null, part.Fit),
                    asked).Write();
        }
    }

    private static PaperSheet Wall(OpenClass open, ClassSheet sheet, NoteNames names, Func<ClassPart, string> where,
        Func<ClassPart, IEnumerable<string>> words)
    {
        var blocks = new List<Block>
        {
            Paragraph.Title(open.Song.Title),
            new Paragraph($"for {Lists.And(open.Students.Select(s => s.Nickname))} together · everyone sounds in "
                + $"{sheet.Chart.Key.Named(names)} at {sheet.Tempo.ToString("0", CultureInfo.InvariantCulture)} a minute",
                13, PaperFace.Italic, Tone.Pencil)
            {
                Ruled = true, After = 8
            },
        };
        foreach (var part in sheet.Parts)
        {
            var student = open.Of(part);
            blocks.Add(Paragraph.Part(student.Nickname, $"{where(part)} · {StrumWords.Name(part.Eased.Strum)}"));
            blocks.Add(new ShapeRows([.. VersionWords.Drawn(part.Rung).Select(c => new ShapeCell(
                Core.Chords.ChordNaming.Named(c.Choice.Played, names),
                ShapeDrawing.Draw(c.Choice.Fingering, student.LeftHanded, 0.92),
                [new Run("for ", Block.Small, Tone: Tone.Pencil),
                    .. Pen.Of(Core.Chords.ChordNaming.Named(c.Sounding, names), Block.Small, Tone.Pencil)]))]));
            if (words(part).ToList() is { Count: > 0 } said)
                blocks.Add(new Paragraph($"{student.Nickname} {string.Join("; ", said)}.", Block.Small));
        }
        blocks.Add(Paragraph.Heading("What sounds"));
        foreach (var section in sheet.Chart.Sections)
        {
            blocks.Add(Paragraph.Part(section.Name));
            foreach (var line in section.Lines(BarsInALine))
                blocks.Add(new ChartLine(line, c => Core.Chords.ChordNaming.Named(c, names), false, BarsInALine: BarsInALine));
        }
        blocks.Add(new Paragraph("Count four in together; who is not sure of a change plays the first beat only.", Block.Small,
            tone: Tone.Pencil));
        blocks.Add(new Paragraph(
            [new Run($"{RungSheet.Caution} Many guitars together are loud: mind your ears.", Block.Small, PaperFace.Italic)]));
        return new PaperSheet($"{open.Song.Title}, the class", blocks) { Across = true };
    }
}
