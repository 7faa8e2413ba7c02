using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Tembri.Data;

/// <summary>Gives a command no more time than its request has left: several that are slow one after the other, as on a server
/// whose disk is full, would each keep within its own time and make somebody wait for the sum.</summary>
/// <remarks>Only where a command's own time is short, as an installation of several machines sets it; work that takes long says
/// so (<see cref="TembriDbContext.MayTakeLong"/>), and on one machine nobody else could answer.</remarks>
internal sealed class PatienceOnCommands : DbCommandInterceptor
{
    public static readonly PatienceOnCommands Instance = new();
    private const int Short = 10, Least = 1;   // seconds

    public override ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(DbCommand command,
        CommandEventData eventData, InterceptionResult<DbDataReader> result, CancellationToken cancellationToken = default)
    {
        Limit(command);
        return new(result);
    }

    public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(DbCommand command, CommandEventData eventData,
        InterceptionResult<int> result, CancellationToken cancellationToken = default)
    {
        Limit(command);
        return new(result);
    }

    private static void Limit(DbCommand command)
    {
        if (command.CommandTimeout is <= Least or > Short || SharedPatience.Left is not { } left) return;
        command.CommandTimeout = Math.Clamp((int)left.TotalSeconds, Least, command.CommandTimeout);
    }
}
