using System.Net.Sockets;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Tembri.Data;

namespace Tembri.Web.Faults;

/// <summary>Tells what a fault of the database means.</summary>
internal static class DatabaseFaults
{
    /// <summary>True when the database does not answer, breaks off, has no room, or has just become a standby: trying again
    /// later helps.</summary>
    public static bool IsOutage(Exception e) => Find(e, x => x switch
    {
        PostgresException p =>
            p.SqlState[..2] is "08" or "53" or "57" or "58" || p.SqlState is PostgresErrorCodes.ReadOnlySqlTransaction,
        NpgsqlException n => n.IsTransient || n.InnerException is SocketException or IOException or TimeoutException
            || PatientStrategy.NobodyAnswered(n),
        SocketException or TimeoutException => true,
        _ => false,
    });

    /// <summary>True when another request changed or removed the row, or made the same one, at the same moment.</summary>
    public static bool IsConflict(Exception e) =>
        Find(e,
            x => x is DbUpdateConcurrencyException
                or PostgresException { SqlState: PostgresErrorCodes.UniqueViolation or PostgresErrorCodes.ForeignKeyViolation
                    or PostgresErrorCodes.SerializationFailure or PostgresErrorCodes.DeadlockDetected });

    /// <summary>True when the same row was made before.</summary>
    public static bool IsTwice(Exception e) =>
        Find(e, x => x is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation });

    /// <summary>True when a text or number does not fit what can be stored.</summary>
    public static bool IsUnstorable(Exception e) => Find(e, x => x is PostgresException { SqlState: ['2', '2', ..] });

    private static bool Find(Exception? e, Func<Exception, bool> test)
    {
        for (; e is not null; e = e.InnerException) if (test(e)) return true;
        return false;
    }
}
