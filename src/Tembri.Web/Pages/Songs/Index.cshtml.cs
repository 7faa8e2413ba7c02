using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Songs;

namespace Tembri.Web.Pages.Songs;

/// <summary>A song on the desk; grades are null while they are still to be made.</summary>
public sealed record DeskRow(SongLine Song, IReadOnlyList<Student> Students, IReadOnlyDictionary<Guid, LadderGrade>? Grades,
    int StudentsPage, Guid? Only);

/// <summary>The songs of the studio, with what is ready for whom; what is looked for, sorted and shown stands in the
/// address.</summary>
[MayBeASecondOld, Kept]
internal sealed class IndexModel(TembriDbContext context, SongGrades grades, StudioSettings settings,
    ArrangingOrders orders) : PageModel
{
    /// <summary>Songs on a page.</summary>
    public const int MostSongs = 50;

    /// <summary>Students side by side.</summary>
    public const int MostStudents = 8;

    public string StudioName { get; private set; } = "";
    public IReadOnlyList<Student> Students { get; private set; } = [];
    public IReadOnlyList<DeskRow> Songs { get; private set; } = [];
    public Stretch SongStretch { get; private set; } = new(0, MostSongs, 0);
    public Stretch StudentStretch { get; private set; } = new(0, MostStudents, 0);

    /// <summary>What is looked for, and how the list stands; all of it in the address.</summary>
    public SongsAsked Asked { get; private set; } = new();

    /// <summary>The studio's own words for songs.</summary>
    public IReadOnlyList<string> Tags { get; private set; } = [];

    /// <summary>Everybody, to choose whose grades are shown.</summary>
    public IReadOnlyList<(Guid Id, string Nickname)> Everybody { get; private set; } = [];

    /// <summary>All songs there are.</summary>
    public int All { get; private set; }

    public StretchLinks SongLinks => new(SongStretch, "songs", to => Asked.Address(to, StudentStretch.Page));
    public StretchLinks StudentLinks => new(StudentStretch, "students", to => Asked.Address(SongStretch.Page, to));

    public async Task OnGetAsync(SongsAsked asked, int? songs, int? students)
    {
        var leaving = HttpContext.RequestAborted;
        Asked = asked;
        StudioName = settings.Studio!.Name;
        Tags = await context.Songs.SelectMany(s => s.Tags).Distinct().OrderBy(t => t).Take(60).ToListAsync(leaving);
        Everybody = [.. (await context.Students.OrderBy(s => s.Nickname).ThenBy(s => s.Id).Select(s => new { s.Id, s.Nickname })
                .ToListAsync(leaving)).Select(s => (s.Id, s.Nickname))];
        var (found, count) = await asked.FindAsync(context, leaving);
        All = asked.Narrows ? await context.Songs.CountAsync(leaving) : count;
        SongStretch = Stretch.Of(songs, MostSongs, count);
        Students = await StudentsAsync(students, asked.Student is { } one && Everybody.Any(e => e.Id == one) ? one : null,
            Everybody.Count);
        var lines = await asked.Ordered(found).Skip(SongStretch.First).Take(MostSongs).Select(SongLine.Of).ToListAsync(leaving);
        var known =
            await grades.FindAsync([.. lines.Select(s => new SongGrades.SongKey(s.Id, s.ChartStamp))], Students, leaving);
        // What each student brings is reckoned once for all songs.
        var odds = Students.ToDictionary(s => s.Id, s => new PlayerOdds(s.ToPlayer()));
        Songs = [.. lines.Select(
            song => new DeskRow(song, Students, Known(song, known, odds), StudentStretch.Page, asked.Student))];
    }

    /// <summary>One row, its grades made now; asked for by the page for rows that were not arranged yet.</summary>
    public async Task<IActionResult> OnGetRowAsync(Guid song, int? students, Guid? student)
    {
        var leaving = HttpContext.RequestAborted;
        var row = await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == song, leaving);
        if (row is null) return NotFound();
        var shown = await StudentsAsync(students, student, await context.Students.CountAsync(leaving));
        var made = await grades.MakeAsync(row, shown, inBackground: false, leaving);
        var known = shown.Where(s => made.ContainsKey(s.Id)).ToDictionary(s => s.Id, s => made[s.Id].Grade(s.ToPlayer()));
        return Partial("_DeskRow", new DeskRow(SongLine.From(row), shown, known, StudentStretch.Page, student));
    }

    /// <summary>How far the library is arranged.</summary>
    public async Task<IActionResult> OnGetArrangingAsync() =>
        Partial("_Arranging", await orders.ProgressAsync(HttpContext.RequestAborted));

    /// <summary>Arranges every song for everybody, in the background.</summary>
    public async Task<IActionResult> OnPostArrangeAsync()
    {
        await orders.OrderAllAsync(HttpContext.RequestAborted);
        return await AnswerAsync();
    }

    /// <summary>Stops what is arranged in the background.</summary>
    public async Task<IActionResult> OnPostStopArrangingAsync()
    {
        await orders.CancelAsync(HttpContext.RequestAborted);
        return await AnswerAsync();
    }

    private async Task<IActionResult> AnswerAsync() =>
        Request.Headers.ContainsKey("HX-Request") ? await OnGetArrangingAsync() : Redirect("/songs");

    private async Task<IReadOnlyList<Student>> StudentsAsync(int? page, Guid? only, int all)
    {
        var students =
            context.Students.AsNoTracking().Where(s => only == null || s.Id == only).OrderBy(s => s.Nickname).ThenBy(s => s.Id);
        StudentStretch = Stretch.Of(page, MostStudents, only is null ? all : 1);
        return await students.Skip(StudentStretch.First).Take(MostStudents).ToListAsync(HttpContext.RequestAborted);
    }

    private Dictionary<Guid, LadderGrade>? Known(SongLine song,
        IReadOnlyDictionary<(Guid Song, Guid Student), LadderOutline> found, Dictionary<Guid, PlayerOdds> odds)
    {
        var known = new Dictionary<Guid, LadderGrade>(Students.Count);
        foreach (var student in Students)
        {
            if (!found.TryGetValue((song.Id, student.Id), out var outline)) return null;
            known[student.Id] = outline.Grade(odds[student.Id]);
        }
        return known;
    }
}
