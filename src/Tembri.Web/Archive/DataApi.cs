using Microsoft.EntityFrameworkCore;
using Tembri.Core.Charts;
using Tembri.Data;
using Tembri.Data.Songs;
using Tembri.Data.Students;
using Tembri.Data.Studios;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;
using Tembri.Web.Practice;
using Tembri.Web.Setup;
using Tembri.Web.Songs;

namespace Tembri.Web.Archive;

/// <summary>The part of the API that reads and writes a studio's data: songs, students, entries and plans, behind a key of the
/// studio. Lists are paged, writing twice with one key of a request counts once.</summary>
internal static class DataApi
{
    /// <summary>Name of the rate limit.</summary>
    public const string RateLimit = "data";

    private const int UsualPage = 50, LargestPage = 200;
    private const string RequestHeader = "Idempotency-Key";

    public sealed record SongItem(Guid Id, string Title, string Key, double Tempo, string Meter, IReadOnlyList<string> Tags,
        int Chords, int Doubts, DateTimeOffset ChangedAt, string? Chart, uint Version);

    public sealed record SongBody(string? Chart, uint? Version);

    public sealed record StudentItem(Guid Id, string Nickname, string Hand, string Guitar, bool Thumb, bool LeftHanded,
        string Barres, Core.Students.Skills Skills, int MinutesADay, DateTimeOffset ChangedAt);

    public sealed record StudentBody(string? Nickname, Api.LadderCall.StudentItem? Player, bool? LeftHanded, int? MinutesADay);

    public sealed record EntriesBody(IReadOnlyList<NewEntry>? Entries);

    public sealed record PlanItem(string Kind, string Title, string Why, int Minutes, double? Tempo);

    public sealed record PlanDayItem(DateOnly On, int Minutes, IReadOnlyList<PlanItem> Items);

    public sealed record Paged<T>(IReadOnlyList<T> Items, int Page, int Pages, int All);

