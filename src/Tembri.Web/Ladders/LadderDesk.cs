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

/// <summary>Builds ladders from stored songs, students, choices and locks, and keeps their grades for the desk.</summary>
internal sealed class LadderDesk(TembriDbContext context, LadderCache cache)
{
    /// <summary>The ladder of a song for a student; null when either is not in this studio.</summary>
    /// <param name="songId">The song.</param>
    /// <param name="studentId">The student.</param>
    /// <param name="capo">A capo to look at without deciding on it.</param>
    public async Task<OpenLadder?> OpenAsync(Guid songId, Guid studentId, int? capo = null)
    {
        var song = await context.Songs.FirstOrDefaultAsync(s => s.Id == songId);
        var student = await context.Students.FirstOrDefaultAsync(s => s.Id == studentId);
        if (song is null || student is null) return null;
        var choice = await context.LadderChoices.FirstOrDefaultAsync(c => c.SongId == songId && c.StudentId == studentId);
        var locks = await context.LockedShapes.Where(l => l.SongId == songId && l.StudentId == studentId).ToListAsync();
        return Open(song, student, choice, locks, capo);
    }

    /// <summary>Builds the ladder of rows already read; null when the chart has no chords.</summary>
    public OpenLadder? Open(Song song, Student student, LadderChoice? choice, IReadOnlyList<LockedShape> locks, int? capo = null)
    {
        var reading = ChartReader.Read(song.ChartText);
        if (reading.Chart.Chords.Count == 0) return null;
        var request = MakeRequest(reading.Chart, student, choice, locks, capo);
        return new OpenLadder(song, student, reading, request, cache.Get(LadderCache.Stamp(song.ChartText, request), request), choice, locks);
    }

    private static LadderRequest MakeRequest(Chart chart, Student student, LadderChoice? choice, IReadOnlyList<LockedShape> locks, int? capo = null) => new()
    {
        Chart = choice?.Tuning is { } tuning ? chart with { TuningShift = tuning } : chart,
        Player = student.ToPlayer(),
        Aim = choice?.Aim ?? Aim.Record,
        Company = choice?.Company ?? Company.Record,
        Capo = capo ?? choice?.Capo,
        Locks = [.. locks.Where(l => l.Tuning == choice?.Tuning).Select(l => new ShapeLock(l.Rung, l.Chord, l.Capo, new Shape(l.Frets), [.. l.Fingers.Select(f => (Finger)f)]))],
    };

    /// <summary>The grades kept for songs, by song and student; a song is left out as soon as one of its grades is missing or out of date.</summary>
    public async Task<IReadOnlyDictionary<Guid, IReadOnlyDictionary<Guid, Grade>>> KeptGradesAsync(IReadOnlyList<Song> songs, IReadOnlyList<Student> students)
    {
        var grades = (await context.Grades.AsNoTracking().ToListAsync()).ToLookup(g => g.SongId);
        var choices = (await context.LadderChoices.AsNoTracking().ToListAsync()).ToLookup(c => c.SongId);
        var locks = (await context.LockedShapes.AsNoTracking().ToListAsync()).ToLookup(l => l.SongId);
        var kept = new Dictionary<Guid, IReadOnlyDictionary<Guid, Grade>>();
        foreach (var song in songs)
        {
            if (song.ChordCount == 0) continue;
            var mine = grades[song.Id].ToDictionary(g => g.StudentId);
            var chart = ChartReader.Read(song.ChartText).Chart;
            bool Current(Student student) => mine.TryGetValue(student.Id, out var grade) && grade.Stamp == LadderCache.Stamp(song.ChartText,
                MakeRequest(chart, student, choices[song.Id].FirstOrDefault(c => c.StudentId == student.Id), [.. locks[song.Id].Where(l => l.StudentId == student.Id)]));
            if (students.All(Current)) kept[song.Id] = mine;
        }
        return kept;
    }

    /// <summary>The grades of a song for all students, computed where they are missing or out of date, and kept.</summary>
    public async Task<IReadOnlyDictionary<Guid, Grade>> GradeSongAsync(Song song, IReadOnlyList<Student> students)
    {
        var turn = cache.GradingTurn(song.Id);
        await turn.WaitAsync();
        try { return await GradeAsync(song, students); }
        finally { turn.Release(); }
    }

    private async Task<IReadOnlyDictionary<Guid, Grade>> GradeAsync(Song song, IReadOnlyList<Student> students)
    {
        var choices = await context.LadderChoices.Where(c => c.SongId == song.Id).ToListAsync();
        var locks = await context.LockedShapes.Where(l => l.SongId == song.Id).ToListAsync();
        var grades = await context.Grades.Where(g => g.SongId == song.Id).ToDictionaryAsync(g => g.StudentId);
        var changed = false;
        foreach (var student in students)
            changed |= Refresh(grades, song, student, choices.FirstOrDefault(c => c.StudentId == student.Id), [.. locks.Where(l => l.StudentId == student.Id)]);
        if (changed) await SaveGradesAsync();
        return grades;
    }

    private bool Refresh(Dictionary<Guid, Grade> grades, Song song, Student student, LadderChoice? choice, IReadOnlyList<LockedShape> locks)
    {
        if (Open(song, student, choice, locks) is not { } open) return false;
        var stamp = LadderCache.Stamp(song.ChartText, open.Request);
        if (grades.TryGetValue(student.Id, out var grade) && grade.Stamp == stamp) return false;
        var rungs = open.Ladder.Rungs.Select(r => new RungGrade
        {
            Number = r.Limits.Number, Feasible = r.IsFeasible, Load = r.Load, Closeness = r.Closeness, Fit = r.Fit?.Value ?? 0, Verdict = (r.Fit?.Verdict.ToString() ?? "Blocked").ToLowerInvariant(),
        }).ToList();
        if (grade is null)
        {
            grade = grades[student.Id] = new Grade { SongId = song.Id, StudentId = student.Id, Stamp = stamp, Rungs = rungs };
            context.Grades.Add(grade);
        }
        (grade.Stamp, grade.Capo, grade.WorkingRung, grade.Rungs) = (stamp, open.Ladder.Capo, open.Ladder.WorkingRung, rungs);
        return true;
    }

    /// <summary>Grades can always be computed again, so a race with another request that keeps the same ones is no loss.</summary>
    private async Task SaveGradesAsync()
    {
        try { await context.SaveChangesAsync(); }
        catch (DbUpdateException e) when (e is DbUpdateConcurrencyException || e.InnerException is Npgsql.PostgresException { SqlState: "23505" })
        {
            foreach (var entry in context.ChangeTracker.Entries<Grade>().ToList()) entry.State = EntityState.Detached;
        }
    }
}
