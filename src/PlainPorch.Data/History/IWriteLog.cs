using PlainPorch.Core.History;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.History;

/// <summary>Gets what is written to the records of one panel.</summary>
public interface IWriteLog
{
    /// <summary>Notes what is about to happen.</summary>
    /// <param name="act">What is done.</param>
    /// <param name="transaction">The source's number of the transaction.</param>
    /// <param name="records">The records.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    /// <returns>The entry's number.</returns>
    Task<long> WriteAsync(LogAct act, string transaction, IReadOnlyList<LoggedRecord> records, CancellationToken cancellationToken);

    /// <summary>Notes whether it came to pass.</summary>
    Task SettleAsync(long entry, bool happened, CancellationToken cancellationToken);
}

/// <summary>Writes what is done to a panel's records into the logbook.</summary>
/// <param name="logbook">The logbook.</param>
/// <param name="panel">The panel.</param>
public sealed class PanelLog(Logbook logbook, OpenPanel panel) : IWriteLog
{
    /// <inheritdoc/>
    public Task<long> WriteAsync(LogAct act, string transaction, IReadOnlyList<LoggedRecord> records, CancellationToken cancellationToken) =>
        logbook.WriteAsync(panel, act, transaction, records, cancellationToken);

    /// <inheritdoc/>
    public Task SettleAsync(long entry, bool happened, CancellationToken cancellationToken) => logbook.SettleAsync(entry, happened, cancellationToken);
}
