using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Classes;
using Tembri.Core.Ladders;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Web.Computing;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Sheets;
using Tembri.Web.Sound;
using Tembri.Web.Words;

namespace Tembri.Web.Pages.Songs;

/// <summary>Several students on one song, sounding together. Who plays what stands in the address.</summary>
[MayBeASecondOld]
internal sealed class ClassModel(TembriDbContext context, ClassDesk desk, StudioSettings studio, Booklet booklet,
    ComputeLanes lanes) : PageModel
{
    /// <summary>Chords beside each other; a song with more has more tables.</summary>
    public const int ChordsInARow = 8;

    public Song Song { get; private set; } = null!;
    public ClassAsked Asked { get; private set; } = null!;
    public OpenClass? Open { get; private set; }
    public ClassSheet Sheet => Open!.Sheet!;

    /// <summary>Who is in the studio, those who work on the song first.</summary>
    public IReadOnlyList<(Guid Id, string Nickname, bool Works)> Everybody { get; private set; } = [];

    public async Task<IActionResult> OnGetAsync(Guid id, Guid? student)
    {
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id) is not { } song) return NotFound();
        Song = song;
        if (song.ChordCount is 0 or > Core.Charts.ChartLimits.MostDifferentChords)
            return Redirect(Paths.ChartWithoutLadder(id, null));
        Asked = ClassAsked.Read(Request.Query);
        var working = await context.SongWorks.AsNoTracking().Where(w => w.SongId == id && w.EndedAt == null)
            .Select(w => w.StudentId).ToListAsync();
        Everybody = [.. (await context.Students.AsNoTracking().OrderBy(s => s.Nickname).Select(s => new { s.Id, s.Nickname })
            .ToListAsync())
            .Select(s => (s.Id, s.Nickname, working.Contains(s.Id))).OrderByDescending(s => Asked.Students.Contains(s.Id))
            .ThenByDescending(s => s.Item3)];
        // Whoever was looked at comes along.
        if (Asked.Students.Count == 0 && ChosenStudent.Of(Request, student) is { } who && Everybody.Any(s => s.Id == who))
            First = who;
        Open = await desk.OpenAsync(id, Asked, HttpContext.RequestAborted);
        if (Open is null && Asked.Students.Count > 0) return NotFound();
        return Page();
    }

    /// <summary>Who is ticked before anybody is chosen.</summary>
    public Guid? First { get; private set; }

    /// <summary>The song against everybody together, as the browser plays it.</summary>
    public async Task<IActionResult> OnGetScoreAsync(Guid id)
    {
        if (await desk.OpenAsync(id, ClassAsked.Read(Request.Query), HttpContext.RequestAborted) is not { Sheet: { } sheet })
            return NotFound();
        return new JsonResult(SoundScore.Of(await desk.RecordAsync(sheet, HttpContext.RequestAborted), sheet));
    }

    /// <summary>A page for the wall, and a sheet for each.</summary>
    public async Task<IActionResult> OnGetPdfAsync(Guid id)
    {
        if (await desk.OpenAsync(id, ClassAsked.Read(Request.Query), HttpContext.RequestAborted) is not { Sheet: not null } open)
            return NotFound();
        Open = open;
        var asked = new SheetAsked(studio.Sheets.Kind, studio.Sheets.IsLetter, studio.Sheets.Large, true, studio.FretsFromNut,
            studio.NoteNames);
        var name = $"{open.Song.Title} for {Lists.And(open.Students.Select(s => s.Nickname))}";
        return File(await lanes.ForPageAsync(work => booklet.Write(name,
                    ClassPaper.Write(open, asked, p => Where(p, open.Of(p).LeftHanded), Words), asked.IsLetter,
                    cancel: work.Cancel), HttpContext.RequestAborted), "application/pdf", $"{name}.pdf");
    }

    /// <summary>The shapes of a chord of the song in a part.</summary>
    public static IEnumerable<PlayedChord> Of(ClassPart part, int chord) => part.Rung.Played.Where(c => c.SongChord == chord);

    /// <summary>Where a part is, in words.</summary>
    public string Where(ClassPart part, bool leftHanded) => string.Join(" · ", new[]
    {
        $"rung {RungLimits.LabelOf(part.Rung.Number)}",
        $"{(part.Rung.Capo == 0 ? "no capo" : $"capo {part.Rung.Capo}")}, play {Say(part.ShapeKey)} shapes",
        leftHanded ? "left-handed" : "",
    }.Where(w => w.Length > 0));

    /// <summary>A key in words, such as <c>B minor</c>.</summary>
    public string Say(Core.Music.Key key) => $"{studio.Named(key.Tonic.ToString())}{(key.IsMinor ? " minor" : "")}";

    /// <summary>What a part leaves out or eases, and where it is late; empty where all goes.</summary>
    public IEnumerable<string> Words(ClassPart part)
    {
        string Names(SectionPart advice) =>
            Lists.And(part.Sections.Where(s => s.Does == advice).Select(s => Sheet.Chart.Sections[s.Section].Name));
        if (Names(SectionPart.OneStroke) is { Length: > 0 } eased) yield return $"strikes once a change in {eased}";
        if (Names(SectionPart.Rests) is { Length: > 0 } rests) yield return $"rests in {rests}";
        foreach (var late in part.Late.Take(3))
            yield return string.Create(System.Globalization.CultureInfo.InvariantCulture,
                $"{Name(part, late.From)} → {Name(part, late.To)} comes "
                    + $"{late.NeededSeconds - late.AvailableSeconds:0.0#} s late");
    }

    /// <summary>What somebody does in a section, in a word or two.</summary>
    public static string Say(SectionPart part) =>
        part switch { SectionPart.Plays => "plays", SectionPart.OneStroke => "one stroke a change", _ => "rests" };

    private string Name(ClassPart part, int index) => part.Rung.Chords[index].ShapeChord.Named(studio.NoteNames).Name;
}
