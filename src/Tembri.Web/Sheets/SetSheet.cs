using System.Globalization;
using Tembri.Core.Music;
using Tembri.Web.Drawings;
using Tembri.Web.Ladders;

namespace Tembri.Web.Sheets;

/// <summary>A set on paper.</summary>
internal static class SetSheet
{
    /// <summary>The page with the order, the capos and the time.</summary>
    public static PaperSheet Write(OpenSet open) => new(open.Set.Name,
    [
        Paragraph.Title(open.Set.Name),
        new Paragraph($"{(open.Student is { } student ? $"for {student.Nickname} · " : "")}{open.Items.Count} songs · "
            + $"{Time(open.Seconds)} of "
            + $"music{(open.Set.On is { } on ? $" · {on.ToString("dddd, d MMMM yyyy", CultureInfo.InvariantCulture)}" : "")}",
            12, PaperFace.Italic, Tone.Pencil)
        {
            Ruled = true, After = 8
        },
        .. open.Items.Select((item, i) => new Paragraph(
        [
            new Run($"{i + 1}. {item.Song.Title}", 14, PaperFace.Serif),
            new Run($"   {(open.Student is null ? "" : $"rung {item.Rung} · ")}{(item.Capo == 0 ? "no capo" : $"capo {item.Capo}")} "
                + $"· {item.Song.Tempo.ToString("0", CultureInfo.InvariantCulture)} a minute · "
                + $"{Time(item.Seconds)}{(i > 0 && open.Items[i - 1].Capo != item.Capo ? " · move the capo" : "")}",
                Block.Body, Tone: Tone.Pencil),
        ])),
        new Paragraph([new Run(RungSheet.Caution, Block.Small, PaperFace.Italic)]),
    ]);

    /// <summary>A song as recorded, where nobody's version is asked for.</summary>
    public static PaperSheet Chart(SetItem item, NoteNames names)
    {
        var blocks = new List<Block>
        {
            Paragraph.Title(item.Song.Title),
            new Paragraph($"in {item.Chart.Key.Named(names)} · {item.Chart.Meter} · "
                + $"{item.Chart.Tempo.ToString("0", CultureInfo.InvariantCulture)} a minute",
                12, PaperFace.Italic, Tone.Pencil)
            {
                Ruled = true, After = 8
            }
        };
        foreach (var section in item.Chart.Sections)
        {
            blocks.Add(Paragraph.Part(section.Name));
            foreach (var line in section.Lines(4))
                blocks.Add(new ChartLine(line, c => Core.Chords.ChordNaming.Named(c, names), true));
        }
        return new PaperSheet(item.Song.Title, blocks);
    }

    /// <summary>A time as minutes and seconds.</summary>
    public static string Time(double seconds) => $"{(int)seconds / 60}:{(int)seconds % 60:00}";
}
