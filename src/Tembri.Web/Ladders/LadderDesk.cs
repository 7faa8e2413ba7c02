using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Wishes;
using Tembri.Data;
using Tembri.Data.Ladders;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Computing;
using Tembri.Web.Setup;

namespace Tembri.Web.Ladders;

/// <summary>A song's ladder for a student, with what it was built from.</summary>
internal sealed record OpenLadder(
    Song Song, Student Student, ChartReading Reading, ArrangementRequest Request, StudentLadder Graded, LadderChoice? Choice,
    IReadOnlyList<LockedShape> Locks, TeacherWishes StudioWishes)
{
    /// <summary>What the teacher wants for the student in every song.</summary>
    public TeacherWishes StudentWishes { get; } = TeacherWishes.Read(Student.Wishes);

    public Ladder Ladder => Graded.Ladder;

    /// <summary>The version made by hand that stands in the ladder's place; null for the ladder itself.</summary>
    public Guid? Hand { get; init; }

    /// <summary>Number of the rung to work on; null when all are blocked.</summary>
    public int? WorkingRung => Graded.WorkingRung;

    /// <summary>How a rung fits the student; null when it is blocked.</summary>
    public VersionFit? FitOf(Rung rung) => Graded.FitOf(rung);
}

/// <summary>Opens ladders from stored rows.</summary>
internal sealed class LadderDesk(TembriDbContext context, LadderShelf shelf, ComputeLanes lanes, ResultCache results)
{
    /// <summary>The ladder of a song for a student; null when either is not in this studio, or the chart cannot be
    /// arranged.</summary>
    /// <param name="songId">The song.</param>
    /// <param name="studentId">The student.</param>
    /// <param name="capo">A capo to look at without deciding on it.</param>
    /// <param name="leaving">Ends the work when nobody waits for it.</param>
    public async Task<OpenLadder?> OpenAsync(Guid songId, Guid studentId, int? capo = null, CancellationToken leaving = default)
    {
        var found = await (
            from song in context.Songs
            from student in context.Students
            where song.Id == songId && student.Id == studentId
            from choice in context.LadderChoices.Where(c => c.SongId == songId && c.StudentId == studentId).DefaultIfEmpty()
            from studio in context.Studios
            where studio.Id == student.StudioId
            select new { song, student, choice, studio.Wishes }).FirstOrDefaultAsync(leaving);
        if (found is null) return null;
        var locks = found.choice is null
            ? []
            : await context.LockedShapes.Where(l => l.SongId == songId && l.StudentId == studentId).ToListAsync(leaving);
        var reading = shelf.Read(found.song.ChartStamp, found.song.ChartText, leaving);
        if (LadderBuilder.Objection(reading.Chart.Chords.Count) is not null) return null;
        var player = found.student.ToPlayer();
        var studioWishes = TeacherWishes.Read(found.Wishes);
        var request = Requested(reading.Chart, player, found.choice, locks, WishesFor(studioWishes, found.student), capo);
        var ladder = await BuildAsync(found.song.ChartStamp, request, leaving);
        return new OpenLadder(found.song, found.student, reading, request,
            new StudentLadder(ladder, player, shelf.OutlineOf(ladder)), found.choice, locks, studioWishes);
    }

    /// <summary>A version made by hand in the ladder's place, as a ladder of one rung; the ladder itself when none is asked for.
    /// Null when there is no such version, or it cannot be played.</summary>
    /// <param name="songId">The song.</param>
    /// <param name="studentId">The student.</param>
    /// <param name="hand">The version; null for the ladder.</param>
    /// <param name="leaving">Ends the work when nobody waits for it.</param>
    public async Task<OpenLadder?> OpenHandAsync(Guid songId, Guid studentId, Guid? hand, CancellationToken leaving)
    {
        if (await OpenAsync(songId, studentId, leaving: leaving) is not { } open) return null;
        if (hand is not { } version) return open;
        if (await context.HandVersions.AsNoTracking()
            .FirstOrDefaultAsync(v => v.Id == version && v.SongId == songId && v.StudentId == studentId, leaving) is not { } row)
            return null;
        return await ReadHandAsync(row, open, leaving) is { } made
            ? open with { Graded = new StudentLadder(made.Ladder, open.Graded.Player), Hand = version }
            : null;
    }

    /// <summary>The versions made by hand for a song and a student, read and weighed; null where one cannot be played any
    /// more.</summary>
    public async Task<IReadOnlyList<(HandVersion Row, HandMade? Made)>> HandsAsync(OpenLadder open, CancellationToken leaving)
    {
        var rows = await context.HandVersions.AsNoTracking()
            .Where(v => v.SongId == open.Song.Id && v.StudentId == open.Student.Id).OrderBy(v => v.Name).ToListAsync(leaving);
        var hands = new List<(HandVersion, HandMade?)>();
        foreach (var row in rows) hands.Add((row, open.Ladder.Playable.Any() ? await ReadHandAsync(row, open, leaving) : null));
        return hands;
    }

