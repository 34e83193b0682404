using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;

namespace PlainPorch.Data.Rows;

/// <summary>
/// Holds back what EF Core would send by itself, so that it can go to the database in one round trip with what is read before
/// and after it. One for each context.
/// </summary>
internal sealed class HeldBack : DbCommandInterceptor
{
    private TaskCompletionSource<NpgsqlCommand>? _taking;

    /// <summary>The statement that some work of a context would send.</summary>
    /// <param name="context">The context; it is one of ours.</param>
    /// <param name="work">Sends one statement that changes rows; what it gives means nothing.</param>
    /// <returns>The statement; it is not carried out.</returns>
    public static async Task<NpgsqlCommand> TakeAsync(DbContext context, Func<Task<int>> work)
    {
        var holding = context.Own<HeldBack>();
        var taking = holding._taking = new();
        try
        {
            await work();
        }
        finally
        {
            holding._taking = null;
        }

        taking.TrySetException(new InvalidOperationException("No statement was sent."));
        return await taking.Task;
    }

    /// <inheritdoc/>
    public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(
        DbCommand command,
        CommandEventData eventData,
        InterceptionResult<int> result,
        CancellationToken cancellationToken = default
    )
    {
        if (_taking is null)
            return new(result);
        var held = new NpgsqlCommand(command.CommandText, (NpgsqlConnection?)command.Connection);
        // EF's own parameters go with its command.
        foreach (NpgsqlParameter parameter in command.Parameters)
            held.Parameters.Add(parameter.Clone());
        _taking.SetResult(held);
        return new(InterceptionResult<int>.SuppressWithResult(0));
    }
}
