using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Tembri.Data;

/// <summary>Tells the database with every command which studio it works for; the rows of others stay out of sight, whatever a query asks (row-level security).</summary>
/// <remarks>
/// It holds for the transaction alone, so that it also holds behind a pooler that lends a connection for no longer than that. Outside a transaction
/// of our own it is said in front of the command and travels with it: both are one transaction, and one way there and back.
/// </remarks>
internal sealed class StudioOnCommands : DbCommandInterceptor, IDbTransactionInterceptor
{
    public static readonly StudioOnCommands Instance = new();
    private const string Begins = "select set_config('tembri.studio', '";

    public override ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(DbCommand command, CommandEventData eventData, InterceptionResult<DbDataReader> result, CancellationToken cancellationToken = default)
    {
        Tell(command, eventData);
        return new(result);
    }

    public override InterceptionResult<DbDataReader> ReaderExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<DbDataReader> result)
    {
        Tell(command, eventData);
        return result;
    }

    public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(DbCommand command, CommandEventData eventData, InterceptionResult<int> result, CancellationToken cancellationToken = default)
    {
        Tell(command, eventData);
        return new(result);
    }

    public override InterceptionResult<int> NonQueryExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<int> result)
    {
        Tell(command, eventData);
        return result;
    }

    public override async ValueTask<DbDataReader> ReaderExecutedAsync(DbCommand command, CommandExecutedEventData eventData, DbDataReader result, CancellationToken cancellationToken = default)
    {
        if (IsTold(command)) await result.NextResultAsync(cancellationToken);
        return result;
    }

    public override DbDataReader ReaderExecuted(DbCommand command, CommandExecutedEventData eventData, DbDataReader result)
    {
        if (IsTold(command)) result.NextResult();
        return result;
    }

    public async ValueTask<DbTransaction> TransactionStartedAsync(DbConnection connection, TransactionEndEventData eventData, DbTransaction result, CancellationToken cancellationToken = default)
    {
        if (Command(result, eventData) is not { } command) return result;
        await using (command) await command.ExecuteNonQueryAsync(cancellationToken);
        return result;
    }

    public DbTransaction TransactionStarted(DbConnection connection, TransactionEndEventData eventData, DbTransaction result)
    {
        if (Command(result, eventData) is not { } command) return result;
        using (command) command.ExecuteNonQuery();
        return result;
    }

    private static DbCommand? Command(DbTransaction transaction, DbContextEventData eventData)
    {
        if (StudioOf(eventData) is not { } studio) return null;
        var command = transaction.Connection!.CreateCommand();
        (command.Transaction, command.CommandText) = (transaction, Words(studio));
        return command;
    }

    private static void Tell(DbCommand command, CommandEventData eventData)
    {
        if (command.Transaction is null && StudioOf(eventData) is { } studio && !IsTold(command)) command.CommandText = $"{Words(studio)};\n{command.CommandText}";
    }

    private static bool IsTold(DbCommand command) => command.CommandText.StartsWith(Begins, StringComparison.Ordinal) && command.CommandText.Contains('\n', StringComparison.Ordinal);

    private static Guid? StudioOf(DbContextEventData eventData) => (eventData.Context as TembriDbContext)?.CurrentStudioId;

    /// <summary>An identifier has no letter that means anything in SQL.</summary>
    internal static string Words(Guid studio) => $"{Begins}{studio:D}', true)";
}
