using Microsoft.Extensions.Diagnostics.HealthChecks;
using Microsoft.Extensions.Logging;
using Serilog.Core;
using Serilog.Events;
using Tembri.Web.Faults;
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

    [Fact]
    public async Task A_fault_is_written_down_by_its_kind_and_its_place_and_not_by_what_it_says()
    {
        static async Task FailAsync()
        {
            await Task.Yield();
            Core.Shapes.Shape.Parse("secret of somebody");
        }
        var fault = await Record.ExceptionAsync(async () =>
        {
            try { await FailAsync(); }
            catch (Exception e) { throw new InvalidOperationException("secret of somebody", e); }
        });
        var said = FaultPlaces.Said(fault!);
        Assert.StartsWith("InvalidOperationException < ", said, StringComparison.Ordinal);
        Assert.Contains($" in {nameof(Core.Shapes.Shape)}.", said, StringComparison.Ordinal);
        Assert.DoesNotContain("secret", said, StringComparison.Ordinal);
        var line = new LogEvent(DateTimeOffset.UnixEpoch, LogEventLevel.Error, fault, MessageTemplate.Empty, []);
        new FaultPlaces().Enrich(line, new Properties());
        Assert.Equal($"\" ({said})\"", line.Properties[FaultPlaces.Property].ToString());
    }

    private sealed class Properties : ILogEventPropertyFactory
    {
        public LogEventProperty CreateProperty(string name, object? value, bool destructureObjects = false) =>
            new(name, new ScalarValue(value));
    }
}
