using Microsoft.EntityFrameworkCore;
using Tembri.Core.Practice;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Setup;

namespace Tembri.Web.Practice;

/// <summary>What became of an entry that was sent.</summary>
/// <param name="Key">The key it was sent with.</param>
/// <param name="Kept">True when it is in the log, now or already before.</param>
/// <param name="Fault">Why it is not; null when it is.</param>
public sealed record EntryOutcome(Guid? Key, bool Kept, string? Fault);

/// <summary>A log, with what it teaches; that is reckoned when it is asked for, since many pages only ask what was
/// done.</summary>
/// <param name="student">Whose it is.</param>
/// <param name="entries">The entries that count, the oldest first.</param>
/// <param name="now">The time it is read for.</param>
public sealed class LogReading(Student student, IReadOnlyList<PracticeEntry> entries, DateTimeOffset now)
{
    private readonly Lazy<IReadOnlyList<Evidence?>> _evidence = new(() =>
    {
        var reader = new EntryEvidence(student);
        return [.. entries.Select(reader.Of)];
    });

    private (Learnt Learnt, IReadOnlyDictionary<Guid, SkillStep> Steps, SkillBelief Belief)? _taught;

    /// <summary>The entries that count, the oldest first.</summary>
    public IReadOnlyList<PracticeEntry> Entries => entries;

    /// <summary>What each is evidence for; null for nothing.</summary>
    public IReadOnlyList<Evidence?> Evidence => _evidence.Value;

    /// <summary>What came of it.</summary>
    public Learnt Learnt => Taught.Learnt;

    /// <summary>What each entry did, by its id.</summary>
    public IReadOnlyDictionary<Guid, SkillStep> Steps => Taught.Steps;

    /// <summary>What is believed of the skills.</summary>
    public SkillBelief Belief => Taught.Belief;

    private (Learnt Learnt, IReadOnlyDictionary<Guid, SkillStep> Steps, SkillBelief Belief) Taught => _taught ??= Learn();

    private (Learnt, IReadOnlyDictionary<Guid, SkillStep>, SkillBelief) Learn()
    {
        var telling = Enumerable.Range(0, entries.Count).Where(i => Evidence[i] is not null).ToList();
        var (learnt, history) =
            Core.Practice.Learnt.From(student.Skills, [.. telling.Select(i => Evidence[i]!)], now, student.GuessedAt);
        return (learnt, history.Steps.ToDictionary(s => entries[telling[s.Index]].Id), history.Belief);
    }
}

/// <summary>A student's log: takes entries in, each once; takes them back and corrects them, with what was there before; and
/// learns from what counts.</summary>
internal sealed class Logbook(TembriDbContext context, LogStanding standing, Onlooker onlooker, TimeProvider clock)
{
    /// <summary>The most entries in one sending.</summary>
    public const int LargestBatch = 2_000;

    /// <summary>The most entries of one student: many years of several a day.</summary>
    public const int Most = 40_000;

    /// <summary>Keeps entries.</summary>
    /// <param name="studentId">Whose they are.</param>
    /// <param name="sent">The entries.</param>
    /// <param name="by">Who sends them.</param>
    /// <param name="cancel">Ends the work.</param>
    /// <returns>What became of each, in their order; null when there is no such student.</returns>
    public async Task<IReadOnlyList<EntryOutcome>?> KeepAsync(Guid studentId, IReadOnlyList<NewEntry> sent, Author by,
        CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var made = sent.Select(s => (Sent: s, Row: EntryCheck.Make(s, now, out var fault), Fault: fault)).ToList();
        return await ChangeAsync(studentId, async student =>
        {
            var keys = made.Where(m => m.Sent.Key is not null).Select(m => m.Sent.Key).ToList();
            var known = (await context.PracticeEntries.Where(e => keys.Contains(e.RequestKey)).Select(e => e.RequestKey!.Value)
                    .ToListAsync(cancel)).ToHashSet();
            if (await context.PracticeEntries.CountAsync(e => e.StudentId == student.Id, cancel) + made.Count > Most)
                return [.. made.Select(m => new EntryOutcome(m.Sent.Key, false,
                    $"This log is full: {Most:N0} entries are the most. Take it out as a table and let old entries go."))];
            var asked = made.Select(m => m.Sent.Song).OfType<Guid>().Distinct().ToList();
            var songs = (await context.Songs.Where(s => asked.Contains(s.Id)).Select(s => s.Id).ToListAsync(cancel)).ToHashSet();
            foreach (var (entry, row, _) in made)
            {
                if (row is null || entry.Key is { } key && !known.Add(key)) continue;
                (row.StudentId, row.By) = (student.Id, by);
                // Practised all the same, though the song was taken out meanwhile.
                if (row.SongId is { } song && !songs.Contains(song)) row.SongId = null;
                context.AddOwned(row);
            }
            return (IReadOnlyList<EntryOutcome>)[.. made.Select(m => new EntryOutcome(m.Sent.Key, m.Row is not null, m.Fault))];
        }, cancel);
    }

    /// <summary>Takes an entry back; it stays readable, and counts no more.</summary>
    public Task<bool> TakeBackAsync(Guid studentId, Guid entryId, Author by,
        CancellationToken cancel) => EndAsync(studentId, entryId, by, (entry, now) =>
    {
        if (entry.EndedAt is not null) return false;
        (entry.EndedAt, entry.EndedBy) = (now, by);
        return true;
    }, cancel);

