using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Tembri.Data;

/// <summary>Tells the database with every command which studio it works for; the rows of others stay out of sight, whatever a
/// query asks (row-level security).</summary>
/// <remarks>
/// It holds for the transaction alone, so that it also holds behind a pooler that lends a connection for no longer than that.
/// Outside a transaction
/// of our own it is said in front of the command and travels with it: both are one transaction, and one way there and back.
/// </remarks>
internal sealed class StudioOnCommands : DbCommandInterceptor, IDbTransactionInterceptor
{
    public static readonly StudioOnCommands Instance = new();
    private const string Parameter = "tembri_studio";

    // One text for every studio, so that commands can be prepared once and for all of them.
    private const string Begins = $"select set_config('tembri.studio', @{Parameter}, true)";

    public override ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(DbCommand command,
        CommandEventData eventData, InterceptionResult<DbDataReader> result, CancellationToken cancellationToken = default)
    {
        Tell(command, eventData);
        return new(result);
    }

    public override InterceptionResult<DbDataReader> ReaderExecuting(DbCommand command, CommandEventData eventData,
        InterceptionResult<DbDataReader> result)
    {
        Tell(command, eventData);
        return result;
    }

    public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(DbCommand command, CommandEventData eventData,
        InterceptionResult<int> result, CancellationToken cancellationToken = default)
    {
        Tell(command, eventData);
        return new(result);
    }

    public override InterceptionResult<int> NonQueryExecuting(DbCommand command, CommandEventData eventData,
        InterceptionResult<int> result)
    {
        Tell(command, eventData);
        return result;
    }

    public override async ValueTask<DbDataReader> ReaderExecutedAsync(DbCommand command, CommandExecutedEventData eventData,
        DbDataReader result, CancellationToken cancellationToken = default)
    {
        if (IsTold(command)) await result.NextResultAsync(cancellationToken);
        return result;
    }

    public override DbDataReader ReaderExecuted(DbCommand command, CommandExecutedEventData eventData, DbDataReader result)
    {
        if (IsTold(command)) result.NextResult();
        return result;
    }

    public async ValueTask<DbTransaction> TransactionStartedAsync(DbConnection connection, TransactionEndEventData eventData,
        DbTransaction result, CancellationToken cancellationToken = default)
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
        (command.Transaction, command.CommandText) = (transaction, Begins);
        command.Parameters.Add(Named(command, studio));
        return command;
    }

    private static void Tell(DbCommand command, CommandEventData eventData)
    {
        if (command.Transaction is not null || StudioOf(eventData) is not { } studio || IsTold(command)) return;
        command.CommandText = $"{Begins};\n{command.CommandText}";
        command.Parameters.Add(Named(command, studio));
    }

    private static DbParameter Named(DbCommand command, Guid studio)
    {
        var parameter = command.CreateParameter();
        (parameter.ParameterName, parameter.Value) = (Parameter, studio.ToString("D"));
        return parameter;
    }

    private static bool IsTold(DbCommand command) =>
        command.CommandText.StartsWith(Begins, StringComparison.Ordinal)
            && command.CommandText.Contains('\n', StringComparison.Ordinal);

    private static Guid? StudioOf(DbContextEventData eventData) => (eventData.Context as TembriDbContext)?.CurrentStudioId;
}
