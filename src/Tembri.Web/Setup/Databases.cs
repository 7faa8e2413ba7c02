using System.Text.RegularExpressions;
using Npgsql;

namespace Tembri.Web.Setup;

/// <summary>Marks a page whose looking at may be answered from a standby, where what others saved may be missing for a second. Looking at it must write nothing.</summary>
[AttributeUsage(AttributeTargets.Class)]
internal sealed class MayBeASecondOldAttribute : Attribute;

/// <summary>Where the database is reached. On one machine all three are the same.</summary>
/// <param name="Main">The primary, through a pooler that lends connections for a transaction where there is one.</param>
/// <param name="Direct">The primary without a pooler, for what holds a connection: updates of the database, turns, the queue.</param>
/// <param name="Standby">Copies that may be read; null where there are none.</param>
/// <param name="Patience">How long a command whose connection broke is tried again.</param>
internal sealed record Databases(string Main, string Direct, string? Standby, TimeSpan Patience)
{
    /// <summary>From <c>TEMBRI_DATABASE</c>, <c>TEMBRI_DATABASE_DIRECT</c> and <c>TEMBRI_DATABASE_STANDBY</c>, else <c>ConnectionStrings</c> <c>Tembri</c>, <c>Direct</c> and <c>Standby</c>.</summary>
    public static Databases Of(IConfiguration configuration)
    {
        string? Named(string variable, string name) => Environment.GetEnvironmentVariable(variable) is { Length: > 0 } own ? own : configuration.GetConnectionString(name) is { Length: > 0 } set ? set : null;
        var main = Named("TEMBRI_DATABASE", "Tembri") ?? "";
        return new Databases(main, Named("TEMBRI_DATABASE_DIRECT", "Direct") ?? main, Named("TEMBRI_DATABASE_STANDBY", "Standby"), TimeSpan.FromSeconds(configuration.GetValue("Database:PatienceSeconds", Data.DatabaseSetup.UsualPatience.TotalSeconds)));
    }
}

/// <summary>Which database the present request reads from.</summary>
internal sealed class DatabaseOfRequest(Databases databases)
{
    /// <summary>The connection string of the request's context.</summary>
    public string Connection { get; private set; } = databases.Main;

    /// <summary>True while the request reads from a standby.</summary>
    public bool IsStandby => Connection == databases.Standby;

    /// <summary>From now on the request reads from a standby.</summary>
    public void TakeStandby() => Connection = databases.Standby!;
}

/// <summary>
/// Sends looking at pages that may be a second old to the standbys, and sees to it that a teacher always sees what she saved herself: her browser
/// keeps how far the log of the primary was after her last save, and a standby that is not there yet is not asked.
/// </summary>
internal sealed partial class StandbyReads(RequestDelegate next, Databases databases)
{
    /// <summary>The cookie that holds how far the primary was.</summary>
    public const string Cookie = "tembri.saved";
    private static readonly TimeSpan Kept = TimeSpan.FromMinutes(2);

    public async Task InvokeAsync(HttpContext context, DatabaseOfRequest database)
    {
        var looks = HttpMethods.IsGet(context.Request.Method) || HttpMethods.IsHead(context.Request.Method);
        if (!looks && context.GetEndpoint() is not null && !context.Request.Path.StartsWithSegments("/api")) context.Response.OnStarting(() => RememberAsync(context));
        if (looks && !context.Request.Query.ContainsKey("handler") && context.GetEndpoint()?.Metadata.GetMetadata<MayBeASecondOldAttribute>() is not null && await IsThereAsync(context.Request.Cookies[Cookie], context.RequestAborted)) database.TakeStandby();
        await next(context);
    }

    /// <summary>After a save: how far the primary is now.</summary>
    private async Task RememberAsync(HttpContext context)
    {
        if (context.Response.StatusCode >= 500) return;
        try
        {
            var place = (string?)await AskAsync(databases.Main, "select pg_current_wal_insert_lsn()::text", context.RequestAborted);
            context.Response.Cookies.Append(Cookie, place!, new CookieOptions { HttpOnly = true, SameSite = SameSiteMode.Lax, Secure = context.Request.IsHttps, MaxAge = Kept, IsEssential = true });
        }
        // What was saved is saved; for as long as the cookie would hold, nothing is read from a standby.
        catch (Exception e) when (e is NpgsqlException or OperationCanceledException) { context.Response.Cookies.Append(Cookie, "FFFFFFFF/FFFFFFFF", new CookieOptions { HttpOnly = true, SameSite = SameSiteMode.Lax, MaxAge = Kept, IsEssential = true }); }
    }

    /// <summary>True when a standby answers and holds all that was saved by this browser.</summary>
    private async Task<bool> IsThereAsync(string? place, CancellationToken leaving)
    {
        if (place is null) return true;
        if (!Place().IsMatch(place)) return false;
        try { return await AskAsync(databases.Standby!, $"select coalesce(pg_last_wal_replay_lsn() >= '{place}'::pg_lsn, true)", leaving) is true; }
        catch (NpgsqlException) { return false; }
    }

    private static async Task<object?> AskAsync(string connectionString, string sql, CancellationToken leaving)
    {
        await using var connection = new NpgsqlConnection(connectionString);
        await connection.OpenAsync(leaving);
        await using var command = new NpgsqlCommand(sql, connection);
        return await command.ExecuteScalarAsync(leaving);
    }

    [GeneratedRegex(@"^[0-9A-F]{1,8}/[0-9A-F]{1,8}\z", RegexOptions.NonBacktracking)]
    private static partial Regex Place();
}
