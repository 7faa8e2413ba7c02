using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Ladders;
using Tembri.Core.Practice;
using Tembri.Data;
using Tembri.Data.Students;

namespace Tembri.Web.Practice;

/// <summary>Where learning from a log stands. Most changes of a log add what is later than all of it: that alone is learnt
/// from then, and the log is not read.</summary>
internal sealed class LogStanding(TembriDbContext context)
{
    /// <summary>Takes it up; null when it is not known, or holds for other numbers, another hand or another model.</summary>
    /// <param name="student">The student, whose log nobody else changes meanwhile.</param>
    /// <param name="cancel">Ends the work.</param>
    public async Task<LogLearner?> OpenAsync(Student student, CancellationToken cancel)
    {
        var row =
            await context.LearningStates.AsNoTracking().FirstOrDefaultAsync(s => s.StudentId == student.Id, cancel);
        return row is not null && row.LearntFor == HoldsFor(student) ? LogLearner.FromJson(row.Learner) : null;
    }

    /// <summary>Learns from what was added, when all of it is later than what was learnt from before.</summary>
    /// <param name="learner">Where learning stands.</param>
    /// <param name="student">The student, whose progress it is written to.</param>
    /// <param name="added">The entries that were added.</param>
    /// <param name="now">The time.</param>
    /// <returns>False when one is earlier: nothing is learnt then, and the log has to be read.</returns>
    public static bool TryLearn(LogLearner learner, Student student, IReadOnlyCollection<PracticeEntry> added,
        DateTimeOffset now)
    {
        var reader = new EntryEvidence(student);
        var telling = added.OrderBy(e => e.At).ThenBy(e => e.Id).Select(reader.Of).OfType<Evidence>().ToList();
        if (telling.Exists(e => e.At <= learner.Last)) return false;
        foreach (var evidence in telling) learner.Learn(evidence);
        var progress = student.Progress!;
        Write(progress, learner, now, Later(progress.HurtAt, LastHurt(added)),
            Later(progress.PractisedAt, LastPractised(added)));
        return true;
    }

    /// <summary>Learns from a whole log.</summary>
    /// <param name="student">The student, whose progress it is written to.</param>
    /// <param name="reading">The log.</param>
    /// <param name="now">The time.</param>
    public static LogLearner Learn(Student student, LogReading reading, DateTimeOffset now)
    {
        var learner = new LogLearner(student.Skills, student.GuessedAt);
        foreach (var evidence in reading.Evidence.OfType<Evidence>()) learner.Learn(evidence);
        Write(student.Progress!, learner, now, LastHurt(reading.Entries), LastPractised(reading.Entries));
        return learner;
    }

    /// <summary>Puts it away.</summary>
    public Task KeepAsync(Student student, LogLearner learner, CancellationToken cancel)
    {
        var (holdsFor, text) = (HoldsFor(student), learner.ToJson());
        return context.Database.ExecuteSqlAsync($"""
            insert into learning_states (studio_id, student_id, learnt_for, learner)
            values ({student.StudioId}, {student.Id}, {holdsFor}, {text})
            on conflict (studio_id, student_id) do update set learnt_for = excluded.learnt_for, learner = excluded.learner
            """, cancel);
    }

    private static void Write(StudentProgress progress, LogLearner learner, DateTimeOffset now, DateTimeOffset? hurt,
        DateTimeOffset? practised)
    {
        var learnt = learner.LearntAt(now);
        progress.Learnt = learnt is { Entries: 0, Shapes.Count: 0, Changes.Count: 0 } ? "" : learnt.ToJson();
        (progress.HurtAt, progress.PractisedAt) = (hurt, practised);
    }

    private static DateTimeOffset? LastHurt(IEnumerable<PracticeEntry> entries) =>
        entries.Where(e => e.Hurt).Max(e => (DateTimeOffset?)e.At);

    private static DateTimeOffset? LastPractised(IEnumerable<PracticeEntry> entries) =>
        entries.Where(e => e.Kind != PracticeKind.Note).Max(e => (DateTimeOffset?)e.At);

    private static DateTimeOffset? Later(DateTimeOffset? one, DateTimeOffset? other) =>
        one > other || other is null ? one : other;

    /// <summary>What learning depends on beside the log.</summary>
    private static string HoldsFor(Student student) => JsonSerializer.Serialize(new
    {
        model = ArrangementStamp.ModelVersion, learning = LogLearner.Version, student.Skills, student.GuessedAt,
        student.HandId, student.SpreadMm, student.GuitarId, student.GuitarMeasures,
    });
}
