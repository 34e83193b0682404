using System.Runtime.CompilerServices;
using Npgsql;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Remembers of each session with the database whether it plans prepared statements anew for each value, so that questions of
/// one kind that follow each other on a connection need not say so each time.
/// </summary>
internal static class Planning
{
    private const string Anew = "SELECT set_config('plan_cache_mode', 'force_custom_plan', false)";
    private const string Once = "SELECT set_config('plan_cache_mode', 'auto', false)";

    // The driver gives out the same object for as long as a session lives, and another one for each: it stands for the session.
    private static readonly ConditionalWeakTable<object, Mode> _modes = [];

    /// <summary>What has to be said to the session before a question.</summary>
    /// <param name="connection">An open connection, without a transaction.</param>
    /// <param name="anew">Whether the question is to be planned for its values.</param>
    /// <returns>A query of one row, whose value does not matter; null where the session does so already.</returns>
    public static string? Needs(NpgsqlConnection connection, bool anew) =>
        _modes.TryGetValue(connection.PostgresParameters, out var mode) && mode.IsAnew == anew ? null
        : anew ? Anew
        : Once;

    /// <summary>Notes what was said to the session, once it has answered: a question that fails takes it back.</summary>
    public static void Remember(NpgsqlConnection connection, bool anew) =>
        _modes.AddOrUpdate(connection.PostgresParameters, anew ? Mode.Anew : Mode.Once);

    private sealed record Mode(bool IsAnew)
    {
        public static readonly Mode Anew = new(true);
        public static readonly Mode Once = new(false);
    }
}
