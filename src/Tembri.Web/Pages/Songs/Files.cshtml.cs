using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Arranging;
using Tembri.Data;
using Tembri.Formats;
using Tembri.Web.Computing;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Songs;

/// <summary>A song as a file: the record's chart or one rung of a student's ladder, in every format, with what each cannot hold
/// said before.</summary>
[MayBeASecondOld]
internal sealed class FilesModel(TembriDbContext context, LadderDesk desk, ComputeLanes lanes) : PageModel
{
    /// <summary>The formats with what they are for.</summary>
    public static readonly IReadOnlyList<(ChartFormat Format, string Name, string For)> Formats =
    [
        (ChartFormat.Bars, "Bar grid", "text with bars and beats; Tembri's own way of writing"),
        (ChartFormat.Brackets, "Words with chords", "text with chords in square brackets"),
        (ChartFormat.OverLyrics, "Chords over words", "text to read from, chords above the line"),
        (ChartFormat.MusicXml, "MusicXML", "for notation programs"),
        (ChartFormat.Mxl, "MusicXML, packed", "the same, smaller"),
        (ChartFormat.Midi, "MIDI", "strummed guitar, bass and click to play along with"),
        (ChartFormat.Json, "Tembri chart", "everything, to bring back or keep"),
    ];

    public Guid Id { get; private set; }
    public string Heading { get; private set; } = "";
    public Chart Chart { get; private set; } = new();
    public PlayableRung? Rung { get; private set; }
    public string Of { get; private set; } = "the record's chart";

    /// <summary>Why nothing can be played of this chart; null when it can.</summary>
    public string? Objection { get; private set; }

    /// <summary>The formats this song can be had in: MIDI needs something to play.</summary>
    public IEnumerable<(ChartFormat Format, string Name, string For)> Offered =>
        Formats.Where(f => Objection is null || f.Format != ChartFormat.Midi);

    /// <summary>The query that chooses the same version again.</summary>
    public string Choice { get; private set; } = "";

    public Guid? Student { get; private set; }

    /// <summary>The rung written out; null for the record's chart.</summary>
    public VersionChart? Version { get; private set; }

    private string _chartStamp = "";

    public async Task<IActionResult> OnGetAsync(Guid id, Guid? student, int? rung) =>
        await FindAsync(id, student, rung) ? Page() : NotFound();

    public async Task<IActionResult> OnGetDownloadAsync(Guid id, ChartFormat format, Guid? student, int? rung)
    {
        if (!ModelState.IsValid || !Enum.IsDefined(format) || !await FindAsync(id, student, rung)
            || Offered.All(f => f.Format != format))
            return NotFound();
        WrittenChart written;
        if (Version is not null) written = await WriteAsync(Version, format);
        else if (format != ChartFormat.Midi) written = ChartFiles.Write(Chart, format);
        else
        {
            // The record's own shapes, where the record has its capo.
            var request = new ArrangementRequest { Chart = Chart, Kind = PlayerKind.Usual, Capo = Chart.RecordCapo };
            var record = await desk.BuildAsync(_chartStamp, request, HttpContext.RequestAborted);
            if (record.Rungs[^1] is not PlayableRung own) return NotFound();
            written = await WriteAsync(new VersionChart(record, own), format);
        }
        var name = string.Concat(Heading.Select(c => char.IsLetterOrDigit(c) ? c : '-')).Trim('-')
            + (Rung is { } r ? $"-rung-{r.Limits.Number}" : "") + written.Extension;
        return File(written.Bytes, written.MediaType, name);
    }

    private Task<WrittenChart> WriteAsync(VersionChart version, ChartFormat format) =>
        lanes.ForPageAsync(_ => ChartFiles.Write(version, format), HttpContext.RequestAborted);

    private async Task<bool> FindAsync(Guid id, Guid? student, int? rung)
    {
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } song) return false;
        (Id, Heading, Chart, _chartStamp) = (id, song.Title, ChartReader.Read(song.ChartText).Chart, song.ChartStamp);
        Objection = LadderBuilder.Objection(Chart.Chords.Count);
        if (student is not { } who)
        {
            Student = ChosenStudent.Of(Request, null) is { } chosen && await context.Students.AnyAsync(s => s.Id == chosen)
                ? chosen
                : null;
            return true;
        }
        if (!await context.Students.AnyAsync(s => s.Id == who)) return false;
        Student = who;
        if (rung is not { } number || Objection is not null) return true;
        if (await desk.OpenAsync(id, who, leaving: HttpContext.RequestAborted) is not { } open
            || open.Ladder.Playable.FirstOrDefault(r => r.Number == number) is not { } found)
            return false;
        (Version, Rung, Of,
            Choice) = (new VersionChart(open.Ladder, found), found,
                $"rung {found.Limits.Label}, {found.Limits.Name.ToLowerInvariant()}, for {open.Student.Nickname}",
                $"&student={who}&rung={number}");
        return true;
    }
}
