using System.Data;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>
/// A connection with a transaction, in which records are written. What is not committed in the end comes to nothing.
/// </summary>
internal sealed class WriteSession : IAsyncDisposable
{
    private readonly RecordModel _model;
    private bool _isHalfPrepared;
    private DbContext? _context;

    private WriteSession(RecordModel model, NpgsqlConnection connection, NpgsqlTransaction transaction)
    {
        _model = model;
        Connection = connection;
        Transaction = transaction;
        Reader = new SourceReader(model, connection);
    }

    /// <summary>The connection.</summary>
    public NpgsqlConnection Connection { get; }

    /// <summary>The transaction.</summary>
    public NpgsqlTransaction Transaction { get; }

    /// <summary>Reads what is there within the transaction.</summary>
    public SourceReader Reader { get; }

    /// <summary>The connection's rows.</summary>
    public SourceRows Rows => new(Connection);

    /// <summary>A context within the transaction. It takes longer to make than a record to write, so it is made when it is
    /// needed.</summary>
    public DbContext Context => _context ??= MakeContext();

    /// <summary>Opens a connection and begins a transaction.</summary>
    public static async Task<WriteSession> OpenAsync(
        RecordModel model,
        NpgsqlDataSource source,
        CancellationToken cancellationToken,
        IsolationLevel isolation = IsolationLevel.Unspecified
    )
    {
        var connection = await source.OpenConnectionAsync(cancellationToken);
        try
        {
            return new WriteSession(model, connection, await connection.BeginTransactionAsync(isolation, cancellationToken));
        }
        catch
        {
            await connection.DisposeAsync();
            throw;
        }
    }

    /// <summary>Notes a failure, after which the connection may have to forget what it prepared.</summary>
    /// <returns>False always, so that it can stand in an exception filter.</returns>
    public bool Note(PostgresException failure)
    {
        _isHalfPrepared |= RefusalText.IsOfParameter(failure);
        return false;
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        if (_context is not null)
        {
            _isHalfPrepared |= FailedPreparing.Of(_context).IsHalfPrepared;
            await _context.DisposeAsync();
        }

        await Transaction.DisposeAsync();
        if (_isHalfPrepared)
            FailedPreparing.Forget(Connection);
        await Connection.DisposeAsync();
    }

    private DbContext MakeContext()
    {
        var context = _model.Open(Connection);
        // Within a savepoint a row would bear another number than the transaction, by which the history knows its own writes.
        context.Database.AutoSavepointsEnabled = false;
        context.Database.UseTransaction(Transaction);
        return context;
    }
}
