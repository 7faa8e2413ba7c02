using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Ladders;

namespace Tembri.Web.Pages;

/// <summary>A song on the desk; grades are null while they are still to be made.</summary>
public sealed record DeskRow(SongLine Song, IReadOnlyList<Student> Students, IReadOnlyDictionary<Guid, LadderGrade>? Grades, int StudentsPage);

/// <summary>The desk: songs and students of the studio, with what is ready for whom.</summary>
internal sealed class IndexModel(TembriDbContext context, SongGrades grades, ArrangingOrders orders) : PageModel
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

    public StretchLinks SongLinks => new(SongStretch, "songs", to => $"/?songs={to}&students={StudentStretch.Page}");
    public StretchLinks StudentLinks => new(StudentStretch, "students", to => $"/?songs={SongStretch.Page}&students={to}");

    public async Task OnGetAsync(int? songs, int? students)
    {
        var leaving = HttpContext.RequestAborted;
        var studio = await context.Studios.Where(s => s.Id == context.CurrentStudioId)
            .Select(s => new { s.Name, Songs = context.Songs.Count(), Students = context.Students.Count() }).FirstOrDefaultAsync(leaving);
        StudioName = studio?.Name ?? "";
        SongStretch = Stretch.Of(songs, MostSongs, studio?.Songs ?? 0);
        Students = await StudentsAsync(students, studio?.Students ?? 0);
        var lines = await context.Songs.OrderBy(s => s.Title).ThenBy(s => s.Id).Skip(SongStretch.First).Take(MostSongs).Select(SongLine.Of).ToListAsync(leaving);
        var found = await grades.FindAsync([.. lines.Select(s => new SongGrades.SongKey(s.Id, s.ChartStamp))], Students, leaving);
        Songs = [.. lines.Select(song => new DeskRow(song, Students, Known(song, found), StudentStretch.Page))];
    }

    /// <summary>One row, its grades made now; asked for by the page for rows that were not arranged yet.</summary>
    public async Task<IActionResult> OnGetRowAsync(Guid song, int? students)
    {
        var leaving = HttpContext.RequestAborted;
        var row = await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == song, leaving);
        if (row is null) return NotFound();
        var shown = await StudentsAsync(students, await context.Students.CountAsync(leaving));
        var made = await grades.MakeAsync(row, shown, inBackground: false, leaving);
        var known = shown.Where(s => made.ContainsKey(s.Id)).ToDictionary(s => s.Id, s => made[s.Id].Grade(s.ToPlayer()));
        return Partial("_DeskRow", new DeskRow(SongLine.From(row), shown, known, StudentStretch.Page));
    }

    /// <summary>How far the library is arranged.</summary>
    public async Task<IActionResult> OnGetArrangingAsync() => Partial("_Arranging", await orders.ProgressAsync(HttpContext.RequestAborted));

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

    private async Task<IActionResult> AnswerAsync() => Request.Headers.ContainsKey("HX-Request") ? await OnGetArrangingAsync() : Redirect("/");

    private async Task<IReadOnlyList<Student>> StudentsAsync(int? page, int all)
    {
        StudentStretch = Stretch.Of(page, MostStudents, all);
        return await context.Students.AsNoTracking().OrderBy(s => s.Nickname).ThenBy(s => s.Id).Skip(StudentStretch.First).Take(MostStudents).ToListAsync(HttpContext.RequestAborted);
    }

    private Dictionary<Guid, LadderGrade>? Known(SongLine song, IReadOnlyDictionary<(Guid Song, Guid Student), LadderOutline> found)
    {
        var known = new Dictionary<Guid, LadderGrade>(Students.Count);
        foreach (var student in Students)
        {
            if (!found.TryGetValue((song.Id, student.Id), out var outline)) return null;
            known[student.Id] = outline.Grade(student.ToPlayer());
        }
        return known;
    }
}
