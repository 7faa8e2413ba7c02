using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.Net.Http.Headers;
using Tembri.Core;
using Tembri.Data;
using Tembri.Data.Studios;

namespace Tembri.Web.Setup;

/// <summary>Marks a page that shows nothing but a studio's rows, the address and the day, so that an answer stays right until
/// something of the studio is saved. Forms on it carry no key of their own: two tabs would have the same.</summary>
[AttributeUsage(AttributeTargets.Class)]
internal sealed class KeptAttribute : Attribute;

/// <summary>
/// Gives a browser that opens a page again, while nothing of the studio was saved, the answer it was given before, packed as it
/// was (for a caller that unpacks nothing it is unpacked). Who asks is looked at first, as for any page.
/// </summary>
/// <remarks>
/// An answer belongs to one browser (all its cookies) and one address. It is good while the studio's changes are the same: the
/// database writes a line for each transaction
/// that touches a studio (<c>studio_changes</c>), and how many there are and which is the last tells whether there was one
/// since. They are read before the page is made, so that
/// what is saved meanwhile makes the answer old, never the other way. From a standby an answer is good for a second, since two
/// standbys need not be equally far.
/// </remarks>
internal sealed class KeptPages(RequestDelegate next, Databases databases)
{
    private const long MostBytes = 10_000_000;
    private const int UsualBytes = 24_000, LargestPage = 400_000;
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(1), OfStandby = TimeSpan.FromSeconds(1);
    private readonly BoundedResults<string, byte[]> _answers = new(MostBytes, UsualBytes, packed => packed.Length + 200);

    public async Task InvokeAsync(HttpContext context, ICurrentStudio current, TimeProvider clock)
    {
        var request = context.Request;
        if (!HttpMethods.IsGet(request.Method) || context.GetEndpoint()?.Metadata.GetMetadata<KeptAttribute>() is null
            || current.StudioId is not { } studio
            || request.Query.ContainsKey("handler") || request.Headers.ContainsKey("HX-Request")
            || request.Headers.ContainsKey(Faults.Callers.ScriptHeader))
        {
            await next(context);
            return;
        }
        var changes =
            await ChangesAsync(context.RequestServices.GetRequiredService<TembriDbContext>(), studio, context.RequestAborted);
        var encoding = Packing.For(request);
        var span = clock.GetUtcNow().Ticks / (databases.Standby is null ? Longest : OfStandby).Ticks;
        var key = KeyOf(request, $"{clock.GetLocalNow():yyyy-MM-dd} {span} {changes} {encoding}");
        var known = _answers.Find(key);
        Measures.LookedUp("page", known is not null);
        if (known is not null)
        {
            // What the page itself would have remembered.
            if (StudentOf(request) is { } student) ChosenStudent.Keep(context, student);
            await SendAsync(context, encoding, known);
            return;
        }
        var outside = context.Response.Body;
        using var page = new MemoryStream();
        context.Response.Body = page;
        try { await next(context); }
        finally { context.Response.Body = outside; }
        var response = context.Response;
        var isWhole = response is { StatusCode: StatusCodes.Status200OK, HasStarted: false }
            && page.Length is > 0 and < LargestPage * 4L
            && response.ContentType?.StartsWith("text/html", StringComparison.Ordinal) == true
            && response.Headers.ContentEncoding.Count == 0;
        var isOwn = response.Headers.SetCookie.All(
            c => StudentOf(request) is not null && c?.StartsWith($"{ChosenStudent.Cookie}=", StringComparison.Ordinal) == true);
        if (!isWhole || !isOwn)
        {
            page.Position = 0;
            await page.CopyToAsync(outside, context.RequestAborted);
            return;
        }
        var packed = Pack(page, encoding);
        if (packed.Length <= LargestPage) _answers.Keep(key, packed);
        await SendAsync(context, encoding, packed);
    }

    /// <summary>Packs a page as it is sent; for whom it must not be packed, as small as it can be kept.</summary>
    private static byte[] Pack(MemoryStream page, string? encoding)
    {
        using var packed = new MemoryStream((int)page.Length / 4);
        using (Stream packer = encoding == Packing.Gzip
            ? new GZipStream(packed, CompressionLevel.Fastest, leaveOpen: true)
            : new BrotliStream(packed, CompressionLevel.Fastest, leaveOpen: true)) page.WriteTo(packer);
        return packed.ToArray();
    }

    private static async Task SendAsync(HttpContext context, string? encoding, byte[] packed)
    {
        var response = context.Response;
        (response.ContentType, response.Headers.Vary) = ("text/html; charset=utf-8", HeaderNames.AcceptEncoding);
        if (encoding is null)
        {
            await using var unpacked = new BrotliStream(new MemoryStream(packed), CompressionMode.Decompress);
            await unpacked.CopyToAsync(response.Body, context.RequestAborted);
            return;
        }
        (response.Headers.ContentEncoding, response.ContentLength) = (encoding, packed.Length);
        await response.Body.WriteAsync(packed, context.RequestAborted);
    }

    /// <summary>The student a page is about; null for pages that are about none.</summary>
    private static Guid? StudentOf(HttpRequest request) =>
        Guid.TryParse(request.RouteValues["student"] as string, out var id) ? id : null;

    /// <summary>The browser with all it says of itself (but who was chosen last, where the address names somebody), the address,
    /// and when: the day, on which much of a page stands, the span for which an answer is good, the changes there
    /// were.</summary>
    private static string KeyOf(HttpRequest request, string when) =>
        Convert.ToBase64String(SHA256.HashData(Encoding.UTF8.GetBytes($"{string.Join(';', request.Cookies.Where(c => c.Key != ChosenStudent.Cookie || StudentOf(request) is null).Select(c => $"{c.Key}={c.Value}"))}\n{request.Host}\n{request.Path}{request.QueryString}\n{when}")));

    private static async Task<string> ChangesAsync(TembriDbContext database, Guid studio, CancellationToken leaving) =>
        (await database.Database.SqlQuery<string>($"select count(*) || ' ' || coalesce(max(change::text::numeric), 0) as \"Value\" from studio_changes where studio_id = {studio}")
            .ToListAsync(leaving))[0];
}

/// <summary>Removes lines about changes that are older than any kept answer.</summary>
internal sealed class OldChanges(IServiceScopeFactory scopes, TimeProvider clock, ILogger<OldChanges> log) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(10);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                var before = clock.GetUtcNow() - Every;
                await scope.ServiceProvider.GetRequiredService<TembriDbContext>().Database.ExecuteSqlAsync(
                    $"delete from studio_changes where at < {before}", stoppingToken);
            }
            catch (Exception e) when (!stoppingToken.IsCancellationRequested)
            {
                log.LogWarning("Old lines about changes could not be removed: {Fault}; it is tried again", e.GetType().Name);
            }
        }
    }
}
