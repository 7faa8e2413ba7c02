using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages;

/// <summary>Songs and students of the studio by a few letters, for the list of commands.</summary>
[MayBeASecondOld]
internal sealed class FindModel(TembriDbContext context) : PageModel
{
    private const int Most = 8;
    private const int LongestQuestion = 60;

    public sealed record Found(string Name, string Kind, string Address);

    public async Task<IActionResult> OnGetAsync([StringLength(LongestQuestion)] string? q)
    {
        var text = (q ?? "").Trim();
        if (!ModelState.IsValid || text.Length == 0) return new JsonResult(Array.Empty<Found>());
        var like =
            $"%{text.Replace(@"\", @"\\", StringComparison.Ordinal).Replace("%", @"\%", StringComparison.Ordinal).Replace("_", @"\_", StringComparison.Ordinal)}%";
        var leaving = HttpContext.RequestAborted;
        var students = await context.Students.AsNoTracking().Where(s => EF.Functions.ILike(s.Nickname, like, @"\"))
            .OrderBy(s => s.Nickname).Take(Most / 2).ToListAsync(leaving);
        var songs = await context.Songs.AsNoTracking().Where(s => EF.Functions.ILike(s.Title, like, @"\")).OrderBy(s => s.Title).ThenBy(s => s.Id)
            .Take(Most).Select(s => new { s.Id, s.Title }).ToListAsync(leaving);
        var chosen = ChosenStudent.Of(Request, null) is { } who && await context.Students.AnyAsync(s => s.Id == who, leaving)
            ? who
            : (Guid?)null;
        return new JsonResult(songs.Select(
            s => new Found(s.Title, "song", chosen is { } student ? Paths.Ladder(s.Id, student) : Paths.Chart(s.Id)))
            .Concat(students.SelectMany(s => new[]
            {
                new Found(s.Nickname, "student", Paths.Student(s.Id)),
                new Found($"{s.Nickname}, practice", "practice", Paths.Practice(s.Id)),
                new Found($"{s.Nickname}, log", "log", Paths.Log(s.Id))
            })).Take(Most));
    }
}
