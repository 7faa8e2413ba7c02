using Microsoft.AspNetCore.Http.Features;
using Microsoft.EntityFrameworkCore;
using System.Security.Claims;
using System.Text;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Accounts;
using Tembri.Web.Practice;

namespace Tembri.Web.Setup;

/// <summary>Tells whether a request is the application's own: nobody looks at its answer, so nobody is noted as having looked,
/// and what it hands in is not kept.</summary>
internal sealed class Onlooker
{
    /// <summary>True when nobody looks.</summary>
    public bool IsNobody { get; set; }
}

/// <summary>Everything a request goes through, for requests that come from nowhere.</summary>
internal sealed class Pipeline
{
    private RequestDelegate? _all;

    /// <summary>To be put in front of everything else.</summary>
    public RequestDelegate Hold(RequestDelegate all) => _all = all;

    /// <summary>Sends a request through it.</summary>
    /// <exception cref="InvalidOperationException">The application has not started yet.</exception>
    public Task SendAsync(HttpContext context) =>
        (_all ?? throw new InvalidOperationException("The application has not started yet."))(context);
}

/// <summary>Opens the pages people open most, once, for the studio that was at work last, so that the first one who opens them
/// here does not wait while they are compiled. Nothing is shown to anybody, and nothing is kept but what a page works out and
/// stores for its next visitor anyway.</summary>
internal sealed class Rehearsal(Pipeline pipeline, IHttpContextFactory contexts, IServiceScopeFactory scopes)
{
    /// <summary>What was asked, and how it was answered.</summary>
    /// <param name="What">The page.</param>
    /// <param name="Status">The answer's status.</param>
    public readonly record struct Asked(string What, int Status);

    /// <summary>Whose pages are opened.</summary>
    private sealed record Cast(Guid Studio, Guid Teacher, Guid Song, Guid Student, bool Practises);

    private const string HandedIn = """
        {"entries":[{"kind":"changes","text":"C to G","from":{"frets":[-1,3,2,0,1,0]},"to":{"frets":[3,2,0,0,0,3]},"count":30,"seconds":60}]}
        """;

    /// <summary>Goes through the pages.</summary>
    /// <returns>Each page with its answer; nothing where there is no studio with a song and a student yet.</returns>
    public async Task<IReadOnlyList<Asked>> GoThroughAsync(CancellationToken leaving)
    {
        if (await CastAsync(leaving) is not { } cast) return [];
        var (song, student) = ($"/songs/{cast.Song}", $"/students/{cast.Student}");
        var asked = new List<Asked>();
        foreach (var page in new[]
        {
            "/account/sign-in", "/", "/songs", $"{song}/ladder/{cast.Student}", $"{song}/chart", $"{song}/sheet/{cast.Student}",
            $"{song}/stage/{cast.Student}", "/students", $"{student}/practice", $"{student}/log"
        })
            asked.Add(new Asked(page, await SendAsync("GET", page, cast, null, leaving)));
        if (!cast.Practises) return asked;
        // A phone that opens its page and hands something in, which is taken back before it counts (Logbook).
        asked.Add(new Asked("/my/…", await SendAsync("GET", My(""), cast, null, leaving)));
        asked.Add(new Asked("/my/…/entries", await SendAsync("POST", My("/entries"), cast, HandedIn, leaving)));
        return asked;

        static string My(string rest) => $"{StudentDoorStep.Root}/nobody{rest}";
    }

    private async Task<Cast?> CastAsync(CancellationToken leaving)
    {
        await using var scope = scopes.CreateAsyncScope();
        var context = scope.ServiceProvider.GetRequiredService<TembriDbContext>();
        var last = await context.Sessions.AsNoTracking().OrderByDescending(s => s.SeenAt)
            .Where(s => s.Teacher!.Studio!.ClosedAt == null).Select(s => new { s.TeacherId, s.Teacher!.StudioId })
            .FirstOrDefaultAsync(leaving);
        if (last is null) return null;
        ((SignedInStudio)scope.ServiceProvider.GetRequiredService<ICurrentStudio>()).Override = last.StudioId;
        // Who hands things in already has what handing in writes at the first time.
        var work = await context.SongWorks.AsNoTracking().OrderByDescending(w => w.StartedAt)
            .Where(w => w.EndedAt == null && context.Students.Any(s => s.Id == w.StudentId && s.Progress != null))
            .Select(w => new { w.SongId, w.StudentId }).FirstOrDefaultAsync(leaving);
        if (work is not null) return new Cast(last.StudioId, last.TeacherId, work.SongId, work.StudentId, true);
        var song = await context.Songs.OrderBy(s => s.Id).Select(s => s.Id).FirstOrDefaultAsync(leaving);
        var student = await context.Students.OrderBy(s => s.Id).Select(s => s.Id).FirstOrDefaultAsync(leaving);
        return song == default || student == default ? null : new Cast(last.StudioId, last.TeacherId, song, student, false);
    }

    private async Task<int> SendAsync(string method, string path, Cast cast, string? body, CancellationToken leaving)
    {
        await using var scope = scopes.CreateAsyncScope();
        var services = scope.ServiceProvider;
        services.GetRequiredService<Onlooker>().IsNobody = true;
        var content = Encoding.UTF8.GetBytes(body ?? "");
        var features = new FeatureCollection();
        // As behind the proxy: where cookies are for TLS only, a page in plain would be a fault.
        features.Set<IHttpRequestFeature>(new HttpRequestFeature
        {
            Method = method, Path = path, Scheme = "https", Protocol = "HTTP/1.1", Body = new MemoryStream(content),
            Headers = new HeaderDictionary { ["Host"] = "localhost", ["Accept"] = "text/html" }
        });
        features.Set<IHttpResponseFeature>(new HttpResponseFeature());
        features.Set<IHttpResponseBodyFeature>(new StreamResponseBodyFeature(Stream.Null));
        features.Set<IHttpRequestLifetimeFeature>(new HttpRequestLifetimeFeature { RequestAborted = leaving });
        features.Set<IServiceProvidersFeature>(new ServicesOfScope(services));
        features.Set<IHttpRequestBodyDetectionFeature>(new BodyThere(content.Length > 0));
        var http = contexts.Create(features);
        try
        {
            if (content.Length > 0)
                (http.Request.ContentType, http.Request.ContentLength) = ("application/json", content.Length);
            if (path.StartsWith(StudentDoorStep.Root, StringComparison.Ordinal))
            {
                ((SignedInStudio)services.GetRequiredService<ICurrentStudio>()).Override = cast.Studio;
                http.Items[typeof(StudentVisit)] = new StudentVisit(cast.Student, Guid.Empty, "nobody");
            }
            else
                http.User = new ClaimsPrincipal(new ClaimsIdentity(
                [
                    new Claim(ClaimTypes.NameIdentifier, cast.Teacher.ToString()), new Claim(ClaimTypes.Name, "nobody"),
                    new Claim(SignedInStudio.ClaimType, cast.Studio.ToString())
                ], "rehearsal"));
            await pipeline.SendAsync(http);
            return http.Response.StatusCode;
        }
        finally { contexts.Dispose(http); }
    }

    private sealed class ServicesOfScope(IServiceProvider services) : IServiceProvidersFeature
    {
        public IServiceProvider RequestServices { get; set; } = services;
    }

    private sealed class BodyThere(bool isThere) : IHttpRequestBodyDetectionFeature
    {
        public bool CanHaveBody => isThere;
    }
}
