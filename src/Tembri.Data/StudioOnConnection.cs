using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;

namespace Tembri.Data;

/// <summary>Tells every connection which studio it works for; the rows of others stay out of sight, whatever a query asks (row-level security).</summary>
internal sealed class StudioOnConnection : DbConnectionInterceptor
{
    public static readonly StudioOnConnection Instance = new();

    public override async Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData eventData, CancellationToken cancellationToken = default)
    {
        if (Command(connection, eventData) is not { } command) return;
        await using (command) await command.ExecuteNonQueryAsync(cancellationToken);
    }

    public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData)
    {
        if (Command(connection, eventData) is not { } command) return;
        using (command) command.ExecuteNonQuery();
    }

    // A pooled connection forgets the studio when it is given back, so nothing is said where there is none.
    private static NpgsqlCommand? Command(DbConnection connection, ConnectionEndEventData eventData) =>
        eventData.Context is TembriDbContext { CurrentStudioId: { } studio } ? TellStudio((NpgsqlConnection)connection, studio) : null;

    private static NpgsqlCommand TellStudio(NpgsqlConnection connection, Guid studio)
    {
        var command = new NpgsqlCommand("select set_config('tembri.studio', $1, false)", connection);
        command.Parameters.AddWithValue(studio.ToString());
        return command;
    }
}
