using Npgsql;

namespace AtticLedger.Store;

/// <summary>True if the database refused a value rather than a connection: then the same value would be refused again, and all
/// others would not.</summary>
public static class Unstorable
{
    // PostgreSQL, appendix A: data exception, constraint violation, program limit exceeded.
    public static bool Is(Exception fault) =>
        fault is PostgresException { SqlState: var state }
        && (
            state.StartsWith("22", StringComparison.Ordinal)
            || state.StartsWith("23", StringComparison.Ordinal)
            || state.StartsWith("54", StringComparison.Ordinal)
        );
}
