using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Npgsql;
using Tembri.Data.Studios;

namespace Tembri.Data;

/// <summary>How the context is connected, in one place for the application, the tools and the tests.</summary>
public static class DatabaseSetup
{
    /// <summary>How long a command whose connection broke is tried again unless said otherwise; more patience is the caller's,
    /// who can say that it waits.</summary>
    public static readonly TimeSpan UsualPatience = TimeSpan.FromSeconds(0.4);

    /// <summary>The same connection with commands prepared once they came a few times, which saves the server half of its work,
    /// and given back as it is, since nothing of a request stays on it: the studio is said in each transaction. As it is where
    /// a pooler lends connections (<c>No Reset On Close=true</c>), or where it says itself what is prepared.</summary>
    /// <exception cref="ArgumentException">It is no connection string.</exception>
    public static string Prepared(string connectionString)
    {
        var said = new NpgsqlConnectionStringBuilder(connectionString);
        if (said.NoResetOnClose || said.ShouldSerialize("Max Auto Prepare")) return connectionString;
        (said.MaxAutoPrepare, said.AutoPrepareMinUsages, said.NoResetOnClose) = (MostPrepared, UsesUntilPrepared, true);
        return said.ConnectionString;
    }

    private const int MostPrepared = 120, UsesUntilPrepared = 3;

    /// <summary>Connects to PostgreSQL with snake_case names.</summary>
    /// <param name="options">Where the context is set up.</param>
    /// <param name="connectionString">The database.</param>
    /// <param name="patience">How long a command whose connection broke is tried again; the usual time when null.</param>
    /// <param name="isWatched">True to have a context complain when two threads use it at once. Each request and each piece of
    /// background work has one of its own, and the watch, which is kept at every row, made a twentieth of all that was asked of
    /// memory (docs/performance.md): so it is on in tests only.</param>
    public static DbContextOptionsBuilder UseTembriDatabase(this DbContextOptionsBuilder options, string connectionString,
        TimeSpan? patience = null, bool isWatched = false) =>
        options.UseNpgsql(connectionString,
                npgsql => npgsql.ExecutionStrategy(dependencies => new PatientStrategy(dependencies, patience ?? UsualPatience)))
            .UseSnakeCaseNamingConvention()
            .AddInterceptors(StudioOnCommands.Instance)
            .EnableThreadSafetyChecks(isWatched);
}

/// <summary>Makes the context for <c>dotnet ef</c>; it needs no running server to write a migration.</summary>
public sealed class DesignTimeContext : IDesignTimeDbContextFactory<TembriDbContext>
{
    public TembriDbContext CreateDbContext(string[] args)
    {
        var connection =
            Environment.GetEnvironmentVariable("TEMBRI_DATABASE") ?? "Host=127.0.0.1;Port=54329;Database=tembri;Username=tembri";
        var options = new DbContextOptionsBuilder<TembriDbContext>();
        options.UseTembriDatabase(connection);
        return new TembriDbContext(options.Options, new FixedStudio(null));
    }
}
