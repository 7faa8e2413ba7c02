using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Songs;
using Tembri.Data.Students;

namespace Tembri.Web.Ladders;

/// <summary>A song's ladder for a student, with what it was built from.</summary>
internal sealed record OpenLadder(Song Song, Student Student, ChartReading Reading, LadderRequest Request, Ladder Ladder, LadderChoice? Choice, IReadOnlyList<LockedShape> Locks);

/// <summary>Builds ladders from stored rows, and keeps their grades for the pages that list songs.</summary>
internal sealed class LadderDesk(TembriDbContext context, LadderCache cache)
{
    /// <summary>The ladder of a song for a student; null when either is not in this studio, or the chart cannot be arranged.</summary>
    /// <param name="songId">The song.</param>
    /// <param name="studentId">The student.</param>
    /// <param name="capo">A capo to look at without deciding on it.</param>
    /// <param name="leaving">Ends the work when nobody waits for it.</param>
    public async Task<OpenLadder?> OpenAsync(Guid songId, Guid studentId, int? capo = null, CancellationToken leaving = default)
    {
        var song = await context.Songs.FirstOrDefaultAsync(s => s.Id == songId, leaving);
        var student = await context.Students.FirstOrDefaultAsync(s => s.Id == studentId, leaving);
        if (song is null || student is null) return null;
        var choice = await context.LadderChoices.FirstOrDefaultAsync(c => c.SongId == songId && c.StudentId == studentId, leaving);
        var locks = await context.LockedShapes.Where(l => l.SongId == songId && l.StudentId == studentId).ToListAsync(leaving);
        return await OpenAsync(song, LadderCache.Digest(song.ChartText), student, choice, locks, capo, leaving);
    }

    private async Task<OpenLadder?> OpenAsync(Song song, string digest, Student student, LadderChoice? choice, IReadOnlyList<LockedShape> locks, int? capo, CancellationToken leaving)
    {
        var reading = ChartReader.Read(song.ChartText, leaving);
        if (LadderBuilder.Objection(reading.Chart.Chords.Count) is not null) return null;
        var chart = choice?.Tuning is { } tuning ? reading.Chart with { TuningShift = tuning } : reading.Chart;
        var request = MakeRequest(student, choice, locks, capo) with { Chart = chart };
        return new OpenLadder(song, student, reading, request, await cache.GetAsync(LadderCache.Stamp(digest, choice?.Tuning, request), request, leaving), choice, locks);
    }

    /// <summary>All a ladder depends on but the chart.</summary>
    private static LadderRequest MakeRequest(Student student, LadderChoice? choice, IReadOnlyList<LockedShape> locks, int? capo = null) => new()
    {
        Chart = new Chart(),
        Player = student.ToPlayer(),
        Aim = choice?.Aim ?? Aim.Record,
        Company = choice?.Company ?? Company.Record,
        Capo = capo ?? choice?.Capo,
        Locks = [.. locks.Where(l => l.Tuning == choice?.Tuning).Select(l => new ShapeLock(l.Rung, l.Chord, l.Capo, new Shape(l.Frets), [.. l.Fingers.Select(f => (Finger)f)]))],
    };

    /// <summary>The grades kept for songs that still hold, by song and student. No chart is read and no ladder is built.</summary>
    public async Task<IReadOnlyDictionary<(Guid Song, Guid Student), Grade>> KeptGradesAsync(IReadOnlyList<Song> songs, IReadOnlyList<Student> students, CancellationToken leaving = default)
    {
        var (songIds, studentIds) = (songs.Select(s => s.Id).ToList(), students.Select(s => s.Id).ToList());
        var grades = await context.Grades.AsNoTracking().Where(g => songIds.Contains(g.SongId) && studentIds.Contains(g.StudentId)).ToListAsync(leaving);
        var choices = (await context.LadderChoices.AsNoTracking().Where(c => studentIds.Contains(c.StudentId)).ToListAsync(leaving)).ToDictionary(c => (c.SongId, c.StudentId));
        var locks = (await context.LockedShapes.AsNoTracking().Where(l => studentIds.Contains(l.StudentId)).ToListAsync(leaving)).ToLookup(l => (l.SongId, l.StudentId));
        var digests = songs.ToDictionary(s => s.Id, s => LadderCache.Digest(s.ChartText));
        var known = students.ToDictionary(s => s.Id);
        var kept = new Dictionary<(Guid, Guid), Grade>();
        foreach (var grade in grades)
        {
            var place = (grade.SongId, grade.StudentId);
            var choice = choices.GetValueOrDefault(place);
            if (grade.Stamp == LadderCache.Stamp(digests[grade.SongId], choice?.Tuning, MakeRequest(known[grade.StudentId], choice, [.. locks[place]]))) kept[place] = grade;
        }
        return kept;
    }

