using Hangfire;
using Hangfire.PostgreSql;
using Hangfire.PostgreSql.Factories;
using Hangfire.States;
using Npgsql;
using Tembri.Web.Faults;

namespace Tembri.Web.Ladders;

/// <summary>Settings of the background work; section <c>Background</c> of the configuration.</summary>
internal sealed class BackgroundOptions
{
    /// <summary>Studios this instance arranges for at once in the background; 0 leaves all background work to other
    /// instances.</summary>
    public int Workers { get; set; } = 1;

    /// <summary>Seconds after its last change in which a song is not arranged yet.</summary>
    public double PauseSeconds { get; set; } = 30;
}

/// <summary>The queue of background work: on the application's own database, shared by all instances.</summary>
internal static class BackgroundArranging
{
    private const string Schema = "hangfire";

    /// <summary>The queue of work that somebody waits for. It has a worker of its own, since those of the arranging, which after
    /// an update holds every studio, are busy with a studio's turn for half a minute.</summary>
    public const string Asked = "asked";

    private static readonly PostgreSqlStorageOptions Storage = new()
    {
        SchemaName = Schema, PrepareSchemaIfNecessary = false, QueuePollInterval = TimeSpan.FromSeconds(5),
        EnableLongPolling = false,
        InvisibilityTimeout = TimeSpan.FromMinutes(10), UseSlidingInvisibilityTimeout = true,
        JobExpirationCheckInterval = TimeSpan.FromHours(1),
    };

    /// <summary>Makes the queue's tables when they are missing; for the start, when one instance at a time is at it.</summary>
    public static void PrepareQueue(string connectionString)
    {
        using var connection = new NpgsqlConnection(connectionString);
        connection.Open();
        PostgreSqlObjectsInstaller.Install(connection, Schema);
    }

    private const int MostTries = 3;

    /// <summary>Gives a job out, again where the queue's connection broke since it was last used: a job that is there twice does
    /// its work once.</summary>
    public static async Task GiveAsync(this IBackgroundJobClient jobs, Action<IBackgroundJobClient> give,
        CancellationToken leaving)
    {
        for (var tries = 1; ; tries++)
        {
            try
            {
                give(jobs);
                return;
            }
            catch (Exception e) when (tries < MostTries && DatabaseFaults.IsOutage(e))
            {
                await Task.Delay(TimeSpan.FromMilliseconds(60 * tries), leaving);
            }
        }
    }

    /// <summary>Registers the queue and its workers.</summary>
    public static void AddBackgroundArranging(this IServiceCollection services, IConfiguration configuration,
        string connectionString)
    {
        var options = configuration.GetSection("Background").Get<BackgroundOptions>() ?? new BackgroundOptions();
        services.Configure<BackgroundOptions>(configuration.GetSection("Background"));
        services.AddSingleton(_ => new ArrangingTurns(connectionString));
        services.AddScoped<SongGrades>();
        services.AddScoped<ArrangingOrders>();
        services.AddScoped<ArrangeStudioJob>();
        services.AddHangfire(queue => queue
            .SetDataCompatibilityLevel(CompatibilityLevel.Version_180).UseSimpleAssemblyNameTypeSerializer()
            .UseRecommendedSerializerSettings()
            .UseStorage(new PostgreSqlStorage(new NpgsqlConnectionFactory(connectionString, Storage), Storage)));
        if (options.Workers == 0) return;
        foreach (var (queue, workers) in new[] { (Asked, 1), (EnqueuedState.DefaultQueue, options.Workers) })
            services.AddHangfireServer(server =>
            {
                server.WorkerCount = workers;
                server.Queues = [queue];
                server.ShutdownTimeout = TimeSpan.FromSeconds(3);
                server.StopTimeout = TimeSpan.FromSeconds(1);
                server.SchedulePollingInterval = TimeSpan.FromSeconds(15);
            });
    }
}
