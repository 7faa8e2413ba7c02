using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Classes;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Wishes;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Web.Computing;

namespace Tembri.Web.Ladders;

/// <summary>What the address says of a class: who plays, on which rungs, with which capos, at which tempo, in which
/// key.</summary>
/// <param name="Students">Who plays.</param>
/// <param name="Rungs">The rung of a student, where one was chosen.</param>
/// <param name="Capos">The capo of a student, where one was chosen.</param>
/// <param name="Parts">What a student does in a section, by its place in the chart, where that was chosen.</param>
/// <param name="Tempo">Beats a minute; null leaves it open.</param>
/// <param name="Semitones">The key, in semitones from the record; null leaves it open.</param>
internal sealed record ClassAsked(IReadOnlyList<Guid> Students, IReadOnlyDictionary<Guid, int> Rungs,
    IReadOnlyDictionary<Guid, int> Capos, IReadOnlyDictionary<(Guid Student, int Section), SectionPart> Parts, double? Tempo,
    int? Semitones)
{
    /// <summary>The most who stand on one sheet.</summary>
    public const int MostPlayers = 12;

    private const double SlowestTempo = 20, FastestTempo = 320;

    /// <summary>Reads <c>with=…&amp;rung-…=2&amp;capo-…=3&amp;part-…-0=rests&amp;tempo=80&amp;key=-2</c>. What is out of range
    /// counts as not said.</summary>
    public static ClassAsked Read(IQueryCollection query)
    {
        var students = query["with"].Select(w => Guid.TryParse(w, out var id) ? id : (Guid?)null).OfType<Guid>().Distinct()
            .Take(MostPlayers).ToList();
        Dictionary<Guid, int> Numbers(string name, int low, int high) =>
            students.Select(s => (s, Number: Number(query[$"{name}-{s}"]))).Where(x => x.Number >= low && x.Number <= high)
                .ToDictionary(x => x.s, x => (int)x.Number!);
        return new ClassAsked(
            students, Numbers("rung", 1, 9), Numbers("capo", 0, NeckGeometry.HighestCapo), PartsOf(query, students),
            double.TryParse(query["tempo"], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var tempo)
                    && tempo is >= SlowestTempo and <= FastestTempo
                ? tempo
                : null,
            Number(query["key"]) is { } key && Math.Abs(key) <= VoiceWish.Farthest ? key : null);
    }

    private static Dictionary<(Guid, int), SectionPart> PartsOf(IQueryCollection query, List<Guid> students) => query
        .Select(q => (Name: q.Key.Split('-', 2), Does: PartNames.FirstOrDefault(p => p.Name == q.Value)))
        .Where(q => q.Name is ["part", { Length: > PartIdLength }] && q.Does.Name is not null)
        .Select(q => (Student: Guid.TryParse(q.Name[1][..PartIdLength], out var id) ? id : Guid.Empty,
            Section: Number(q.Name[1][(PartIdLength + 1)..]) ?? -1, q.Does.Part))
        .Where(q => students.Contains(q.Student) && q.Section is >= 0 and < ChartLimits.MostSections)
        .DistinctBy(q => (q.Student, q.Section)).ToDictionary(q => (q.Student, q.Section), q => q.Part);

    private const int PartIdLength = 36;   // of a student's id in the name of a field

    /// <summary>What somebody may do in a section, as the address writes it.</summary>
    public static IReadOnlyList<(string Name, SectionPart Part)> PartNames { get; } =
        [("plays", SectionPart.Plays), ("stroke", SectionPart.OneStroke), ("rests", SectionPart.Rests)];

    private static int? Number(string? text) =>
        int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number) ? number : null;

    /// <summary>The query that says it, with another key where one is given.</summary>
    public string Query(int? key = null) => string.Join('&', new[]
    {
        string.Join('&', Students.Select(s => $"with={s}")), string.Join('&', Rungs.Select(r => $"rung-{r.Key}={r.Value}")),
        string.Join('&', Capos.Select(c => $"capo-{c.Key}={c.Value}")),
        string.Join('&',
            Parts.Select(p => $"part-{p.Key.Student}-{p.Key.Section}={PartNames.First(n => n.Part == p.Value).Name}")),
        Tempo is { } tempo ? string.Create(CultureInfo.InvariantCulture, $"tempo={tempo}") : "",
        (key ?? Semitones) is { } moved ? $"key={moved}" : "",
    }.Where(p => p.Length > 0));
}

/// <summary>A class sheet with whom it is for.</summary>
/// <param name="Song">The song.</param>
/// <param name="Chart">The song as recorded.</param>
/// <param name="Students">Who plays, in the order of the parts.</param>
/// <param name="Rungs">The rung each was asked for.</param>
/// <param name="Sheet">The sheet; null when somebody can play nothing that was asked for.</param>
/// <param name="Blocked">Who that is.</param>
internal sealed record OpenClass(Song Song, Chart Chart, IReadOnlyList<Student> Students, IReadOnlyDictionary<Guid, int> Rungs,
    ClassSheet? Sheet, Student? Blocked)
{
    /// <summary>Whose part it is.</summary>
    public Student Of(ClassPart part) => Students.First(s => s.Id.ToString() == part.Id);
}