    public static void MapDataApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1").AllowAnonymous().DisableAntiforgery().RequireRateLimiting(RateLimit)
            .WithTags("data").AddEndpointFilter(WithKeyAsync)
            .ProducesProblem(400).ProducesProblem(401).ProducesProblem(404).ProducesProblem(409).ProducesProblem(429);
        api.MapGet("/songs", SongsAsync)
            .WithSummary("The songs of the studio, a page at a time; 'q' finds as the page of songs does.")
            .Produces<Paged<SongItem>>();
        api.MapGet("/songs/{id:guid}", SongAsync).WithSummary("A song with its chart.").Produces<SongItem>();
        api.MapPost("/songs", NewSongAsync).WithSummary("Takes a song down from a chart text.").Produces<SongItem>(201);
        api.MapPut("/songs/{id:guid}", WriteSongAsync).WithSummary("Writes a song's chart anew, on the version that was read.")
            .Produces<SongItem>();
        api.MapGet("/students", StudentsAsync).WithSummary("The students of the studio, a page at a time.")
            .Produces<Paged<StudentItem>>();
        api.MapPost("/students", NewStudentAsync).WithSummary("Adds a student.").Produces<StudentItem>(201);
        api.MapGet("/students/{id:guid}/entries", EntriesAsync)
            .WithSummary("Entries of a logbook, the newest first, a page at a time.");
        api.MapPost("/students/{id:guid}/entries", NewEntriesAsync)
            .WithSummary("Puts entries into a logbook; each carries a key of its own, so that it counts once.");
        api.MapGet("/students/{id:guid}/plan", PlanAsync).WithSummary("The plan of the next seven days.")
            .Produces<IReadOnlyList<PlanDayItem>>();
    }

    /// <summary>Lets only a key of a studio in, and makes that studio the current one. A teacher's cookie counts for nothing
    /// here.</summary>
    private static async ValueTask<object?> WithKeyAsync(EndpointFilterInvocationContext invoked, EndpointFilterDelegate next)
    {
        var http = invoked.HttpContext;
        var given = http.Request.Headers.Authorization.ToString();
        if (!given.StartsWith("Bearer ", StringComparison.Ordinal)
            || await http.RequestServices.GetRequiredService<ApiKeys>()
                .FindAsync(given["Bearer ".Length..].Trim(), http.RequestAborted) is not { } studio)
        {
            http.Response.Headers.WWWAuthenticate = "Bearer";
            return Results.Problem(
                "Give a key of the studio as 'Authorization: Bearer tembri_…'. A teacher makes keys under Studio, Data.",
                statusCode: 401, title: "No key");
        }
        ((SignedInStudio)http.RequestServices.GetRequiredService<ICurrentStudio>()).Override = studio;
        // The key was looked up before the studio was known; the database is told now.
        await http.RequestServices.GetRequiredService<TembriDbContext>().Database.CloseConnectionAsync();
        return await next(invoked);
    }

    private static IResult Wrong(string field, string detail) =>
        Results.Problem(detail, statusCode: 400, title: "The request is not right",
            extensions: new Dictionary<string, object?> { ["field"] = field });

    private static Guid? RequestKey(HttpContext http, out IResult? wrong)
    {
        wrong = null;
        var given = http.Request.Headers[RequestHeader].ToString();
        if (given.Length == 0) return null;
        if (Guid.TryParse(given, out var key)) return key;
        wrong = Wrong(RequestHeader,
            $"The header {RequestHeader} is a UUID that names the request, so that sending it twice counts once.");
        return null;
    }

    private static (int Page, int Size) PageOf(int? page, int? size) =>
        (Math.Max(1, page ?? 1), Math.Clamp(size ?? UsualPage, 1, LargestPage));

    private static async Task<Paged<TItem>> PagedAsync<TRow,
        TItem>(IQueryable<TRow> rows, int? page, int? size, Func<TRow, TItem> item, CancellationToken leaving)
    {
        var ((number, most), all) = (PageOf(page, size), await rows.CountAsync(leaving));
        var found = number > 1 + all / most ? [] : await rows.Skip((number - 1) * most).Take(most).ToListAsync(leaving);
        return new Paged<TItem>([.. found.Select(item)], number, Math.Max(1, (all + most - 1) / most), all);
    }

    private static SongItem Item(Song s, bool withChart) =>
        new(s.Id, s.Title, s.Key, s.Tempo, s.Meter, s.Tags, s.ChordCount, s.ProblemCount, s.ChangedAt,
            withChart ? s.ChartText : null, s.Version);

    private static async Task<IResult> SongsAsync(string? q, int? page, int? size, TembriDbContext context,
        CancellationToken leaving)
    {
        var (songs, _) = await new SongsAsked { Q = q }.FindAsync(context, leaving);
        return Results.Json(
            await PagedAsync(songs.OrderBy(s => s.Title).ThenBy(s => s.Id), page, size, s => Item(s, false), leaving));
    }

    private static async Task<IResult> SongAsync(Guid id, TembriDbContext context, CancellationToken leaving) =>
        await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, leaving) is { } song
            ? Results.Json(Item(song, true))
            : Results.Problem("There is no such song in this studio.", statusCode: 404);

    private static async Task<IResult> NewSongAsync(SongBody body, HttpContext http, TembriDbContext context,
        ArrangingOrders orders, TimeProvider clock, CancellationToken leaving)
    {
        if (Fault(body.Chart) is { } fault) return fault;
        var key = RequestKey(http, out var wrong);
        if (wrong is not null) return wrong;
        if (key is { } named
            && await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.RequestKey == named, leaving) is { } there)
            return Results.Json(Item(there, true));
        var song = SongText.New();
        song.RequestKey = key;
        SongText.Apply(song, body.Chart!, clock.GetUtcNow());
        context.AddOwned(song);
        try { await context.SaveChangesAsync(leaving); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e) && key is { } twice)
        {
            // The same request came twice at once; the other one made it.
            context.ChangeTracker.Clear();
            return await context.Songs.AsNoTracking().FirstOrDefaultAsync(s => s.RequestKey == twice, leaving) is { } made
                ? Results.Json(Item(made, true))
                : Results.Problem("The song could not be kept; send it again.", statusCode: 409);
        }
        await orders.OrderAsync(song.Id, leaving);
        return Results.Json(Item(song, true), statusCode: 201);
    }

    private static IResult? Fault(string? chart) => string.IsNullOrWhiteSpace(chart) ? Wrong("chart", "Give the chart as text.")
        : chart.Length
            > ChartLimits.LongestText
                ? Wrong("chart", $"A chart has at most {ChartLimits.LongestText} letters; this one has {chart.Length}.")
        : null;

    private static async Task<IResult> WriteSongAsync(Guid id, SongBody body, TembriDbContext context, SongKeeper keeper,
        CancellationToken leaving)
    {
        if (Fault(body.Chart) is { } fault) return fault;
        if (body.Version is not { } version)
            return Wrong("version", "Give the version of the song that was read, so that nobody's change is written over.");
        if (await context.Songs.FirstOrDefaultAsync(s => s.Id == id, leaving) is not { } song)
            return Results.Problem("There is no such song in this studio.", statusCode: 404);
        var (kept, stored) = await keeper.KeepAsync(song, body.Chart!, version, leaving);
        return kept
            ? Results.Json(Item(stored!, true))
            : Results.Problem(stored is null
                    ? "The song was removed meanwhile."
                    : $"The song was changed meanwhile; its version is {stored.Version}. Read it again, "
                        + "and write your change into that.",
                statusCode: stored is null ? 404 : 409);
    }

    private static StudentItem Item(Student s) =>
        new(s.Id, s.Nickname, s.HandId, s.GuitarId, s.Thumb, s.LeftHanded, s.Barres.ToString().ToLowerInvariant(), s.Skills,
            s.MinutesADay, s.ChangedAt);

    private static async Task<IResult> StudentsAsync(int? page, int? size, TembriDbContext context, CancellationToken leaving) =>
        Results.Json(await PagedAsync(context.Students.AsNoTracking().OrderBy(s => s.Nickname).ThenBy(s => s.Id), page, size,
            Item, leaving));

    private static async Task<IResult> NewStudentAsync(StudentBody body, HttpContext http, TembriDbContext context,
        TimeProvider clock, CancellationToken leaving)
    {
        var nickname = PlainText.OneLine(body.Nickname ?? "");
        if (nickname.Length is 0 or > Student.LongestNickname)
            return Wrong("nickname", $"Give a nickname of 1 to {Student.LongestNickname} letters; no full name is needed.");
        if (body.MinutesADay is not (null or (>= 1 and <= Student.MostMinutes)))
            return Wrong("minutesADay", $"Minutes a day are 1 to {Student.MostMinutes}.");
        Core.Students.Player player;
        try { player = Api.LadderCall.ToPlayer(body.Player, "player"); }
        catch (Api.ApiProblem e) { return Wrong(e.Field, e.Message); }
        var key = RequestKey(http, out var wrong);
        if (wrong is not null) return wrong;
        if (key is { } named
            && await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.RequestKey == named, leaving) is { } there)
            return Results.Json(Item(there));
        var student = new Student
        {
            Nickname = nickname, HandId = player.Hand.Id, GuitarId = player.Guitar.Id, Thumb = player.Thumb,
            LeftHanded = body.LeftHanded ?? false, Barres = player.Barres, Skills = player.Skills,
            MinutesADay = body.MinutesADay ?? Student.UsualMinutes, ChangedAt = clock.GetUtcNow(), GuessedAt = clock.GetUtcNow(),
            RequestKey = key,
        };
        context.AddOwned(student);
        try { await context.SaveChangesAsync(leaving); }
        catch (DbUpdateException e) when (DatabaseFaults.IsConflict(e) && key is { } twice)
        {
            context.ChangeTracker.Clear();
            return await context.Students.AsNoTracking().FirstOrDefaultAsync(s => s.RequestKey == twice, leaving) is { } made
                ? Results.Json(Item(made))
                : Results.Problem("The student could not be kept; send it again.", statusCode: 409);
        }
        return Results.Json(Item(student), statusCode: 201);
    }

    private static async Task<IResult> EntriesAsync(Guid id, int? page, int? size, TembriDbContext context,
        CancellationToken leaving)
    {
        if (!await context.Students.AnyAsync(s => s.Id == id, leaving))
            return Results.Problem("There is no such student in this studio.", statusCode: 404);
        var entries = context.PracticeEntries.AsNoTracking().Where(e => e.StudentId == id && e.EndedAt == null)
            .OrderByDescending(e => e.At).ThenByDescending(e => e.Id);
        return Results.Json(await PagedAsync(entries, page, size, e => new
        {
            e.Id, e.At, kind = e.Kind.ToString().ToLowerInvariant(), song = e.SongId, e.Rung, e.Text, e.Tempo, e.Count,
            e.Seconds, e.Tries, e.Went, e.Minutes, e.Felt, e.Hurt, by = e.By.ToString().ToLowerInvariant(),
        }, leaving));
    }

    private static async Task<IResult> NewEntriesAsync(Guid id, EntriesBody body, Logbook log, CancellationToken leaving)
    {
        if (body.Entries is not { Count: > 0 } entries || entries.Any(e => e is null))
            return Wrong("entries", "Give at least one entry.");
        if (entries.Count > Logbook.LargestBatch)
            return Wrong("entries", $"Send at most {Logbook.LargestBatch} entries at once.");
        return await log.KeepAsync(id, entries, Author.Teacher, leaving) is { } outcomes
            ? Results.Json(new { outcomes })
            : Results.Problem("There is no such student in this studio.", statusCode: 404);
    }

    private static async Task<IResult> PlanAsync(Guid id, PlanDesk plans, StudioSettings studio, CancellationToken leaving) =>
        await plans.OpenAsync(id, 7, leaving) is { } practice
            ? Results.Json(practice.Plan.Select(d => new PlanDayItem(d.On, d.Minutes, [.. d.Items.Select(i => new PlanItem(
                System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(i.Kind.ToString()),
                Words.PlanWords.Title(i, studio.NoteNames), Words.PlanWords.Why(i), i.Minutes, i.Tempo))])))
            : Results.Problem("There is no such student in this studio.", statusCode: 404);
}
