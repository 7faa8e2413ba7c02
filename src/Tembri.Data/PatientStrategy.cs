using System.Diagnostics;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Npgsql;
using Npgsql.EntityFrameworkCore.PostgreSQL;

namespace Tembri.Data;

/// <summary>Tries a command again whose connection broke, soon and then more slowly, for as long as whoever waits was promised:
/// on one machine a moment, where another primary takes over a few seconds.</summary>
/// <remarks>The time is that of all commands of a request with all their tries (<see cref="SharedPatience"/>), so that a server
/// that hangs is not waited for several times.</remarks>
public sealed class PatientStrategy(ExecutionStrategyDependencies dependencies,
    TimeSpan patience) : NpgsqlRetryingExecutionStrategy(dependencies, MostTries, TimeSpan.FromSeconds(1), ReadOnly)
{
    private const int MostTries = 12;

    /// <summary>A primary that has just become a standby: the next connection leads to the new one.</summary>
    private static readonly string[] ReadOnly = [PostgresErrorCodes.ReadOnlySqlTransaction];
    private long _began;
    private TimeSpan _spent;

    /// <summary>True when none of several servers, or poolers, answered: the driver says so in an exception of its own, which
    /// it does not count among those that pass.</summary>
    /// <param name="e">What a command ended with.</param>
    public static bool NobodyAnswered(Exception e) =>
        e is NpgsqlException and not PostgresException
            && (e.InnerException is AggregateException || e.Message.StartsWith("No suitable host", StringComparison.Ordinal));

    protected override bool ShouldRetryOn(Exception? exception) =>
        base.ShouldRetryOn(exception) || exception is not null && NobodyAnswered(exception);

    protected override void OnFirstExecution()
    {
        (_began, _spent) = (Stopwatch.GetTimestamp(), TimeSpan.Zero);
        base.OnFirstExecution();
    }

    protected override TimeSpan? GetNextDelay(Exception lastException)
    {
        var tries = ExceptionsEncountered.Count;
        var delay = TimeSpan.FromMilliseconds(Math.Min(700, 60 * Math.Pow(1.6, tries - 1)));
        var alone = Stopwatch.GetElapsedTime(_began);
        var waited = SharedPatience.Spend(alone - _spent, alone);
        _spent = alone;
        return tries <= MostTries && waited + delay < patience ? delay : null;
    }
}
