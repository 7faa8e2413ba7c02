using Npgsql;
using Tembri.Core.Ladders;

namespace Tembri.Web.Ladders;

/// <summary>Lets one worker at a time make a version, over all instances that share the database.</summary>
/// <remarks>A turn holds a connection, also while it is waited for; so there are few, and those of the pages' queries are never
/// used up.</remarks>
internal sealed class ArrangingTurns(string connectionString) : IDisposable
{
    private const long Room = 0x4C616464;   // keeps these locks apart from others on the server
    private const int AtOnce = 8;
    private readonly SemaphoreSlim _connections = new(AtOnce);

    /// <summary>Waits for the turn; it ends when it is disposed, or when the connection breaks.</summary>
    public async Task<IAsyncDisposable> TakeAsync(Guid song, ArrangementStamp stamp, CancellationToken leaving)
    {
        await _connections.WaitAsync(leaving);
        var connection = new NpgsqlConnection(connectionString);
        try
        {
            await connection.OpenAsync(leaving);
            await using var command = new NpgsqlCommand("select pg_advisory_lock(hashtextextended($1, $2))", connection);
            command.Parameters.AddWithValue($"{song} {stamp}");
            command.Parameters.AddWithValue(Room);
            await command.ExecuteNonQueryAsync(leaving);
            return new Turn(this, connection);
        }
        catch
        {
            await connection.DisposeAsync();
            _connections.Release();
            throw;
        }
    }

    public void Dispose() => _connections.Dispose();

    private sealed class Turn(ArrangingTurns turns, NpgsqlConnection connection) : IAsyncDisposable
    {
        public async ValueTask DisposeAsync()
        {
            // Given back at once: a pooled connection would keep it until it is used again.
            try
            {
                await using var command = new NpgsqlCommand("select pg_advisory_unlock_all()", connection);
                await command.ExecuteNonQueryAsync();
            }
            catch (NpgsqlException) { NpgsqlConnection.ClearPool(connection); }
            await connection.DisposeAsync();
            turns._connections.Release();
        }
    }
}
