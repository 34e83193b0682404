using Npgsql;

namespace PlainPorch.Data.Acts;

/// <summary>Gives transactions up.</summary>
internal static class GivingUp
{
    /// <summary>Rolls a transaction back, if there is still a database to tell; one that is gone has done so by itself.</summary>
    public static async Task GiveUpAsync(this NpgsqlTransaction transaction)
    {
        if (transaction.Connection is not { FullState: not System.Data.ConnectionState.Broken })
            return;
        try
        {
            await transaction.RollbackAsync(CancellationToken.None);
        }
        catch (Exception gone) when (gone is NpgsqlException or IOException or InvalidOperationException)
        {
            // It broke in between.
        }
    }
}
