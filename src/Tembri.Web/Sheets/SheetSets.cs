using System.Text.Json;
using Hangfire;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Ladders;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Studios;
using Tembri.Web.Computing;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Sheets;

/// <summary>One sheet of a set.</summary>
internal sealed record SheetWanted(Guid Song, Guid Student, int Rung);

/// <summary>Sheets for a whole class or week as one booklet: ordered here, made in the background.</summary>
internal sealed class SheetSets(TembriDbContext context, IBackgroundJobClient jobs, TimeProvider clock)
{
    /// <summary>The most sheets in one booklet.</summary>
    public const int Most = 200;

    private static readonly TimeSpan KeptFor = TimeSpan.FromDays(1);

    /// <summary>What students work on, one sheet each.</summary>
    public async Task<List<SheetWanted>> WorkedOnAsync(IReadOnlyCollection<Guid> students, CancellationToken leaving) =>
        await context.SongWorks.AsNoTracking().Where(w => w.EndedAt == null && students.Contains(w.StudentId))
            .OrderBy(w => w.StudentId).ThenBy(w => w.StartedAt)
            .Select(w => new SheetWanted(w.SongId, w.StudentId, w.Rung)).Take(Most).ToListAsync(leaving);

    /// <summary>Orders a booklet.</summary>
    /// <returns>The row that tells how far it is.</returns>
    public async Task<Guid> OrderAsync(string name, IReadOnlyList<SheetWanted> sheets, CancellationToken leaving)
    {
        var old = clock.GetUtcNow() - KeptFor;
        await context.SheetJobs.Where(j => j.CreatedAt < old).ExecuteDeleteAsync(leaving);
        var job = new SheetJob
        {
            Name = name, Sheets = JsonSerializer.Serialize(sheets), All = sheets.Count, CreatedAt = clock.GetUtcNow()
        };
        context.AddOwned(job);
        await context.SaveChangesAsync(leaving);
        var (studio, id) = (job.StudioId, job.Id);
        await jobs.GiveAsync(queue => queue.Enqueue<SheetSetWork>(work => work.RunAsync(studio, id, CancellationToken.None)),
            leaving);
        return id;
    }
}

/// <summary>Makes an ordered booklet. A worker that is lost is followed by another, which begins anew.</summary>
internal sealed class SheetSetWork(TembriDbContext context, ICurrentStudio current, LadderDesk desk, Booklet booklet,
    ComputeLanes lanes)
{
    /// <summary>Makes it, unless nobody wants it any more; what fails is said where it is waited for.</summary>
    [Queue(BackgroundArranging.Asked), AutomaticRetry(Attempts = 3, OnAttemptsExceeded = AttemptsExceededAction.Delete)]
    public async Task RunAsync(Guid studio, Guid id, CancellationToken stopping)
    {
        ((SignedInStudio)current).Override = studio;
        try { await MakeAsync(studio, id, stopping); }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            await context.SheetJobs.Where(j => j.Id == id)
                .ExecuteUpdateAsync(set => set.SetProperty(j => j.Left,
                        "It failed and is tried again a few times. Look here again in some minutes; if nothing comes, order "
                            + "fewer sheets."),
                    CancellationToken.None);
            throw;
        }
    }

    private async Task MakeAsync(Guid studio, Guid id, CancellationToken stopping)
    {
        if (await context.SheetJobs.AsNoTracking()
            .FirstOrDefaultAsync(j => j.Id == id, stopping) is not { IsCancelled: false, Pdf: null } job)
            return;
        var settings = await context.Studios.AsNoTracking().SingleAsync(s => s.Id == studio, stopping);
        var habits = SheetHabits.FromJson(settings.Sheets);
        var asked = new SheetAsked(habits.Kind, habits.IsLetter, habits.Large, true, settings.FretsFromNut, settings.NoteNames);
        var (sheets, left, done) = (new List<PaperSheet>(), new List<string>(), 0);
        foreach (var wanted in JsonSerializer.Deserialize<List<SheetWanted>>(job.Sheets)!)
        {
            if (await desk.OpenAsync(wanted.Song, wanted.Student, leaving: stopping) is { } open
                && (open.Ladder.Find(wanted.Rung) as PlayableRung ?? open.Ladder.Playable.FirstOrDefault()) is { } rung)
                sheets.Add(new RungSheet(new SheetOf(open.Song.Title, open.Student.Nickname, open.Student.LeftHanded,
                            open.Ladder, rung, open.Ladder.Playable.LastOrDefault(r => r.Limits.Height < rung.Limits.Height),
                            open.FitOf(rung)!), asked).Write());
            else left.Add("one sheet could not be made: its song or student went, or no rung can be played");
            done++;
            // How far it is and whether somebody still wants it are one question.
            if (await context.SheetJobs.Where(j => j.Id == id && !j.IsCancelled)
                    .ExecuteUpdateAsync(set => set.SetProperty(j => j.Done, done), stopping) == 0)
                return;
            context.ChangeTracker.Clear();
        }
        var pdf = sheets.Count == 0
            ? null
            : await lanes.ForBackgroundAsync(work => booklet.Write(job.Name, sheets, asked.IsLetter, cancel: work.Cancel),
                stopping);
        var said = string.Join("; ", left);
        await context.SheetJobs.Where(j => j.Id == id && !j.IsCancelled)
            .ExecuteUpdateAsync(set => set.SetProperty(j => j.Pdf, pdf)
                    .SetProperty(j => j.Left, pdf is null ? "Nothing of it could be made." : said), stopping);
    }
}
