using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Tembri.Web.Setup;
using Tembri.Data;
using Tembri.Data.Accounts;

namespace Tembri.Web.Accounts;

/// <summary>Makes guessing slow without shutting anybody out: who failed often waits longer and longer, but only from the
/// network address the failures came from.</summary>
/// <remarks>
/// The first four failures cost nothing; then the wait doubles from 2 seconds up to 15 minutes and is forgotten after a day. It
/// is the same whether the email has an account or not.
/// Failures are kept by a digest of both addresses, so that neither can be read from the table.
/// </remarks>
internal sealed class SignInDelays(TembriDbContext context, TimeProvider clock, ILogger<SignInDelays> log)
{
    private const int Free = 4;
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(15);
    private static readonly TimeSpan Forgotten = TimeSpan.FromDays(1);

    /// <summary>Says how long to wait, and sets the status that means it; null when nobody has to wait.</summary>
    /// <param name="name">What is tried: an email, or whatever else somebody could guess at.</param>
    /// <param name="http">The request, for the network address it came from.</param>
    public async Task<string?> HoldOffAsync(string name, HttpContext http)
    {
        if (await WaitAsync(Key(name, http)) is not { Ticks: > 0 } wait) return null;
        var seconds = (int)Math.Ceiling(wait.TotalSeconds);
        http.Response.StatusCode = StatusCodes.Status429TooManyRequests;
        http.Response.Headers.RetryAfter = seconds.ToString(CultureInfo.InvariantCulture);
        log.LogWarning("A try was held off for {Seconds} s, from {Address}", seconds, Address(http));
        var words = seconds == 1 ? "a second" : seconds < 120 ? $"{seconds} seconds" : $"{(seconds + 59) / 60} minutes";
        return $"Too many tries from here. Wait {words}, then try again.";
    }

    private async Task<TimeSpan> WaitAsync(string key)
    {
        var now = clock.GetUtcNow();
        var known = await context.SignInTries.AsNoTracking().FirstOrDefaultAsync(t => t.Key == key);
        if (known is null || known.Failures <= Free || now - known.LastAt > Forgotten) return TimeSpan.Zero;
        return known.LastAt + Delay(known.Failures) - now;
    }

    /// <summary>The wait after a number of failures.</summary>
    internal static TimeSpan Delay(int failures) =>
        failures <= Free
            ? TimeSpan.Zero
            : TimeSpan.FromSeconds(Math.Min(Longest.TotalSeconds, Math.Pow(2, Math.Min(20, failures - Free))));

    /// <summary>Counts a failure; many at the same moment are all counted.</summary>
    public Task FailedAsync(string name, HttpContext http)
    {
        Measures.SignInFailed();
        return CountAsync(name, http);
    }

    /// <summary>Counts what is not wrong but shall not be done often from one place, such as opening studios.</summary>
    public async Task CountAsync(string name, HttpContext http)
    {
        var (key, now) = (Key(name, http), clock.GetUtcNow());
        var forgotten = now - Forgotten;
        await context.Database.ExecuteSqlAsync($"""
            insert into sign_in_tries (key, failures, last_at) values ({key}, 1, {now})
            on conflict (key) do update set
              failures = case when sign_in_tries.last_at < {forgotten} then 1 else sign_in_tries.failures + 1 end, last_at = {now}
            """);
        if (Random.Shared.Next(200) == 0) await context.SignInTries.Where(t => t.LastAt < forgotten).ExecuteDeleteAsync();
    }

    /// <summary>Forgets the failures once somebody is in.</summary>
    public Task SucceededAsync(string name, HttpContext http)
    {
        var key = Key(name, http);
        return context.SignInTries.Where(t => t.Key == key).ExecuteDeleteAsync();
    }

    private static string Key(string name, HttpContext http) =>
        Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes($"{name.Trim().ToUpperInvariant()}\n{Address(http)}")));

    private static string Address(HttpContext http) => http.Connection.RemoteIpAddress?.ToString() ?? "local";
}