    /// <summary>Lets an entry that was taken back count again.</summary>
    public Task<bool> PutBackAsync(Guid studentId, Guid entryId,
        CancellationToken cancel) => EndAsync(studentId, entryId, Author.Teacher, (entry, _) =>
    {
        if (entry.EndedAt is null) return false;
        (entry.EndedAt, entry.EndedBy) = (null, null);
        return true;
    }, cancel);

    private async Task<bool> EndAsync(Guid studentId, Guid entryId, Author by, Func<PracticeEntry, DateTimeOffset, bool> change,
        CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        return await ChangeAsync(studentId, async _ =>
            await context.PracticeEntries.FirstOrDefaultAsync(
                e => e.Id == entryId && e.StudentId == studentId && (by == Author.Teacher || e.By == by), cancel) is { } entry
            && (by == Author.Student
                || !await context.PracticeEntries.AnyAsync(e => e.Corrects == entryId && e.EndedAt == null, cancel))
            && change(entry, now), cancel);
    }

    /// <summary>Puts a corrected entry in the place of another.</summary>
    /// <returns>What became of it; null when there is no such student or entry.</returns>
    public async Task<EntryOutcome?> CorrectAsync(Guid studentId, Guid entryId, NewEntry sent, Author by,
        CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var row = EntryCheck.Make(sent, now, out var fault);
        if (row is null) return new EntryOutcome(sent.Key, false, fault);
        return await ChangeAsync(studentId, async student =>
        {
            if (await context.PracticeEntries.FirstOrDefaultAsync(e => e.Id == entryId && e.StudentId == studentId,
                cancel) is not { } old)
                return null;
            if (sent.Key is { } key && await context.PracticeEntries.AnyAsync(e => e.RequestKey == key, cancel))
                return new EntryOutcome(sent.Key, true, null);
            if (old.EndedAt is not null)
                return new EntryOutcome(sent.Key, false,
                    "This entry was corrected or taken back meanwhile; look at the log as it is now.");
            (old.EndedAt, old.EndedBy) = (now, by);
            (row.StudentId, row.By, row.Corrects) = (student.Id, old.By, old.Id);
            context.AddOwned(row);
            return new EntryOutcome(sent.Key, true, null);
        }, cancel);
    }

    /// <summary>Learns anew, such as after the teacher's numbers changed.</summary>
    public Task LearnAsync(Guid studentId, CancellationToken cancel) =>
        ChangeAsync(studentId, _ => Task.FromResult(true), cancel);

    /// <summary>Changes a student's progress, one after the other.</summary>
    /// <param name="studentId">The student.</param>
    /// <param name="change">The change.</param>
    /// <param name="cancel">Ends the work.</param>
    public Task<bool> ProgressAsync(Guid studentId, Action<StudentProgress> change,
        CancellationToken cancel) => ChangeAsync(studentId, student =>
    {
        change(student.Progress!);
        return Task.FromResult(true);
    }, cancel);

    /// <summary>Reads the log with what it taught.</summary>
    /// <param name="student">The student.</param>
    /// <param name="cancel">Ends the work.</param>
    public async Task<LogReading> ReadAsync(Student student, CancellationToken cancel)
    {
        var log = context.PracticeEntries.AsNoTracking().Where(e => e.StudentId == student.Id && e.EndedAt == null)
            .OrderBy(e => e.At).ThenBy(e => e.Id);
        // Tried again as a whole: a query that is tried again by itself is held in memory twice, and a log is long.
        var entries = await context.Database.CreateExecutionStrategy().ExecuteAsync(log.ToListAsync, cancel);
        return new LogReading(student, entries, clock.GetUtcNow());
    }

    /// <summary>One change of a student's log at a time: two phones that hand in at once are taken one after the other, and what
    /// is learnt is learnt from both.</summary>
    private async Task<T?> ChangeAsync<T>(Guid studentId, Func<Student, Task<T>> change,
        CancellationToken cancel) => await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
    {
        context.ChangeTracker.Clear();
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        await context.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock(hashtextextended({studentId.ToString()}, 0))",
            cancel);
        if (await context.Students.FirstOrDefaultAsync(s => s.Id == studentId, cancel) is not { } student) return default;
        if (student.Progress is null)
        {
            student.Progress = new StudentProgress { StudentId = student.Id };
            context.AddOwned(student.Progress);
        }
        var learner = await standing.OpenAsync(student, cancel);
        var answer = await change(student);
        var rows = context.ChangeTracker.Entries<PracticeEntry>().Where(e => e.State != EntityState.Unchanged).ToList();
        var added = rows.TrueForAll(e => e.State == EntityState.Added) ? rows.ConvertAll(e => e.Entity) : null;
        await context.SaveChangesAsync(cancel);
        var isLearnt = learner is not null && added is not null
            && LogStanding.TryLearn(learner, student, added, clock.GetUtcNow());
        if (!isLearnt) learner = LogStanding.Learn(student, await ReadAsync(student, cancel), clock.GetUtcNow());
        // Where nothing came to it, learning stands as it is stored.
        if (!isLearnt || added!.Count > 0) await standing.KeepAsync(student, learner!, cancel);
        await context.SaveChangesAsync(cancel);
        if (!onlooker.IsNobody) await transaction.CommitAsync(cancel);
        return answer;
    });
}
