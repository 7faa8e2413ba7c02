using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Web.Setup;

namespace Tembri.Web.Practice;

/// <summary>A step of a teacher's first hour.</summary>
/// <param name="What">What to do.</param>
/// <param name="Why">What comes of it.</param>
/// <param name="Address">Where it is done; null while it cannot be done yet.</param>
/// <param name="Done">True once it was done.</param>
internal sealed record FirstStep(string What, string Why, string? Address, bool Done);

/// <summary>The way of an empty studio to its first sheet, in five steps; what is done is read off what is there.</summary>
internal sealed record FirstHour(IReadOnlyList<FirstStep> Steps, int Examples)
{
    /// <summary>True when all of it is done.</summary>
    public bool IsDone => Steps.All(s => s.Done);

    /// <summary>Looks what a studio has done.</summary>
    public static async Task<FirstHour> OfAsync(TembriDbContext context, CancellationToken leaving)
    {
        var song = await context.Songs.OrderBy(s => s.ChangedAt).Where(s => s.ChordCount > 0).Select(s => (Guid?)s.Id)
            .FirstOrDefaultAsync(leaving);
        var student = await context.Students.OrderBy(s => s.ChangedAt).Select(s => (Guid?)s.Id).FirstOrDefaultAsync(leaving);
        var arranged = await context.ArrangedLadders.AnyAsync(leaving);
        var works = await context.SongWorks.OrderByDescending(w => w.StartedAt)
            .Select(w => new { w.SongId, w.StudentId, w.Rung }).FirstOrDefaultAsync(leaving);
        var linked = await context.StudentLinks.AnyAsync(l => l.StudioId == context.CurrentStudioId, leaving);
        var examples = await context.Songs.CountAsync(s => s.IsExample, leaving);
        var ladder = song is { } s && student is { } who ? Paths.Ladder(s, who) : null;
        return new FirstHour([
            new FirstStep("Take a song down", "Paste a chart of your own, or take an example.", "/songs/new", song is not null),
            new FirstStep("Add a student", "A nickname, a hand and a guitar are enough.", "/students/new", student is not null),
            new FirstStep("Open the ladder", "Five versions of the song for that hand, with a capo and shapes for each.", ladder,
                arranged && ladder is not null),
            new FirstStep("Hand out a sheet", "Choose the rung that is ready, say that it is worked on, and print it.",
                works is { } w ? Paths.Sheet(w.SongId, w.StudentId, w.Rung) : student is { } p ? Paths.Practice(p) : null,
                works is not null),
            new FirstStep("Give the student a link", "The plan, the sheet and counting on the phone, without an account.",
                student is { } l ? Paths.Practice(l) + "#link" : null, linked),
        ], examples);
    }
}
