using System.Net.Sockets;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Tells a database that is away for a while from one that refuses what it is asked.</summary>
public static class Unreachable
{
    /// <summary>True if the database did not answer, is starting, is stopping, or has too many connections: the same may work in a moment.</summary>
    public static bool Is(Exception fault) =>
        fault switch
        {
            PostgresException refused => refused.SqlState.StartsWith("57P", StringComparison.Ordinal)
                || refused.SqlState.StartsWith("08", StringComparison.Ordinal)
                || refused.SqlState == PostgresErrorCodes.TooManyConnections,
            NpgsqlException { InnerException: SocketException or IOException or TimeoutException } => true,
            NpgsqlException broken => broken.IsTransient,
            _ => false,
        };
}
