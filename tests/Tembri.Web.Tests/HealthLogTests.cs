using Microsoft.Extensions.Diagnostics.HealthChecks;
using Microsoft.Extensions.Logging;
using Tembri.Web.Setup;

namespace Tembri.Web.Tests;

public sealed class HealthLogTests : ILogger<HealthLog>
{
    private readonly List<string> _said = [];

    void ILogger.Log<TState>(LogLevel logLevel, EventId eventId, TState state, Exception? exception,
        Func<TState, Exception?, string> formatter) => _said.Add(formatter(state, exception));

    bool ILogger.IsEnabled(LogLevel logLevel) => true;

    IDisposable? ILogger.BeginScope<TState>(TState state) => null;

    [Fact]
    public async Task That_the_database_is_away_is_said_once_and_that_it_is_back_too()
    {
        var log = new HealthLog(this);
        foreach (var answers in (bool[])[true, true, false, false, false, true, true])
            await log.PublishAsync(new HealthReport(new Dictionary<string, HealthReportEntry>
            {
                ["database"] = new(answers ? HealthStatus.Healthy : HealthStatus.Unhealthy, null, TimeSpan.Zero,
                    answers ? null : new TimeoutException("secret of somebody"), null),
            }, TimeSpan.Zero), TestContext.Current.CancellationToken);
        Assert.Equal(["What is needed does not answer: database, TimeoutException", "All that is needed answers again."], _said);
    }
}
