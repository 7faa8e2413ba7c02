using Microsoft.EntityFrameworkCore;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Roads;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Web.Computing;
using Tembri.Web.Practice;

namespace Tembri.Web.Ladders;

/// <summary>A road of a student over the studio's library.</summary>
/// <param name="Student">The student.</param>
/// <param name="Map">The library as the student sees it.</param>
/// <param name="Road">The road.</param>
/// <param name="Titles">Titles by song.</param>
/// <param name="Time">About how long it takes, at the student's minutes a day.</param>
/// <param name="Today">The day it is.</param>
/// <param name="Missing">Songs that are not arranged for the student's kind yet, and so are not counted.</param>
internal sealed record OpenRoad(Student Student, RoadMap Map, Road Road, IReadOnlyDictionary<string, SongLine> Titles,
    RoadForecast Time, DateOnly Today, int Missing);

/// <summary>What is asked of a road; bound from the address.</summary>
internal sealed class RoadAsked
{
    /// <summary>A technique to reach; null for none.</summary>
    public Technique? Technique { get; set; }
    public int? Level { get; set; }

    /// <summary>A song to reach; null for none.</summary>
    public Guid? Song { get; set; }
    public int? Rung { get; set; }
    public int? Steps { get; set; }

    /// <summary>The day by which it is to be done; null for none.</summary>
    public DateOnly? By { get; set; }

    /// <summary>Only songs with one of the teacher's words.</summary>
    public string? Tag { get; set; }

    /// <summary>Songs that are wished for.</summary>
    public List<Guid> Wished { get; set; } = [];

    public int LevelOrHalf => Math.Clamp(Level ?? 50, 0, 100);
    public int RungOrTop => Rung ?? 5;
    public int StepsOrFive => Math.Clamp(Steps ?? 5, 1, RoadRequest.MostSteps);

    public RoadGoal? Goal =>
        Song is { } song ? new VersionGoal(song.ToString(), RungOrTop)
            : Technique is { } technique ? new TechniqueGoal(technique, LevelOrHalf)
            : null;
}

/// <summary>Finds roads over stored songs.</summary>
internal sealed class RoadDesk(TembriDbContext context, SongGrades grades, Logbook logbook, ComputeLanes lanes,
    TimeProvider clock)
{
    /// <summary>The most songs that are looked at.</summary>
    public const int MostSongs = 2_000;

    /// <summary>Days after which a shape that went is in danger of being forgotten.</summary>
    public const int FadesAfterDays = 21;

    private const double WentFrom = 0.8;   // of the tries

    /// <summary>The road of a student; null when there is no such student.</summary>
    public async Task<OpenRoad?> OpenAsync(Guid studentId, RoadAsked asked, CancellationToken leaving)
    {
        if (await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.Id == studentId, leaving) is not { } student)
            return null;
        var lines = await context.Songs.AsNoTracking()
            .Where(s =>
                s.ChordCount > 0 && (asked.Tag == null || asked.Tag == "" || s.Tags.Contains(asked.Tag) || s.Id == asked.Song))
            .OrderBy(s => s.Title).ThenBy(s => s.Id).Take(MostSongs).Select(SongLine.Of).ToListAsync(leaving);
        var outlines =
            await grades.FindAsync([.. lines.Select(s => new SongGrades.SongKey(s.Id, s.ChartStamp))], [student], leaving);
        // The goal itself is arranged now, if it was not.
        if (asked.Song is { } wanted && lines.Exists(l => l.Id == wanted) && !outlines.ContainsKey((wanted, studentId))
            && await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == wanted, leaving) is { } goalSong)
        {
            var made = await grades.MakeAsync(goalSong, [student], inBackground: false, leaving);
            outlines = outlines.Concat(made.Select(m => KeyValuePair.Create((wanted, m.Key), m.Value)))
                .ToDictionary(o => o.Key, o => o.Value);
        }
        var versions = new List<RoadVersion>();
        foreach (var line in lines)
        {
            if (!outlines.TryGetValue((line.Id, studentId), out var ladder)) continue;
            for (var i = 0; i < ladder.Rungs.Count; i++)
                if (ladder.Rungs[i] is { } version)
                    versions.Add(new RoadVersion(line.Id.ToString(), ladder.Numbers[i], version,
                        asked.Wished.Contains(line.Id) || student.GoalSongId == line.Id));
        }
        var goal =
            asked.Goal is VersionGoal g && !versions.Exists(v => v.Song == g.Song && v.Rung == g.Rung) ? null : asked.Goal;
        var request = new RoadRequest
        {
            Player = student.ToPlayer(), Versions = versions, Goal = goal, Steps = asked.StepsOrFive,
            Fading = Fading(await logbook.ReadAsync(student, leaving))
        };
        var (map, road) = await lanes.ForPageAsync(work =>
        {
            var library = new RoadMap(request, work.Cancel);
            return (library, RoadFinder.Find(library, work.Cancel));
        }, leaving);
        return new OpenRoad(student, map, road, lines.ToDictionary(l => l.Id.ToString()),
            RoadForecast.Of(road, Math.Max(1, student.MinutesADay)), DateOnly.FromDateTime(clock.GetLocalNow().DateTime),
            lines.Count - versions.Select(v => v.Song).Distinct().Count());
    }

    /// <summary>Shapes that went when they were tried last, long ago.</summary>
    private List<Shape> Fading(LogReading log)
    {
        var since = clock.GetUtcNow().AddDays(-FadesAfterDays);
        var last = new Dictionary<Shape, (DateTimeOffset At, bool Went)>();
        void See(Shape shape, DateTimeOffset at, bool went)
        {
            if (!last.TryGetValue(shape, out var known) || at >= known.At) last[shape] = (at, went);
        }
        foreach (var evidence in log.Evidence)
            switch (evidence)
            {
                case Trials { Shape: { } shape } t: See(shape, t.At, t.Clean >= WentFrom * t.Tries); break;
                case ChangeCount { Between: var (from, to), Count: > 0 } c: See(from, c.At, true); See(to, c.At, true); break;
            }
        return [.. last.Where(l => l.Value.Went && l.Value.At < since).Select(l => l.Key)];
    }
}
