using Microsoft.EntityFrameworkCore;
using Npgsql;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Core.Wishes;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Computing;
using Tembri.Web.Setup;
using Tembri.Web.Songs;

namespace Tembri.Web.Ladders;

/// <summary>Grades of songs for students, reckoned in memory from outlines that are made once per kind of player and
/// stored.</summary>
internal sealed class SongGrades(TembriDbContext context, LadderShelf shelf, ComputeLanes lanes, ArrangingTurns turns,
    StudioSettings settings)
{
    private static readonly Chart NoChart = new();

    /// <summary>A song as far as grading needs it.</summary>
    public readonly record struct SongKey(Guid Id, string ChartStamp);

    /// <summary>The outlines known for songs and students; what is missing was not arranged yet. No chart is read and no ladder
    /// is built.</summary>
    public async Task<IReadOnlyDictionary<(Guid Song, Guid Student), LadderOutline>> FindAsync(
        IReadOnlyList<SongKey> songs, IReadOnlyList<Student> students, CancellationToken leaving)
    {
        var found = new Dictionary<(Guid, Guid), LadderOutline>(songs.Count * students.Count);
        var missing = new List<(Guid Song, Guid Student, ArrangementStamp Stamp)>();
        foreach (var (song, student, stamp) in await StampsAsync(songs, students, leaving))
        {
            if (shelf.OutlineOf(stamp) is { } known) found[(song, student)] = known;
            else missing.Add((song, student, stamp));
        }
        if (missing.Count == 0) return found;
        var stored = await StoredAsync([.. missing.Select(m => m.Song).Distinct()],
            [.. missing.Select(m => m.Stamp.Kind).Distinct()], leaving);
        foreach (var (song, student, stamp) in missing)
            if (stored.TryGetValue((song, stamp), out var outline)) found[(song, student)] = outline;
        return found;
    }

    private async Task<Dictionary<(Guid Song, ArrangementStamp Stamp), LadderOutline>> StoredAsync(
        IReadOnlyList<Guid> songs, IReadOnlyList<string> kinds, CancellationToken leaving)
    {
        var rows = await context.ArrangedLadders.AsNoTracking()
            .Where(a => songs.Contains(a.SongId) && kinds.Contains(a.Kind) && a.Model == ArrangementStamp.ModelVersion)
            .ToListAsync(leaving);
        var outlines = new Dictionary<(Guid, ArrangementStamp), LadderOutline>(rows.Count);
        foreach (var row in rows)
        {
            if (OutlineBytes.Read(row.Outlines, shelf.OutlinePool) is not { } outline) continue;
            shelf.Put(row.Stamp, outline);
            outlines[(row.SongId, row.Stamp)] = outline;
        }
        return outlines;
    }

    /// <summary>The stamp of every song for every student, with what the teacher decided for them.</summary>
    private async Task<List<(Guid Song, Guid Student, ArrangementStamp Stamp)>> StampsAsync(
        IReadOnlyList<SongKey> songs, IReadOnlyList<Student> students, CancellationToken leaving)
    {
        var (songIds, studentIds) = (songs.Select(s => s.Id).ToList(), students.Select(s => s.Id).ToList());
        var choices = await context.LadderChoices.AsNoTracking()
            .Where(c => songIds.Contains(c.SongId) && studentIds.Contains(c.StudentId))
            .ToDictionaryAsync(c => (c.SongId, c.StudentId), leaving);
        var locks = choices.Count == 0 ? null : (await context.LockedShapes.AsNoTracking()
            .Where(l => songIds.Contains(l.SongId) && studentIds.Contains(l.StudentId)).ToListAsync(leaving))
            .ToLookup(l => (l.SongId, l.StudentId));
        var studio = await StudioWishesAsync(leaving);
        var stamps = new List<(Guid, Guid, ArrangementStamp)>(songs.Count * students.Count);
        foreach (var student in students)
        {
            var player = student.ToPlayer();
            var wishes = LadderDesk.WishesFor(studio, student);
            var usual = ArrangementStamp.Of("", LadderDesk.Requested(NoChart, player, null, [], wishes));
            foreach (var song in songs)
            {
                var place = (song.Id, student.Id);
                var stamp = choices.TryGetValue(place, out var choice)
                    ? ArrangementStamp.Of(song.ChartStamp, LadderDesk.Requested(NoChart, player, choice, locks![place], wishes))
                    : usual with { Chart = song.ChartStamp };
                stamps.Add((song.Id, student.Id, stamp));
            }
        }
        return stamps;
    }

    private async Task<TeacherWishes> StudioWishesAsync(CancellationToken leaving) =>
        TeacherWishes.Read(settings.Studio is { } studio && studio.Id == context.CurrentStudioId
            ? studio.Wishes
            : await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Wishes)
                .FirstOrDefaultAsync(leaving));

    /// <summary>The outlines of one song for students, made where they are missing, and stored. A song that cannot be arranged
    /// has none.</summary>
    /// <param name="song">The song.</param>
    /// <param name="students">The students.</param>
    /// <param name="inBackground">True for work nobody waits for.</param>
    /// <param name="leaving">Ends the work.</param>
    public async Task<IReadOnlyDictionary<Guid, LadderOutline>> MakeAsync(Song song, IReadOnlyList<Student> students,
        bool inBackground, CancellationToken leaving)
    {
        var stamps = (await StampsAsync([new SongKey(song.Id, song.ChartStamp)], students, leaving))
            .ToDictionary(s => s.Student, s => s.Stamp);
        var stored = await StoredAsync([song.Id], [.. stamps.Values.Select(s => s.Kind).Distinct()], leaving);
        var known = new Dictionary<ArrangementStamp, LadderOutline>();
        foreach (var ((_, stamp), outline) in stored) known[stamp] = outline;
        Dictionary<Guid, LadderOutline> Found() =>
            stamps.Where(s => known.ContainsKey(s.Value)).ToDictionary(s => s.Key, s => known[s.Value]);
        if (stamps.Values.All(known.ContainsKey)) return Found();
        var chart = ChartReader.Read(song.ChartText, leaving).Chart;
        if (LadderBuilder.Objection(chart.Chords.Count) is not null) return Found();
        var choices = await context.LadderChoices.AsNoTracking().Where(c => c.SongId == song.Id)
            .ToDictionaryAsync(c => c.StudentId, leaving);
        var locks = (await context.LockedShapes.AsNoTracking().Where(l => l.SongId == song.Id).ToListAsync(leaving))
            .ToLookup(l => l.StudentId);
        var studio = await StudioWishesAsync(leaving);
        foreach (var student in students)
        {
            var stamp = stamps[student.Id];
            if (known.ContainsKey(stamp)) continue;
            var request = LadderDesk.Requested(chart, student.ToPlayer(), choices.GetValueOrDefault(student.Id),
                locks[student.Id], LadderDesk.WishesFor(studio, student));
            // Decided anew at this moment: it is made when it is asked for again.
            if (ArrangementStamp.Of(song.ChartStamp, request) != stamp) continue;
            // A version is made by one worker at a time, whatever the instance; others wait and then find it done.
            await using var turn = await turns.TakeAsync(song.Id, stamp, leaving);
            known[stamp] =
                await StoredAsync(song.Id, stamp, leaving) ?? await MakeAsync(song.Id, stamp, request, inBackground, leaving);
        }
        return Found();
    }

    private async Task<LadderOutline?> StoredAsync(Guid song, ArrangementStamp stamp, CancellationToken leaving)
    {
        var bytes = await context.ArrangedLadders.Where(a => a.SongId == song && a.Kind == stamp.Kind
            && a.Decisions == stamp.Decisions && a.ChartStamp == stamp.Chart && a.Model == stamp.Model)
            .Select(a => a.Outlines).FirstOrDefaultAsync(leaving);
        return bytes is null ? null : OutlineBytes.Read(bytes, shelf.OutlinePool);
    }

    private async Task<LadderOutline> MakeAsync(Guid song, ArrangementStamp stamp, ArrangementRequest request, bool inBackground,
        CancellationToken leaving)
    {
        Ladder Make(WorkLimits work) => shelf.Get(stamp, request, work);
        var ladder = shelf.Find(stamp)
            ?? await (inBackground ? lanes.ForBackgroundAsync(Make, leaving) : lanes.ForPageAsync(Make, leaving));
        var outline = shelf.OutlineOf(stamp) ?? LadderOutline.Of(ladder);
        shelf.Put(stamp, outline);
        await StoreAsync(song, stamp, outline, string.Join(", ", SongSearch.TechniquesOf(ladder)), leaving);
        return outline;
    }

    /// <summary>Writes outlines over what the place held before. A song that went meanwhile needs none.</summary>
    private async Task StoreAsync(Guid song, ArrangementStamp stamp, LadderOutline outline, string techniques,
        CancellationToken leaving)
    {
        var bytes = OutlineBytes.Write(outline);
        try
        {
            await context.Database.ExecuteSqlAsync($"""
                insert into arranged_ladders (studio_id, song_id, kind, decisions, chart_stamp, model, outlines, techniques)
                values ({context.CurrentStudioId}, {song}, {stamp.Kind}, {stamp.Decisions}, {stamp.Chart}, {stamp.Model},
                  {bytes}, {techniques})
                on conflict (studio_id, song_id, kind, decisions) do update set
                  chart_stamp = excluded.chart_stamp, model = excluded.model, outlines = excluded.outlines, techniques = excluded.techniques
                """, leaving);
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.ForeignKeyViolation) { }
    }
}