/// <summary>Makes class sheets of stored songs and students.</summary>
internal sealed class ClassDesk(TembriDbContext context, SongGrades grades, LadderBuilder builder, LadderShelf shelf,
    ComputeLanes lanes)
{
    /// <summary>Fits within so much of each other count as alike: then the record's key is kept, or the nearest to it.</summary>
    public const double Alike = 0.03;

    /// <summary>A class; null when there is no such song, nobody plays, or the chart cannot be arranged.</summary>
    public async Task<OpenClass?> OpenAsync(Guid songId, ClassAsked asked, CancellationToken leaving)
    {
        if (await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == songId, leaving) is not { } song) return null;
        var found = await context.Students.AsNoTracking().Where(s => asked.Students.Contains(s.Id)).ToListAsync(leaving);
        var students = asked.Students.Select(id => found.FirstOrDefault(s => s.Id == id)).OfType<Student>().ToList();
        var chart = ChartReader.Read(song.ChartText, leaving).Chart;
        if (students.Count == 0 || LadderBuilder.Objection(chart.Chords.Count) is not null) return null;
        var rungs = await RungsAsync(song, students, asked, leaving);
        var studio = TeacherWishes.Read(await context.Studios.Where(s => s.Id == context.CurrentStudioId).Select(s => s.Wishes)
            .FirstOrDefaultAsync(leaving));
        var request = new ClassRequest
        {
            Chart = chart, Tempo = asked.Tempo, Semitones = asked.Semitones, Alike = Alike,
            Players = [.. students.Select(s => new ClassPlayer(s.Id.ToString(), s.ToPlayer(), [rungs[s.Id]])
            {
                Capo = asked.Capos.TryGetValue(s.Id, out var capo) ? capo : null,
                Parts = asked.Parts.Where(p => p.Key.Student == s.Id).ToDictionary(p => p.Key.Section, p => p.Value),
                Wishes = LadderDesk.WishesFor(studio, s)
            })],
        };
        // Students and their practice have versions of their own; a sheet is known by all it was made of.
        var key =
            $"{song.ChartStamp} {ArrangementStamp.ModelVersion} {asked.Tempo} {asked.Semitones} "
                + $"{string.Join(' ', request.Players.Select(p => $"{p.Id} {p.Player.Kind.Key} {p.Player.Skills} {p.Rungs[0]} {p.Capo} {string.Join(',', p.Parts)} {p.Wishes.ToJson()}"))} "
                + $"{string.Join(' ', students.Select(s => s.UsesPractice ? s.Progress?.Learnt.GetHashCode(StringComparison.Ordinal) : 0))}";
        try
        {
            var sheet = shelf.FindClass(key)
                ?? await lanes.ForPageAsync(work => new ClassArranger(builder).Arrange(request, work), leaving);
            shelf.PutClass(key, sheet);
            return new OpenClass(song, chart, students, rungs, sheet, null);
        }
        catch (ClassBlockedException e)
        {
            return new OpenClass(song, chart, students, rungs, null, students.First(s => s.Id.ToString() == e.Player));
        }
    }

    /// <summary>The rung of each: as chosen, else the one that is worked on in this song, else the one that fits.</summary>
    private async Task<Dictionary<Guid, int>> RungsAsync(Song song, IReadOnlyList<Student> students, ClassAsked asked,
        CancellationToken leaving)
    {
        var ids = students.Select(s => s.Id).ToList();
        var worked = await context.SongWorks.AsNoTracking()
            .Where(w => w.SongId == song.Id && w.EndedAt == null && ids.Contains(w.StudentId))
            .ToDictionaryAsync(w => w.StudentId, w => w.Rung, leaving);
        var open = students.Where(s => !asked.Rungs.ContainsKey(s.Id) && !worked.ContainsKey(s.Id)).ToList();
        var fitting = open.Count == 0
            ? []
            : (await grades.MakeAsync(song, open, inBackground: false, leaving))
                .ToDictionary(o => o.Key, o => o.Value.Grade(open.First(s => s.Id == o.Key).ToPlayer()).WorkingRung);
        return ids.ToDictionary(id => id,
            id => asked.Rungs.TryGetValue(id, out var chosen) ? chosen
                : worked.TryGetValue(id, out var now) ? now
                : fitting.GetValueOrDefault(id) ?? 1);
    }

    /// <summary>The song as recorded, in the key and at the tempo of a class.</summary>
    public Task<Ladder> RecordAsync(ClassSheet sheet, CancellationToken leaving)
    {
        var chart = sheet.Chart;
        return lanes.ForPageAsync(work => builder.Build(
                new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, HighestCapo = 0, Capo = 0 }, work), leaving);
    }
}