    /// <summary>The grades of a song for students, computed where they are missing or out of date, and kept.</summary>
    public async Task<IReadOnlyDictionary<Guid, Grade>> GradeSongAsync(Song song, IReadOnlyList<Student> students, CancellationToken leaving)
    {
        var turn = cache.GradingTurn(song.Id);
        await turn.WaitAsync(leaving);
        try { return await GradeAsync(song, students, leaving); }
        finally { turn.Release(); }
    }

    private async Task<IReadOnlyDictionary<Guid, Grade>> GradeAsync(Song song, IReadOnlyList<Student> students, CancellationToken leaving)
    {
        var studentIds = students.Select(s => s.Id).ToList();
        var choices = await context.LadderChoices.Where(c => c.SongId == song.Id && studentIds.Contains(c.StudentId)).ToDictionaryAsync(c => c.StudentId, leaving);
        var locks = (await context.LockedShapes.Where(l => l.SongId == song.Id && studentIds.Contains(l.StudentId)).ToListAsync(leaving)).ToLookup(l => l.StudentId);
        var grades = await context.Grades.Where(g => g.SongId == song.Id && studentIds.Contains(g.StudentId)).ToDictionaryAsync(g => g.StudentId, leaving);
        var digest = LadderCache.Digest(song.ChartText);
        foreach (var student in students)
        {
            var (choice, mine) = (choices.GetValueOrDefault(student.Id), locks[student.Id].ToList());
            var stamp = LadderCache.Stamp(digest, choice?.Tuning, MakeRequest(student, choice, mine));
            if (grades.TryGetValue(student.Id, out var known) && known.Stamp == stamp) continue;
            if (await OpenAsync(song, digest, student, choice, mine, null, leaving) is not { } open) continue;
            grades[student.Id] = Take(known, open, stamp);
        }
        await SaveGradesAsync();
        return grades;
    }

    private Grade Take(Grade? grade, OpenLadder open, string stamp)
    {
        if (grade is null) context.Grades.Add(grade = new Grade { SongId = open.Song.Id, StudentId = open.Student.Id, Stamp = stamp, Rungs = [] });
        (grade.Stamp, grade.Capo, grade.WorkingRung) = (stamp, open.Ladder.Capo, open.Ladder.WorkingRung);
        grade.Rungs = [.. open.Ladder.Rungs.Select(r => new RungGrade
        {
            Number = r.Limits.Number, Feasible = r.IsFeasible, Load = r.Load, Closeness = r.Closeness, Fit = r.Fit?.Value ?? 0, Verdict = (r.Fit?.Verdict.ToString() ?? "Blocked").ToLowerInvariant(),
            ComfortableTempo = r.Fit?.ComfortableTempo, Reason = r.Reason,
        })];
        return grade;
    }

    /// <summary>Grades can always be computed again, so a race with another request that keeps the same ones, or with a removal, is no loss.</summary>
    private async Task SaveGradesAsync()
    {
        if (!context.ChangeTracker.HasChanges()) return;
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (Faults.DatabaseFaults.IsConflict(e))
        {
            foreach (var entry in context.ChangeTracker.Entries<Grade>().ToList()) entry.State = EntityState.Detached;
        }
    }
}
