using System.Net.Sockets;
using Npgsql;

namespace AtticLedger.Store;

/// <summary>Distinguishes a database that is temporarily away from one that refuses a statement.</summary>
public static class Unreachable
{
    /// <summary>True if the database did not answer, is starting or stopping, or has too many connections: a retry may
    /// work.</summary>
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
