using Microsoft.EntityFrameworkCore;
using Npgsql;
using Tembri.Data;

namespace Tembri.Web.Ladders;

/// <summary>Lets one worker at a time arrange a song, over all instances that share the database.</summary>
internal sealed class ArrangingTurns(TembriDbContext context)
{
    private const int Room = 0x4C616464;   // keeps these locks apart from others on the server

    /// <summary>Waits for the turn; it ends when it is disposed, or when the connection breaks.</summary>
    public async Task<IAsyncDisposable> TakeAsync(Guid song, CancellationToken leaving)
    {
        var connection = new NpgsqlConnection(context.Database.GetConnectionString());
        await connection.OpenAsync(leaving);
        try
        {
            await using var command = new NpgsqlCommand("select pg_advisory_lock($1, $2)", connection);
            command.Parameters.AddWithValue(Room);
            command.Parameters.AddWithValue(song.GetHashCode());
            await command.ExecuteNonQueryAsync(leaving);
            return new Turn(connection);
        }
        catch
        {
            await connection.DisposeAsync();
            throw;
        }
    }

    private sealed class Turn(NpgsqlConnection connection) : IAsyncDisposable
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
        }
    }
}
