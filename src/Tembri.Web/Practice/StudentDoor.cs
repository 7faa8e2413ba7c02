using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Students;
using Tembri.Data.Studios;
using Tembri.Web.Faults;
using Tembri.Web.Setup;

namespace Tembri.Web.Practice;

/// <summary>Who came in by a link: one student of one studio, and nothing else.</summary>
internal sealed record StudentVisit(Guid StudentId, Guid LinkId, string Secret);

/// <summary>The links that open a student's own page. A secret of 128 random bits; only its digest is stored, so that nobody
/// reads it back.</summary>
internal sealed class StudentDoor(TembriDbContext context, TimeProvider clock)
{
    /// <summary>Name of the rate limit of everything behind a link.</summary>
    public const string RateLimit = "student";

    /// <summary>Name of the rate limit of handing in, which is dearer.</summary>
    public const string HandInLimit = "student-hand-in";

    /// <summary>Days a link may hold.</summary>
    public static readonly IReadOnlyList<int> Lifetimes = [30, 90, 180, 365];

    private const int SecretBytes = 16;
    private static readonly TimeSpan SeenEvery = TimeSpan.FromHours(1);

    /// <summary>Makes a link; earlier ones of the student end.</summary>
    /// <returns>Its secret, which is shown once.</returns>
    public async Task<string> MakeAsync(Guid studentId, int days, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        await RevokeAsync(studentId, cancel);
        var secret = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(SecretBytes));
        context.StudentLinks.Add(new StudentLink
        {
            StudioId = context.CurrentStudioId ?? throw new InvalidOperationException("A link belongs to a studio."),
            StudentId = studentId, Digest = DigestOf(secret), CreatedAt = now, EndsAt = now.AddDays(days),
        });
        await context.SaveChangesAsync(cancel);
        return secret;
    }

    /// <summary>Ends the links of a student.</summary>
    public Task RevokeAsync(Guid studentId, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        return context.StudentLinks.Where(
                l => l.StudioId == context.CurrentStudioId && l.StudentId == studentId && l.RevokedAt == null)
            .ExecuteUpdateAsync(set => set.SetProperty(l => l.RevokedAt, now), cancel);
    }

    /// <summary>The link of a student that holds now, or held last.</summary>
    public Task<StudentLink?> LastAsync(Guid studentId, CancellationToken cancel) =>
        context.StudentLinks.AsNoTracking().Where(l => l.StudioId == context.CurrentStudioId && l.StudentId == studentId)
            .OrderByDescending(l => l.CreatedAt).FirstOrDefaultAsync(cancel);

    /// <summary>True while a link opens something.</summary>
    public bool Holds(StudentLink link) => link.RevokedAt is null && link.EndsAt > clock.GetUtcNow();

    /// <summary>The link of a secret; null when there is none that holds.</summary>
    public async Task<StudentLink?> FindAsync(string secret, CancellationToken cancel)
    {
        if (secret.Length != Base64Url.GetEncodedLength(SecretBytes)) return null;
        var (digest, now) = (DigestOf(secret), clock.GetUtcNow());
        if (await context.StudentLinks.FirstOrDefaultAsync(l => l.Digest == digest && l.RevokedAt == null && l.EndsAt > now
                && context.Studios.Any(s => s.Id == l.StudioId && s.ClosedAt == null), cancel) is not { } link)
            return null;
        if (link.SeenAt is null || now - link.SeenAt > SeenEvery)
        {
            link.SeenAt = now;
            await context.SaveChangesAsync(cancel);
        }
        return link;
    }

    private static byte[] DigestOf(string secret) => SHA256.HashData(Encoding.ASCII.GetBytes(secret));
}

/// <summary>Opens what lies behind a link, before anything else looks who is there: a teacher's cookie counts for nothing
/// here.</summary>
internal sealed class StudentDoorStep(RequestDelegate next)
{
    /// <summary>Where links lead.</summary>
    public const string Root = "/my";

    public async Task InvokeAsync(HttpContext context, StudentDoor door, ICurrentStudio studio)
    {
        if (!context.Request.Path.StartsWithSegments(Root, out var rest) || context.GetEndpoint() is null
            || context.Request.RouteValues["secret"] is not string secret)
        {
            await next(context);
            return;
        }
        var headers = context.Response.Headers;
        headers["Referrer-Policy"] = "no-referrer";
        headers["X-Robots-Tag"] = "noindex, nofollow, noarchive";
        // The application's own rehearsal says whose page it opens; nothing from outside can.
        if (context.Items[typeof(StudentVisit)] is StudentVisit)
        {
            await next(context);
            return;
        }
        if (await door.FindAsync(secret, context.RequestAborted) is not { } link)
        {
            context.Items[FaultAnswers.CodeItem] = "link";
            context.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }
        ((SignedInStudio)studio).Override = link.StudioId;
        context.Items[typeof(StudentVisit)] = new StudentVisit(link.StudentId, link.Id, secret);
        await next(context);
    }
}
