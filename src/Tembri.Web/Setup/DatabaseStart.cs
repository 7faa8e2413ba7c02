using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Faults;
using Tembri.Web.Ladders;

namespace Tembri.Web.Setup;

/// <summary>Brings the database up to date when the application starts.</summary>
internal static class DatabaseStart
{
    private const long StartLock = 0x54656D627269;   // "Tembri"; any number that no other program on the server uses

    /// <summary>Migrates, and loads the demo studio when asked to; several instances that start together do it one after
    /// another. Says in one line what to do when the database does not answer.</summary>
    /// <returns>False when the application cannot start.</returns>
    public static async Task<bool> PrepareDatabaseAsync(this WebApplication app)
    {
        await using var scope = app.Services.CreateAsyncScope();
        try
        {
            var context = scope.ServiceProvider.GetRequiredService<TembriDbContext>();
            var direct = scope.ServiceProvider.GetRequiredService<Databases>().Direct;
            context.Database.SetConnectionString(direct);
            await using var turn = await TakeTurnAsync(direct);
            var pending = (await context.Database.GetPendingMigrationsAsync()).ToList();
            if (pending.Count > 0) await context.Database.MigrateAsync();
            if (pending.Any(m => m.EndsWith("ArrangedOnce", StringComparison.Ordinal)))
                await LockUpgrade.RunAsync(context, (SignedInStudio)scope.ServiceProvider.GetRequiredService<ICurrentStudio>());
            MakeFirstKey(app.Services, app.Logger);
            BackgroundArranging.PrepareQueue(direct);
            if (app.Configuration.GetValue("Demo", false))
                await scope.ServiceProvider.GetRequiredService<DemoStudio>()
                    .LoadAsync(app.Configuration["DemoFolder"] ?? "demo");
            return true;
        }
        catch (Exception e) when (DatabaseFaults.IsOutage(e) || Refuses(e))
        {
            Console.Error.WriteLine($"Tembri's database does not answer ({Innermost(e).Message}). Start it with scripts/pg "
                + "start, or set TEMBRI_DATABASE to the connection string of your own server.");
            return false;
        }
    }

    /// <summary>Reads the keys that seal cookies, and makes the first where there is none. Two instances that found none at the
    /// same moment would make one each, and from two minutes after its start on none asks again for a key it does not
    /// know.</summary>
    private static void MakeFirstKey(IServiceProvider services, ILogger log)
    {
        try { services.GetRequiredService<IDataProtectionProvider>().CreateProtector("first").Protect([]); }
        catch (CryptographicException e)
        {
            log.LogWarning("The keys of cookies could not be read: {Fault}; the first request tries again",
                e.InnerException?.GetType().Name ?? nameof(CryptographicException));
        }
    }

    /// <summary>Waits until no other instance is at it; the lock goes with the connection.</summary>
    private static async Task<NpgsqlConnection> TakeTurnAsync(string connectionString)
    {
        var connection = new NpgsqlConnection(
            new NpgsqlConnectionStringBuilder(connectionString) { Pooling = false, CommandTimeout = 600 }.ConnectionString);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand($"select pg_advisory_lock({StartLock})", connection);
        await command.ExecuteNonQueryAsync();
        return connection;
    }

    private static bool Refuses(Exception? e)
    {
        for (; e is not null; e = e.InnerException)
            if (e is PostgresException { SqlState: "28P01" or "28000" or "3D000" or "42501" }
                or ArgumentException { Source: "Npgsql" } or (NpgsqlException and not PostgresException))
                return true;
        return false;
    }

    private static Exception Innermost(Exception e) => e.InnerException is { } inner ? Innermost(inner) : e;
}