    private async Task<HandMade?> ReadHandAsync(HandVersion row, OpenLadder open, CancellationToken leaving)
    {
        if (row.Strings != StringsOf(open.Request)) return null;
        var stamp = ArrangementStamp.Of(open.Song.ChartStamp, open.Request);
        if (shelf.FindHand(row.Id, row.Version, stamp) is { } known) return known;
        var made = await lanes.ForPageAsync(
            _ => HandReading.Read(row.Name, row.ChartText, row.Capo, row.Shapes, row.RightHand, open, results).Made, leaving);
        if (made is not null) shelf.PutHand(row.Id, row.Version, stamp, made);
        return made;
    }

    /// <summary>Where to go when no ladder can be opened: to the chart, which says why; null when there is no such song, or no
    /// such student.</summary>
    public async Task<string?> InsteadAsync(Guid songId, Guid studentId, CancellationToken leaving = default) =>
        await context.Songs.AnyAsync(s => s.Id == songId, leaving)
                && await context.Students.AnyAsync(s => s.Id == studentId, leaving)
            ? Paths.ChartWithoutLadder(songId, studentId)
            : null;

    /// <summary>The ladder of a stored chart for a request, in the lane of pages.</summary>
    /// <param name="chartStamp">Digest of the chart's text.</param>
    /// <param name="request">The request.</param>
    /// <param name="leaving">Ends the work when nobody waits for it.</param>
    /// <exception cref="TooBusyException">Too many wait for theirs, or it took too long.</exception>
    public async Task<Ladder> BuildAsync(string chartStamp, ArrangementRequest request, CancellationToken leaving)
    {
        var stamp = ArrangementStamp.Of(chartStamp, request);
        return shelf.Find(stamp) ?? await lanes.ForPageAsync(work => shelf.Get(stamp, request, work), leaving);
    }

    /// <summary>What a ladder is asked for with a teacher's decisions.</summary>
    /// <param name="chart">The song.</param>
    /// <param name="player">The student.</param>
    /// <param name="choice">What was decided on the ladder; null for nothing.</param>
    /// <param name="locks">Shapes that were taken.</param>
    /// <param name="wider">What the teacher wants for the student and for the studio.</param>
    /// <param name="capo">A capo that is only looked at.</param>
    public static ArrangementRequest Requested(Chart chart, Player player, LadderChoice? choice, IEnumerable<LockedShape> locks,
        TeacherWishes wider, int? capo = null)
    {
        var request = Decided(chart, player, choice, wider, capo);
        var strings = StringsOf(request);
        // Frets taken in another tuning would sound something else.
        return request with { Locks = [.. locks.Where(l => l.Strings == strings)
            .Select(l => new ShapeLock(l.Rung, l.Chord, l.ShapeTonic ?? -1, new Shape(l.Frets),
                [.. l.Fingers.Select(f => (Finger)f)]))] };
    }

    /// <summary>The tuning a ladder is played in, in words, when it was decided on or is that of the student's guitar; null when
    /// the song has it.</summary>
    public static string? StringsOf(ArrangementRequest request) =>
        (request.Strings ?? request.Kind.Strings?.Apart().Known)?.Name;

    private static ArrangementRequest Decided(Chart chart, Player player, LadderChoice? choice, TeacherWishes wider,
        int? capo) => new()
    {
        Wishes = choice is null ? wider : TeacherWishes.Read(choice.Wishes).Over(wider),
        Chart = chart,
        Kind = player.Kind,
        Timed = player.Timed,
        Aim = choice?.Aim ?? Aim.Record,
        Voice = VoiceOf(chart, choice),
        Accompaniment = choice?.Accompaniment ?? Accompaniment.Record,
        Capo = capo ?? choice?.Capo,
        CapoUp = choice?.CapoUp ?? false,
        Tuning = choice?.Tuning,
        Strings = Tuning.Read(choice?.Strings),
    };

    /// <summary>What a teacher wants for a student in every song: what she wants for the student over what she wants in the
    /// studio.</summary>
    public static TeacherWishes WishesFor(TeacherWishes studio, Student student) =>
        TeacherWishes.Read(student.Wishes).Over(studio);

    /// <summary>What a teacher decided about the voice; null leaves it to the chart.</summary>
    private static VoiceWish? VoiceOf(Chart chart, LadderChoice? choice)
    {
        if (choice?.Voice is not { } voice) return null;
        if (int.TryParse(voice, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var semitones))
            return new VoiceWish(semitones);
        return PitchRange.TryParse(voice, out var singer)
            ? new VoiceWish(0, singer, PitchRange.TryParse(choice.Tune ?? "", out var tune) ? tune : chart.MelodyRange)
            : null;
    }
}
