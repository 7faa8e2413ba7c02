using Npgsql;
using Tembri.Data;
using Tembri.Web.Faults;

namespace Tembri.Web.Setup;

/// <summary>Marks a page whose looking at may be answered from a standby, where what others saved may be missing for a second.
/// Looking at it must write nothing.</summary>
[AttributeUsage(AttributeTargets.Class)]
internal sealed class MayBeASecondOldAttribute : Attribute;

/// <summary>Where the database is reached. On one machine all three are the same.</summary>
/// <param name="Main">The primary, through a pooler that lends connections for a transaction where there is one.</param>
/// <param name="Direct">The primary without a pooler, for what holds a connection: updates of the database, turns, the
/// queue.</param>
/// <param name="Standby">Copies that may be read; null where there are none.</param>
/// <param name="Patience">How long a command whose connection broke is tried again.</param>
/// <param name="OwnSaves">How long a browser reads from the primary after it saved something: longer than any standby is
/// behind.</param>
internal sealed record Databases(string Main, string Direct, string? Standby, TimeSpan Patience, TimeSpan OwnSaves)
{
    /// <summary>From <c>TEMBRI_DATABASE</c>, <c>TEMBRI_DATABASE_DIRECT</c> and <c>TEMBRI_DATABASE_STANDBY</c>, else
    /// <c>ConnectionStrings</c> <c>Tembri</c>, <c>Direct</c> and <c>Standby</c>.</summary>
    /// <exception cref="FormatException">One of them is no connection string; the message says which, and nothing that stands in
    /// it.</exception>
    public static Databases Of(IConfiguration configuration)
    {
        string? Named(string variable, string name, Func<string, string> use)
        {
            var set = Environment.GetEnvironmentVariable(variable) is { Length: > 0 } own ? own
                : configuration.GetConnectionString(name) is { Length: > 0 } written ? written
                : null;
            try { return set is null ? null : use(set); }
            catch (ArgumentException)
            {
                throw new FormatException($"{variable} (or ConnectionStrings:{name}) cannot be read as a connection string. "
                    + "Write it like Host=127.0.0.1;Port=5432;Database=tembri;Username=tembri;Password=…");
            }
        }
        static string AsItIs(string connection) => new NpgsqlConnectionStringBuilder(connection).ConnectionString;
        var main = Named("TEMBRI_DATABASE", "Tembri", DatabaseSetup.Prepared) ?? "";
        // What holds a connection for itself asks little: nothing is prepared there.
        var direct = Named("TEMBRI_DATABASE_DIRECT", "Direct", AsItIs) ?? Named("TEMBRI_DATABASE", "Tembri", AsItIs) ?? "";
        return new Databases(main, direct, Named("TEMBRI_DATABASE_STANDBY", "Standby", DatabaseSetup.Prepared),
            TimeSpan.FromSeconds(configuration.GetValue("Database:PatienceSeconds", DatabaseSetup.UsualPatience.TotalSeconds)),
            TimeSpan.FromSeconds(configuration.GetValue("Database:OwnSavesSeconds", 120.0)));
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
/// Sends looking at pages that may be a second old to the standbys, and sees to it that a teacher always sees what she saved
/// herself: a browser that saved something reads
/// from the primary for a while.
/// </summary>
/// <remarks>Asking a standby how far it is would not do: behind a pooler the page could be read from another one.</remarks>
internal sealed class StandbyReads(RequestDelegate next, Databases databases)
{
    /// <summary>The cookie of a browser that saved something lately.</summary>
    public const string Cookie = "tembri.saved";

    public Task InvokeAsync(HttpContext context, DatabaseOfRequest database)
    {
        var (request, endpoint) = (context.Request, context.GetEndpoint());
        if (HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method))
        {
            if (endpoint?.Metadata.GetMetadata<MayBeASecondOldAttribute>() is not null && !request.Query.ContainsKey("handler")
                && !request.Cookies.ContainsKey(Cookie))
                database.TakeStandby();
        }
        else if (endpoint is not null && !request.IsApi())
            context.Response.OnStarting(() =>
            {
                context.Response.Cookies.Append(Cookie, "1",
                    new CookieOptions
                    {
                        HttpOnly = true, SameSite = SameSiteMode.Lax, Secure = request.IsHttps, MaxAge = databases.OwnSaves,
                        IsEssential = true
                    });
                return Task.CompletedTask;
            });
        return next(context);
    }
}
