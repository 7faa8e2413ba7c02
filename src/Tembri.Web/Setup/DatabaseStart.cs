using System.Net.Sockets;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Tembri.Data;

namespace Tembri.Web.Setup;

/// <summary>Brings the database up to date when the application starts.</summary>
internal static class DatabaseStart
{
    /// <summary>Migrates, and loads the demo studio when asked to. Says in one line what to do when the database does not answer.</summary>
    /// <returns>False when the application cannot start.</returns>
    public static async Task<bool> PrepareDatabaseAsync(this WebApplication app)
    {
        await using var scope = app.Services.CreateAsyncScope();
        try
        {
            var context = scope.ServiceProvider.GetRequiredService<TembriDbContext>();
            await context.Database.MigrateAsync();
            if (app.Configuration.GetValue("Demo", false))
                await scope.ServiceProvider.GetRequiredService<DemoStudio>().LoadAsync(app.Configuration["DemoFolder"] ?? "demo");
            return true;
        }
        catch (Exception e) when (Unreachable(e))
        {
            Console.Error.WriteLine($"Tembri's database does not answer ({Innermost(e).Message}). Start it with scripts/pg start, or set TEMBRI_DATABASE to the connection string of your own server.");
            return false;
        }
    }

    private static bool Unreachable(Exception e) => e switch
    {
        PostgresException { SqlState: "28P01" or "28000" or "3D000" } => true,
        NpgsqlException { InnerException: SocketException or IOException or TimeoutException } => true,
        ArgumentException { Source: "Npgsql" } => true,
        InvalidOperationException { InnerException: { } inner } => Unreachable(inner),
        Microsoft.EntityFrameworkCore.Storage.RetryLimitExceededException { InnerException: { } inner } => Unreachable(inner),
        _ => false,
    };

    private static Exception Innermost(Exception e) => e.InnerException is { } inner ? Innermost(inner) : e;
}
