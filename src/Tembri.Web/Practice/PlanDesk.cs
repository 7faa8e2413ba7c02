using Microsoft.EntityFrameworkCore;
using Tembri.Core.Changes;
using Tembri.Core.Ladders;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Practice;

/// <summary>A song a student works on, opened.</summary>
/// <param name="Work">The row.</param>
/// <param name="Open">The ladder.</param>
/// <param name="Rung">The rung that is worked on.</param>
/// <param name="Advice">Whether to go up or down.</param>
internal sealed record WorkedSong(SongWork Work, OpenLadder Open, PlayableRung Rung, StepAdvice Advice)
{
    public VersionFit Fit => Open.FitOf(Rung)!;
}

/// <summary>A student's practice as it stands: the log, the songs, the plan.</summary>
internal sealed record StudentPractice(Student Student, LogReading Log, IReadOnlyList<WorkedSong> Songs,
    IReadOnlyList<PlanDay> Plan, PlanWishes Wishes)
{
    public bool Hurts => Student.Progress?.Hurts ?? false;
}

/// <summary>Opens a student's practice from stored rows.</summary>
internal sealed class PlanDesk(TembriDbContext context, LadderDesk desk, Logbook logbook, SightsNoted noted, Onlooker onlooker,
    TimeProvider clock)
{
    /// <summary>The most songs a student works on at once.</summary>
    public const int MostSongs = 6;

    private const double PlayedAt = 0.9;         // of the song's tempo: a stretch at nine tenths counts as played
    // clean changes a minute that count as going, for a change of no song that is worked on
    private const double WentWithoutSong = 30;

    /// <summary>Opens it; null when there is no such student.</summary>
    public async Task<StudentPractice?> OpenAsync(Guid studentId, int days, CancellationToken leaving)
    {
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == studentId, leaving) is not { } student)
            return null;
        var log = await logbook.ReadAsync(student, leaving);
        var works = await context.SongWorks.AsNoTracking().Where(w => w.StudentId == studentId && w.EndedAt == null)
            .OrderByDescending(w => w.StartedAt).Take(MostSongs).ToListAsync(leaving);
        // The goal comes first.
        var songs = new List<WorkedSong>();
        foreach (var work in works.OrderBy(w => w.SongId == student.GoalSongId ? 0 : 1))
        {
            if (await desk.OpenAsync(work.SongId, studentId, null, leaving) is not { } open) continue;
            var rungs = open.Ladder.Playable.ToList();
            if ((rungs.FirstOrDefault(r => r.Number == work.Rung) ?? rungs.LastOrDefault(r => r.Number < work.Rung)
                ?? rungs.FirstOrDefault()) is not { } rung)
                continue;
            songs.Add(new WorkedSong(work, open, rung,
                StepAdvice.Of(open.Graded, rung.Number, EvidenceOf(work, rung, log), student.Progress?.Hurts ?? false,
                    student.SingsAlong)));
        }
        var wishes = PlanWishes.Read(student.Progress?.PlanWishes);
        var plan = PracticePlan.Make(new PlanRequest
        {
            Songs = [.. songs.Select(
                s => new PlanSong(s.Work.SongId.ToString(), s.Open.Song.Title, s.Rung, s.Fit) { WentAt = WentAt(s, log) })],
            Skills = student.ToPlayer().Skills, AgeGroup = student.AgeGroup,
            MinutesADay = Math.Clamp(student.MinutesADay, 1, Student.MostMinutes), From = Today, Days = days,
            Hurts = student.Progress?.Hurts ?? false,
            Done = DaysOf(log, songs), Wishes = wishes,
        });
        return new StudentPractice(student, log, songs, plan, wishes);
    }

    /// <summary>True when a student works on a song, so that it may be shown behind the student's link.</summary>
    public Task<bool> WorksOnAsync(Guid studentId, Guid songId, CancellationToken leaving) =>
        context.SongWorks.AnyAsync(w => w.StudentId == studentId && w.SongId == songId && w.EndedAt == null, leaving);

    /// <summary>Writes down that somebody looked at what is kept of a student, once a day for each who and what.</summary>
    public async Task NoteSightAsync(Guid studentId, string who, string what, CancellationToken leaving)
    {
        var sight =
            new Sight(context.CurrentStudioId!.Value, studentId, DateOnly.FromDateTime(clock.GetUtcNow().Date), who, what);
        if (onlooker.IsNobody || noted.Has(sight)) return;
        await context.Database.ExecuteSqlAsync(
            $"insert into student_sights (studio_id, student_id, day, who, what) values ({sight.Studio}, {sight.Student}, {sight.Day}, {who}, {what}) on conflict do nothing",
            leaving);
        noted.Add(sight);
    }

    public DateOnly Today => DateOnly.FromDateTime(clock.GetLocalNow().Date);

    private static StepAdvice.Evidence EvidenceOf(SongWork work, PlayableRung rung, LogReading log)
    {
        var since = log.Entries.Where(
                e => e.SongId == work.SongId && e.Rung == rung.Number && e.At >= work.StartedAt && e.Kind != PracticeKind.Note)
            .ToList();
        return new StepAdvice.Evidence(
            since.Select(e => e.At.Date).Distinct().Count(),
            since.Count(e => e.Kind == PracticeKind.Clean && e.Went != false && e.Tempo >= PlayedAt * rung.Song.Chart.Tempo));
    }

    /// <summary>The quickest tempo that went clean on the last day of playing at this rung; null for none.</summary>
    private static double? WentAt(WorkedSong song, LogReading log) =>
        log.Entries.Where(e => e is { Kind: PracticeKind.Clean, Tempo: not null } && e.SongId == song.Work.SongId
            && e.Rung == song.Rung.Number && e.Went != false)
            .GroupBy(e => e.At.Date).OrderByDescending(g => g.Key).FirstOrDefault()?.Max(e => e.Tempo!.Value);

    /// <summary>On which days what was practised.</summary>
    private static PracticeDays DaysOf(LogReading log, List<WorkedSong> songs)
    {
        var available = songs.SelectMany(s => s.Rung.Changes.Select((c, i) => (
                Key: PracticeItem.Change(s.Rung.PlayedAs(c.From).Choice.Fingering.Shape,
                    s.Rung.PlayedAs(c.To).Choice.Fingering.Shape), Seconds: s.Fit.Changes[i].AvailableSeconds)))
            .GroupBy(x => x.Key).ToDictionary(g => g.Key, g => g.Min(x => x.Seconds));
        var days = PracticeDays.From(log.Evidence.OfType<Evidence>(), (from, to, aMinute) =>
            aMinute > 0
                && (available.TryGetValue(PracticeItem.Change(from, to), out var seconds)
                    ? TimedChanges.SecondsOf(aMinute) <= seconds
                    : aMinute >= WentWithoutSong));
        foreach (var entry in log.Entries)
        {
            var day = PracticeDays.Day(entry.At);
            if (entry is { Kind: PracticeKind.Strum, Pattern: { } pattern })
                days.Add(PracticeItem.Strum(pattern), day, entry.Went != false);
            if (entry is { Kind: PracticeKind.Clean, SongId: { } song })
            {
                var worked = songs.Find(s => s.Work.SongId == song);
                var section = worked?.Rung.Song.Chart.Sections.ToList()
                        .FindIndex(s => entry.Text.StartsWith(s.Name, StringComparison.OrdinalIgnoreCase)) ?? -1;
                days.Add(section >= 0 ? PracticeItem.Section(song.ToString(), section) : PracticeItem.Form(song.ToString()), day,
                    entry.Went != false);
            }
        }
        return days;
    }
}
