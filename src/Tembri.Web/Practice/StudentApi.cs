using System.Text.Json;
using Tembri.Core.Ladders;
using Tembri.Data.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;
using Tembri.Web.Sound;

namespace Tembri.Web.Practice;

/// <summary>What a student's page asks for behind its link: handing in, sounds, what makes it installable.</summary>
internal static class StudentApi
{
    /// <summary>What a phone hands in.</summary>
    /// <param name="SentAt">What its clock says now; entries are moved by what it is off.</param>
    /// <param name="Entries">What was done.</param>
    public sealed record HandIn(JsonElement? SentAt, IReadOnlyList<JsonElement>? Entries);

    public sealed record KeptItem(Guid? Key, bool Kept, string? Fault);

    /// <param name="Outcomes">What became of each entry.</param>
    /// <param name="ClockOffSeconds">How far the phone's clock is off, s; 0 when it is near enough.</param>
    public sealed record HandedIn(IReadOnlyList<KeptItem> Outcomes, int ClockOffSeconds);

    private static readonly TimeSpan ClockMayDiffer = TimeSpan.FromMinutes(5);

    public static void MapStudentApi(this IEndpointRouteBuilder routes)
    {
        var my = routes.MapGroup(StudentDoorStep.Root).AllowAnonymous().DisableAntiforgery()
            .RequireRateLimiting(StudentDoor.RateLimit).ExcludeFromDescription();
        // The secret in the address is the proof; no other site knows it, so no form token is needed.
        my.MapPost("/{secret}/entries", HandInAsync).RequireRateLimiting(StudentDoor.HandInLimit);
        my.MapPost("/{secret}/entries/{entry:guid}/take-back", TakeBackAsync);
        my.MapGet("/{secret}/score/{song:guid}", ScoreAsync);
        my.MapGet("/{secret}/app.webmanifest", Manifest);
        my.MapGet("/worker.js", (IWebHostEnvironment host, AssetNames assets) =>
            Results.File(
                host.WebRootFileProvider.GetFileInfo($"assets/{assets["my-worker.js"].Split('/')[^1]}").CreateReadStream(),
                "text/javascript; charset=utf-8"));
    }

    private static StudentVisit Visit(HttpContext http) => (StudentVisit)http.Items[typeof(StudentVisit)]!;

    private static async Task<IResult> HandInAsync(HandIn sent, HttpContext http, Logbook log, TimeProvider clock)
    {
        var entries = sent.Entries ?? [];
        if (entries.Count > Logbook.LargestBatch)
            return Results.Problem($"Hand in at most {Logbook.LargestBatch} entries at once.", statusCode: 413);
        // A clock that is wrong moves all it dates by the same.
        var off = sent.SentAt is { ValueKind: JsonValueKind.String } said && said.TryGetDateTimeOffset(out var theirs)
            ? theirs - clock.GetUtcNow()
            : TimeSpan.Zero;
        if (off.Duration() < ClockMayDiffer) off = TimeSpan.Zero;
        var read = entries.Select(Read).ToList();
        var dated = read.Select(e => e is { At: { } at } && off != TimeSpan.Zero ? e with { At = Moved(at, off) } : e).ToList();
        if (await log.KeepAsync(Visit(http).StudentId, [.. dated.OfType<NewEntry>()], Author.Student,
            http.RequestAborted) is not { } outcomes)
            return Results.NotFound();
        var next = 0;
        return Results.Json(new HandedIn([.. entries.Select((e, i) => read[i] is null
                ? new KeptItem(KeyOf(e), false, "This entry cannot be read; most likely the page is old. Open it again.")
                : Item(outcomes[next++]))], (int)off.TotalSeconds));
    }

    private static KeptItem Item(EntryOutcome outcome) => new(outcome.Key, outcome.Kept, outcome.Fault);

    /// <summary>One entry; null when it is none, so that the others are kept all the same.</summary>
    private static NewEntry? Read(JsonElement entry)
    {
        try { return entry.Deserialize<NewEntry>(JsonSerializerOptions.Web); }
        catch (JsonException) { return null; }
    }

    private static Guid? KeyOf(JsonElement entry) =>
        entry.ValueKind == JsonValueKind.Object && entry.TryGetProperty("key", out var key)
                && key.ValueKind == JsonValueKind.String && key.TryGetGuid(out var id)
            ? id
            : null;

    private static DateTimeOffset Moved(DateTimeOffset at, TimeSpan off)
    {
        try { return at - off; }
        catch (ArgumentOutOfRangeException) { return at; }
    }

    private static async Task<IResult> TakeBackAsync(Guid entry, HttpContext http, Logbook log) =>
        await log.TakeBackAsync(Visit(http).StudentId, entry, Author.Student, http.RequestAborted)
            ? Results.NoContent()
            : Results.NotFound();

    private static async Task<IResult> ScoreAsync(Guid song, int? rung, HttpContext http, LadderDesk desk, PlanDesk plans)
    {
        if (!await plans.WorksOnAsync(Visit(http).StudentId, song, http.RequestAborted)) return Results.NotFound();
        if (await desk.OpenAsync(song, Visit(http).StudentId, null, http.RequestAborted) is not { } open)
            return Results.NotFound();
        return open.Ladder.Playable.FirstOrDefault(r => r.Number == rung) is { } playable
            ? Results.Json(SoundScore.Of(open.Ladder, playable))
            : Results.NotFound();
    }

    private static IResult Manifest(HttpContext http, AssetNames assets)
    {
        var here = $"{StudentDoorStep.Root}/{Visit(http).Secret}";
        return Results.Json(new
        {
            name = "Tembri practice", short_name = "Practice", start_url = here, scope = here, display = "standalone",
            background_color = "#f4eee1", theme_color = "#f4eee1",
            icons = new[] { new { src = assets["mark.svg"], sizes = "any", type = "image/svg+xml" } },
        }, new JsonSerializerOptions(), "application/manifest+json");
    }
}
