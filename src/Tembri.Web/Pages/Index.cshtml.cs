using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Changes;
using Tembri.Core.Lessons;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Data;
using Tembri.Data.Lessons;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages;

/// <summary>The teacher's day: its lessons, who practised, who is stuck on what, what to do next. Ladders are opened row by row,
/// those in sight first.</summary>
[MayBeASecondOld, Kept]
internal sealed class IndexModel(TembriDbContext context, PlanDesk plans, LessonBook lessons, SongGrades grades,
    StudioSettings settings, TimeProvider clock) : PageModel
{
    private const int WeekDays = 7, MostOthers = 6, LastSongs = 6, MostWedges = 12;
    private const double Enough = 60;   // clean changes a minute that are enough for anything

    /// <summary>A lesson of the day with whoever comes.</summary>
    public sealed record Row(Lesson Lesson, LessonOn On, IReadOnlyList<Student> Students);

    /// <summary>A song with how far each student is with it, 0 for nothing ready to 1 for the highest rung.</summary>
    public sealed record SongRow(SongLine Song, IReadOnlyList<double> Ready, int ReadyFor, int GrowingFor);

    public DateOnly Day { get; private set; }
    public bool IsToday => Day == plans.Today;
    public string StudioName { get; private set; } = "";
    public IReadOnlyList<Row> Lessons { get; private set; } = [];
    public IReadOnlyDictionary<Guid, TodayFacts> Facts { get; private set; } = new Dictionary<Guid, TodayFacts>();

    /// <summary>Students without a lesson on the day who want a look: something hurts, or nothing was practised for
    /// long.</summary>
    public IReadOnlyList<TodayRow> Others { get; private set; } = [];
    public IReadOnlyList<SongRow> Songs { get; private set; } = [];
    public int AllSongs { get; private set; }
    public int AllStudents { get; private set; }
    public FreeDays? Free { get; private set; }

    /// <summary>The next day with a lesson; null when there is none soon.</summary>
    public DateOnly? Next { get; private set; }

    /// <summary>What a new studio does first; null once it has done all of it.</summary>
    public FirstHour? Begin { get; private set; }

    public async Task OnGetAsync(DateOnly? day)
    {
        var leaving = HttpContext.RequestAborted;
        Day = ModelState.IsValid && day is { Year: > 1900 and < 2200 } asked ? asked : plans.Today;
        var studio = settings.Studio!;
        (StudioName, AllSongs) = (studio.Name, await context.Songs.CountAsync(leaving));
        var book = await lessons.ReadAsync(leaving);
        Free = book.Free.FirstOrDefault(f => f.Holds(Day));
        var on = book.On(Day);
        var ids = on.SelectMany(l => l.Lesson.Students.Select(s => s.StudentId)).ToHashSet();
        var silent = clock.GetUtcNow().AddDays(-TodayRow.SilentDays);
        // Who is shown is found on a few words of each: the database plans and reads that far quicker than one question for
        // all.
        var everybody = await context.Students.OrderBy(s => s.Nickname).ThenBy(s => s.Id)
            .Select(s => new { s.Id, s.Progress!.HurtAt, s.Progress.PractisedAt,
                Hurts = s.Progress.HurtAt != null
                    && (s.Progress.PainClearedAt == null || s.Progress.HurtAt > s.Progress.PainClearedAt) })
            .ToListAsync(leaving);
        AllStudents = everybody.Count;
        // Who hurts comes first, whatever hurt others before it was cleared.
        var quiet = everybody.Where(s => !ids.Contains(s.Id) && (s.Hurts || s.PractisedAt < silent))
            .OrderByDescending(s => s.Hurts ? s.HurtAt : null).Take(MostOthers).Select(s => s.Id).ToList();
        var first = everybody.Take(MostWedges).Select(s => s.Id).ToList();
        var wanted = ids.Concat(quiet).Concat(first).ToHashSet();
        var found = await context.Students.AsNoTracking().Where(s => wanted.Contains(s.Id)).OrderBy(s => s.Nickname)
            .ThenBy(s => s.Id).ToListAsync(leaving);
        var students = found.Where(s => ids.Contains(s.Id)).ToList();
        var others = found.Where(s => quiet.Contains(s.Id))
            .OrderByDescending(s => s.Progress is { Hurts: true } progress ? progress.HurtAt : null).ToList();
        Facts = await FactsAsync([.. students, .. others]);
        Lessons = [.. on.Select(l => new Row(l.Lesson, l.On,
            [.. l.Lesson.Students.Select(s => students.FirstOrDefault(x => x.Id == s.StudentId)).OfType<Student>()
                .OrderBy(s => s.Nickname)]))];
        Others = [.. others.Select(s => new TodayRow(s, Facts[s.Id], null, []))];
        Next = book.NextAfter(Day);
        await FindSharedAsync(leaving);
        Songs = await SongsAsync([.. found.Where(s => first.Contains(s.Id))], leaving);
        if (!studio.FirstHourDone) Begin = await FirstHour.OfAsync(context, leaving);
    }

    private readonly Dictionary<Guid, List<(Guid Id, string Title)>> _shared = [];

    /// <summary>The songs that several who come together work on.</summary>
    public IReadOnlyList<(Guid Id, string Title)> SharedBy(Row row) => _shared.GetValueOrDefault(row.Lesson.Id) ?? [];

    private async Task FindSharedAsync(CancellationToken leaving)
    {
        var groups = Lessons.Where(l => l.Students.Count > 1).ToList();
        if (groups.Count == 0) return;
        var ids = groups.SelectMany(g => g.Students.Select(s => s.Id)).ToList();
        var works = await context.SongWorks.AsNoTracking().Where(w => w.EndedAt == null && ids.Contains(w.StudentId))
            .Join(context.Songs, w => w.SongId, s => s.Id, (w, s) => new { w.StudentId, s.Id, s.Title }).ToListAsync(leaving);
        // What most of them work on comes first; a song of one alone may become everybody's.
        foreach (var row in groups)
            _shared[row.Lesson.Id] = [.. works.Where(w => row.Students.Any(s => s.Id == w.StudentId))
                .GroupBy(w => (w.Id, w.Title)).OrderByDescending(g => g.Count()).ThenBy(g => g.Key.Title).Select(g => g.Key)
                .Take(2)];
    }

    private async Task<List<SongRow>> SongsAsync(IReadOnlyList<Student> students, CancellationToken leaving)
    {
        var lines = await context.Songs.OrderByDescending(s => s.ChangedAt).ThenBy(s => s.Title).ThenBy(s => s.Id)
            .Take(LastSongs)
            .Select(SongLine.Of).ToListAsync(leaving);
        var found =
            await grades.FindAsync([.. lines.Select(s => new SongGrades.SongKey(s.Id, s.ChartStamp))], students, leaving);
        var odds = students.ToDictionary(s => s.Id, s => new Core.Students.PlayerOdds(s.ToPlayer()));
        return [.. lines.Select(song =>
        {
            var known = students.Select(
                    s => found.TryGetValue((song.Id, s.Id), out var outline) ? outline.Grade(odds[s.Id]) : null)
                .OfType<Core.Students.LadderGrade>().ToList();
            double Share(Core.Students.LadderGrade g) =>
                g.Rungs.Count == 0
                    ? 0
                    : (g.Rungs.ToList().FindLastIndex(r => r?.Verdict == Core.Students.Verdict.Ready) + 1)
                        / (double)g.Rungs.Count;
            var ready = known.Select(Share).ToList();
            return new SongRow(song, ready, ready.Count(r => r > 0),
                known.Count(g => g.Rungs.Any(r => r?.Verdict == Core.Students.Verdict.Growing) && Share(g) == 0));
        })];
    }

    /// <summary>One row, with its ladders.</summary>
    public async Task<IActionResult> OnGetRowAsync(Guid id)
    {
        if (await plans.OpenAsync(id, 1, HttpContext.RequestAborted) is not { } practice) return NotFound();
        var facts = await FactsAsync([practice.Student]);
        var available = practice.Songs.SelectMany(s => s.Rung.Changes.Select((c, i) => (
                Pair: (From: s.Rung.PlayedAs(c.From).Choice.Fingering.Shape, To: s.Rung.PlayedAs(c.To).Choice.Fingering.Shape),
                s.Fit.Changes[i].AvailableSeconds)))
            .GroupBy(x => x.Pair).ToDictionary(g => g.Key, g => g.Min(x => x.AvailableSeconds));
        // A change that no song asks for any more is no longer in the way.
        var stuck = StuckChange.Of(practice.Log.Evidence.OfType<Evidence>(), clock.GetUtcNow(), (from, to, aMinute) =>
            aMinute >= Enough || !available.TryGetValue((from, to), out var seconds)
                || TimedChanges.SecondsOf(Math.Max(0.1, aMinute)) <= seconds);
        return Partial("_TodayRow", new TodayRow(practice.Student, facts[id], practice, stuck));
    }

    /// <summary>What is shown to a new studio is seen.</summary>
    public async Task<IActionResult> OnPostBegunAsync()
    {
        await context.Studios.Where(s => s.Id == context.CurrentStudioId)
            .ExecuteUpdateAsync(set => set.SetProperty(s => s.FirstHourDone, true));
        return Redirect("/");
    }

    private async Task<Dictionary<Guid, TodayFacts>> FactsAsync(IReadOnlyList<Student> students)
    {
        var ids = students.Select(s => s.Id).ToList();
        var since = clock.GetUtcNow().AddDays(-WeekDays);
        var week = (await context.PracticeEntries.AsNoTracking()
            .Where(e => ids.Contains(e.StudentId) && e.EndedAt == null && e.At >= since && e.Kind != PracticeKind.Note)
            .Select(e => new { e.StudentId, e.At, e.Minutes }).ToListAsync()).ToLookup(e => e.StudentId);
        // From the newest entry back to the first note of each.
        var notes = await context.Students.Where(s => ids.Contains(s.Id))
            .Select(s => new { s.Id, Text = context.PracticeEntries
                .Where(e => e.StudentId == s.Id && e.EndedAt == null && e.Kind == PracticeKind.Note && e.By == Author.Teacher
                    && e.Text != "")
                .OrderByDescending(e => e.At).Select(e => e.Text).FirstOrDefault() })
            .ToDictionaryAsync(n => n.Id, n => n.Text);
        return students.ToDictionary(s => s.Id, s => new TodayFacts(
            week[s.Id].Select(e => e.At.Date).Distinct().Count(), week[s.Id].Sum(e => e.Minutes ?? 0),
            s.Progress?.PractisedAt is { } last
                ? Math.Max(0, plans.Today.DayNumber - DateOnly.FromDateTime(last.Date).DayNumber)
                : null, notes.GetValueOrDefault(s.Id)));
    }
}
