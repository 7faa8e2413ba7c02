using Microsoft.Extensions.Diagnostics.HealthChecks;

namespace Tembri.Web.Setup;

/// <summary>Writes down when what an instance needs stops answering, and when it answers again: once each, however often a proxy
/// asks meanwhile.</summary>
internal sealed class HealthLog(ILogger<HealthLog> log) : IHealthCheckPublisher
{
    /// <summary>How often it is looked at.</summary>
    public static readonly TimeSpan Every = TimeSpan.FromSeconds(10);

    private HealthStatus _was = HealthStatus.Healthy;

    /// <inheritdoc/>
    public Task PublishAsync(HealthReport report, CancellationToken cancellationToken)
    {
        if (report.Status == _was) return Task.CompletedTask;
        _was = report.Status;
        if (_was == HealthStatus.Healthy) log.LogWarning("All that is needed answers again.");
        foreach (var (name, entry) in report.Entries)
            if (entry.Status != HealthStatus.Healthy)
                log.LogError("What is needed does not answer: {Name}, {Kind}", name, entry.Exception?.GetType().Name ?? "too slow");
        return Task.CompletedTask;
    }
}
