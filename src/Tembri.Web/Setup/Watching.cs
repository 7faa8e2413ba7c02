using System.Diagnostics.Metrics;
using System.Security.Cryptography.X509Certificates;
using Hangfire;
using Microsoft.AspNetCore.Diagnostics.HealthChecks;
using Prometheus;
using Tembri.Web.Faults;
using Tembri.Web.Operating;

namespace Tembri.Web.Setup;

/// <summary>What Tembri measures of itself, beside what ASP.NET Core, Kestrel, Npgsql and the runtime measure. Numbers only: no
/// names, no addresses, nothing that somebody typed.</summary>
internal static class Measures
{
    private static readonly Meter Meter = new("Tembri");
    private static readonly Histogram<double> Computing = Meter.CreateHistogram<double>("compute.duration", "s",
        "Time from asking for a computation to its end, the wait for its turn included");
    private static readonly Counter<long> Refusals =
        Meter.CreateCounter<long>("compute.refused", description: "Computations that found no room, or took too long");
    private static readonly Counter<long> Failures =
        Meter.CreateCounter<long>("signin.failed", description: "Sign-ins and other secrets that were tried and wrong");

    private static readonly Counter<long> Lookups =
        Meter.CreateCounter<long>("kept.lookups", description: "Ladders and outlines asked of memory");
    private static readonly Histogram<double> Ladders =
        Meter.CreateHistogram<double>("ladder.duration", "s", "Time to make a ladder that was not in memory, on its thread");

    /// <summary>Something made before was asked for: a <c>ladder</c> or an <c>outline</c>.</summary>
    public static void LookedUp(string what, bool found) => Lookups.Add(1, new("what", what), new("found", found));

    /// <summary>A ladder was made.</summary>
    public static void LadderMade(TimeSpan took) => Ladders.Record(took.TotalSeconds);

    /// <summary>A computation ended.</summary>
    public static void Computed(string lane, TimeSpan took) =>
        Computing.Record(took.TotalSeconds, new KeyValuePair<string, object?>("lane", lane));

    /// <summary>A computation was refused: <c>full</c> or <c>late</c>.</summary>
    public static void Refused(string lane, string why) => Refusals.Add(1, new("lane", lane), new("why", why));

    /// <summary>A secret was tried and wrong.</summary>
    public static void SignInFailed() => Failures.Add(1);
}

/// <summary>How Tembri is watched: whether it lives, whether it can serve, and its measures for Prometheus.</summary>
internal static class Watching
{
    /// <summary>The tag of checks without which nothing can be served.</summary>
    public const string Ready = "ready";

    /// <summary>Measures on a port of their own, which is not for visitors: section <c>Metrics</c>, off while <c>Port</c> is
    /// 0.</summary>
    public static void AddMeasures(this IServiceCollection services, IConfiguration configuration)
    {
        if (configuration.GetValue("Metrics:Port", 0) is not (> 0 and var port)) return;
        // Short waits and long ones: a change of shape takes milliseconds, a recording half a minute.
        Prometheus.Metrics.ConfigureMeterAdapter(options =>
        {
            options.ResolveHistogramBuckets = _ => [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30, 60];
            options.InstrumentFilterPredicate = instrument => Watched.Contains(instrument.Meter.Name);
        });
        Prometheus.Metrics.SuppressDefaultMetrics(new SuppressDefaultMetricOptions { SuppressEventCounters = true });
        services.AddSingleton<WhoWatches>();
        services.AddHostedService(provider => provider.GetRequiredService<WhoWatches>());
        services.AddMetricServer(options =>
        {
            options.Hostname = configuration["Metrics:Address"] ?? "127.0.0.1";
            options.Port = (ushort)port;
            // The certificate Tembri itself answers with, where it has one.
            var certificate = configuration.GetSection("Kestrel:Certificates:Default");
            if (certificate["Path"] is { Length: > 0 } path && certificate["KeyPath"] is { Length: > 0 } key)
                options.TlsCertificate = X509Certificate2.CreateFromPemFile(path, key);
        });
    }

    /// <summary>What is measured counts from now on, not only from the first look at it.</summary>
    public static async Task BeginMeasuringAsync(this WebApplication app)
    {
        if (app.Configuration.GetValue("Metrics:Port", 0) <= 0) return;
        var (waiting, working, failed) = (Gauge("waiting"), Gauge("working"), Gauge("failed"));
        var queue = app.Services.GetRequiredService<JobStorage>();
        var watch = app.Services.GetRequiredService<WhoWatches>();
        Prometheus.Metrics.DefaultRegistry.AddBeforeCollectCallback(() =>
        {
            watch.Asked();
            try
            {
                var all = queue.GetMonitoringApi().GetStatistics();
                waiting.Set(all.Enqueued + all.Scheduled);
                working.Set(all.Processing);
                failed.Set(all.Failed);
            }
            catch (Exception e) when (DatabaseFaults.IsOutage(e))
            {
                // Nobody knows just now; that the database is away is said elsewhere.
                foreach (var gauge in (Gauge[])[waiting, working, failed]) gauge.Set(double.NaN);
            }
        });
        await Prometheus.Metrics.DefaultRegistry.CollectAndExportAsTextAsync(Stream.Null);
    }

    private static readonly HashSet<string> Watched = ["Tembri", "Microsoft.AspNetCore.Hosting",
        "Microsoft.AspNetCore.Server.Kestrel", "Microsoft.AspNetCore.RateLimiting", "Npgsql", "System.Runtime"];

    private static Gauge Gauge(string which) =>
        Prometheus.Metrics.CreateGauge($"tembri_background_{which}", $"Pieces of background work, {which}, of all instances");

    /// <summary><c>/health/live</c>: the process answers, and is not to be killed. <c>/health</c>: it can serve, the database
    /// answers. <c>/health/ready</c>: that, and what is opened most was opened once, so that nobody waits for it.</summary>
    public static void MapHealth(this WebApplication app)
    {
        app.MapHealthChecks("/health/live", new HealthCheckOptions { Predicate = _ => false }).AllowAnonymous()
            .DisableRateLimiting();
        // Said without a check of its own: a proxy asks five times a second, and each failed check is written down.
        if (app.Services.GetService<WarmUp>() is { } warmUp)
            app.UseWhen(context => !warmUp.IsOver && context.Request.Path == "/health/ready", cold => cold.Run(context =>
            {
                context.Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
                return context.Response.WriteAsync("Warming up");
            }));
        foreach (var path in (string[])["/health", "/health/ready"])
            app.MapHealthChecks(path, new HealthCheckOptions { Predicate = check => check.Tags.Contains(Ready) })
                .AllowAnonymous().DisableRateLimiting();
    }
}
