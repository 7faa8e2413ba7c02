using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Web.Faults;
using Tembri.Web.Setup;

namespace Tembri.Web.Accounts;

/// <summary>The browsers a teacher is signed in with. Every request asks whether its session still stands, so that ending one
/// holds at once.</summary>
internal sealed class SessionBook(
    TembriDbContext context, UserManager<Teacher> users, SignInManager<Teacher> signIn, IHttpContextAccessor accessor,
    AccountSettings rules, TimeProvider clock)
{
    public const string ClaimType = "tembri:session";
    private const string StampClaim = "AspNet.Identity.SecurityStamp";
    private static readonly TimeSpan SeenEvery = TimeSpan.FromMinutes(5);
    private static readonly TimeSpan SeenOftener = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan Longest = TimeSpan.FromDays(60);

    /// <summary>The session of this request; null when nobody is signed in.</summary>
    public Guid? Current => Guid.TryParse(accessor.HttpContext?.User.FindFirstValue(ClaimType), out var id) ? id : null;

    /// <summary>Signs a teacher in with a session of its own.</summary>
    /// <param name="teacher">The teacher, whose password or mail was checked.</param>
    /// <param name="remember">True to stay signed in when the browser is closed.</param>
    public async Task StartAsync(Teacher teacher, bool remember)
    {
        var now = clock.GetUtcNow();
        var device = DeviceWords.Of(accessor.HttpContext!.Request.Headers.UserAgent);
        var session = new Session { TeacherId = teacher.Id, Device = device, StartedAt = now, SeenAt = now };
        context.Sessions.Add(session);
        await context.Sessions.Where(s => s.TeacherId == teacher.Id && s.SeenAt < now - Longest).ExecuteDeleteAsync();
        await context.SaveChangesAsync();
        await signIn.SignInWithClaimsAsync(teacher, remember, [new Claim(ClaimType, session.Id.ToString())]);
    }

    /// <summary>The sessions of a teacher that stand, the one seen last first.</summary>
    public async Task<List<Session>> OfAsync(Guid teacher) =>
        [.. (await context.Sessions.AsNoTracking().Where(s => s.TeacherId == teacher).OrderByDescending(s => s.SeenAt)
            .ToListAsync()).Where(s => !rules.IsOver(s.StartedAt, s.SeenAt, clock.GetUtcNow()))];

    /// <summary>Ends one session of a teacher.</summary>
    public Task EndAsync(Guid teacher, Guid session) =>
        context.Sessions.Where(s => s.TeacherId == teacher && s.Id == session).ExecuteDeleteAsync();

    /// <summary>Ends all sessions of a teacher; every cookie there is becomes worthless.</summary>
    public async Task EndAllAsync(Teacher teacher)
    {
        await context.Sessions.Where(s => s.TeacherId == teacher.Id).ExecuteDeleteAsync();
        await users.UpdateSecurityStampAsync(teacher);
    }

    /// <summary>Asks for a cookie whether its session stands and its account is as it was; otherwise it is worth nothing. The
    /// studio comes along in the same question.</summary>
    public static async Task ValidateAsync(CookieValidatePrincipalContext cookie)
    {
        // The compute calls need no account; they answer also while the database does not.
        if (cookie.HttpContext.Request.IsApi())
        {
            cookie.RejectPrincipal();
            return;
        }
        var services = cookie.HttpContext.RequestServices;
        var (context, now) =
            (services.GetRequiredService<TembriDbContext>(), services.GetRequiredService<TimeProvider>().GetUtcNow());
        string? Claimed(string type) => cookie.Principal?.FindFirstValue(type);
        Guid.TryParse(Claimed(ClaimType), out var id);
        var known = await context.Sessions.AsNoTracking().Where(s => s.Id == id)
            .Select(s => new { s.StartedAt, s.SeenAt, s.Teacher!.SecurityStamp, Studio = s.Teacher.Studio! })
            .FirstOrDefaultAsync(cookie.HttpContext.RequestAborted);
        var rules = services.GetRequiredService<AccountSettings>();
        if (known is null || rules.IsOver(known.StartedAt, known.SeenAt, now)
            || known.Studio.ClosedAt is not null || known.SecurityStamp != Claimed(StampClaim)
            || known.Studio.Id.ToString() != Claimed(SignedInStudio.ClaimType))
        {
            cookie.RejectPrincipal();
            return;
        }
        services.GetRequiredService<StudioSettings>().Take(known.Studio);
        if (now - known.SeenAt > (rules.LongestIdle is null ? SeenEvery : SeenOftener))
            services.GetRequiredService<SeenSessions>().See(id);
    }
}

/// <summary>Says which browser and system a session is on, in words a teacher knows. Nothing finer is kept.</summary>
internal static class DeviceWords
{
    private static readonly (string Sign, string Words)[] Browsers =
        [("Edg", "Edge"), ("OPR", "Opera"), ("Firefox", "Firefox"), ("Chrom", "Chrome"), ("Safari", "Safari")];
    private static readonly (string Sign, string Words)[] Systems = [("iPhone", "iPhone"), ("iPad", "iPad"),
        ("Android", "Android"), ("Windows", "Windows"), ("Mac OS", "Mac"), ("Linux", "Linux")];

    public static string Of(string? userAgent)
    {
        static string? Find((string Sign, string Words)[] list, string text) =>
            list.FirstOrDefault(x => text.Contains(x.Sign, StringComparison.Ordinal)).Words;
        var text = userAgent ?? "";
        return (Find(Browsers, text), Find(Systems, text)) switch
        {
            ({ } browser, { } system) => $"{browser} on {system}",
            ({ } browser, null) => browser,
            (null, { } system) => $"a program on {system}",
            _ => "an unknown program",
        };
    }
}
