using Npgsql;

namespace AtticLedger.Store;

/// <summary>Tells whether the database refused a value, and not a connection or a moment: then the same value is refused again, and all others are not.</summary>
public static class Unstorable
{
    // PostgreSQL, appendix A: a data exception, a broken constraint, and more than a limit of the program.
    public static bool Is(Exception fault) =>
        fault is PostgresException { SqlState: var state }
        && (
            state.StartsWith("22", StringComparison.Ordinal)
            || state.StartsWith("23", StringComparison.Ordinal)
            || state.StartsWith("54", StringComparison.Ordinal)
        );
}
