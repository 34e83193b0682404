using Microsoft.Extensions.Logging;
using Npgsql;
using PlainPorch.Core.Acts;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Values;
using PlainPorch.Data.Code;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;
using PlainPorch.Data.Rules;

namespace PlainPorch.Data.Acts;

/// <summary>
/// Carries acts out across the catalog and a source, which may be on different servers: done in the source, written to the
/// catalog,
/// committed in the source, confirmed in the catalog. So nothing is ever changed without an entry of the logbook, and what breaks
/// off in
/// between can be settled. The order is the one in which a crash at any moment loses nothing.
/// </summary>
/// <param name="logbook">The logbook.</param>
/// <param name="settler">Confirms, withdraws, and finds out.</param>
/// <param name="code">Calls code of one's own.</param>
/// <param name="log">Gets what could not be confirmed at once.</param>
public sealed partial class ActRunner(Logbook logbook, ActSettler settler, CodeRunner code, ILogger<ActRunner> log)
{
    // So long whoever asked is kept waiting while the source is asked what became of a COMMIT whose answer was lost.
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(3);

    /// <summary>Who does what is done.</summary>
    internal Caller Caller => logbook.Caller;

    /// <summary>Carries an act out.</summary>
    /// <param name="panel">The panel where it is done; its table must be there.</param>
    /// <param name="transaction">A transaction of the source; it ends here.</param>
    /// <param name="work">Does it within the transaction, and tells what was done; or why it cannot be done.</param>
    /// <param name="cancellationToken">Gives it up, as long as the transaction was not told to commit: from then on it comes to
    /// its end.</param>
    /// <exception cref="OutcomeUnknownException">It is not known yet whether it came to pass.</exception>
    internal async Task<ActEnd<T>> CarryOutAsync<T>(
        OpenPanel panel,
        NpgsqlTransaction transaction,
        Func<Task<(Act<T>? Act, FieldProblem? Problem)>> work,
        CancellationToken cancellationToken
    )
        where T : class
    {
        Act<T>? act;
        CodeAnswer answered;
        IReadOnlyList<string> despite;
        try
        {
            (act, var heldBack) = await work();
            if (act is null)
            {
                await transaction.GiveUpAsync();
                return new ActEnd<T>.Refused(heldBack!);
            }

            answered = await code.RunAsync(panel, transaction, act.Records, Caller, cancellationToken);
            if (answered.Problems.Count > 0)
            {
                await transaction.GiveUpAsync();
                return new ActEnd<T>.Refused(answered.Problems);
            }

            act = act with { Records = answered.Records };
            (var broken, despite) = await new CheckKeeper(panel, Caller).RunAsync(transaction, act.Records, cancellationToken);
            if (broken.Count > 0)
            {
                await transaction.GiveUpAsync();
                return new ActEnd<T>.Refused(broken);
            }

            if (answered.HasWritten && act.Anew is { } anew)
                act = act with { Result = await anew() };
        }
        catch (PostgresException answer) when (RefusalText.Explain(answer, panel.Bound!) is { } problem)
        {
            await transaction.GiveUpAsync();
            return new ActEnd<T>.Refused(problem);
        }

        Prepared<T>? prepared = null;
        try
        {
            prepared = await PrepareAsync(panel, transaction, act, despite, answered.Afterwards, cancellationToken);
            if (prepared is null)
            {
                await transaction.GiveUpAsync();
                return new ActEnd<T>.Taken();
            }

            cancellationToken.ThrowIfCancellationRequested();
        }
        catch
        {
            // The source was never told to commit, so nothing was changed there.
            await WithdrawAsync(transaction, prepared?.Written);
            throw;
        }

        return await CommitAsync(panel, transaction, prepared);
    }

    /// <summary>Finds out whether what was written within a transaction would be refused by code of one's own or by a check.</summary>
    /// <param name="panel">The panel where it was done.</param>
    /// <param name="transaction">The transaction.</param>
    /// <param name="records">What was done to which records.</param>
    /// <param name="inSpiteOfWarnings">Whether warnings do not count.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <returns>Why; empty where it would not.</returns>
    internal async Task<IReadOnlyList<FieldProblem>> WhyRefusedAsync(
        OpenPanel panel,
        NpgsqlTransaction transaction,
        IReadOnlyList<LoggedRecord> records,
        bool inSpiteOfWarnings,
        CancellationToken cancellationToken
    )
    {
        var answered = await code.RunAsync(panel, transaction, records, Caller, cancellationToken);
        if (answered.Problems.Count > 0)
            return answered.Problems;
        var (broken, _) = await new CheckKeeper(panel, Caller).RunAsync(transaction, answered.Records, cancellationToken);
        return [.. broken.Where(problem => !inSpiteOfWarnings || problem.Warning is null)];
    }

    /// <summary>The checks of a panel that warn, by their names.</summary>
    internal static IReadOnlySet<string> WarningsOf(OpenPanel panel) =>
        BoundCheck
            .Of(panel.Bound!, panel.Panels)
            .Where(check => check.Check.IsWarning)
            .Select(check => check.Check.Name)
            .ToHashSet();

    private async Task<ActEnd<T>> CommitAsync<T>(OpenPanel panel, NpgsqlTransaction transaction, Prepared<T> prepared)
        where T : class
    {
        var connection = transaction.Connection!;
        try
        {
            await transaction.CommitAsync(CancellationToken.None);
        }
        catch (PostgresException answer) when (answer.InvariantSeverity is "ERROR")
        {
            // A rule that is looked at in the end only: the source itself says that nothing was changed.
            await WithdrawAsync(transaction, prepared.Written);
            return RefusalText.Explain(answer, panel.Bound!) is { } problem
                ? new ActEnd<T>.Refused(problem)
                : throw new InvalidOperationException(
                    $"The database failed while ending work on {panel.Bound!.Table.Name}.",
                    answer
                );
        }
        catch (Exception lost)
        {
            // The place in the pool is wanted for asking.
            await connection.CloseAsync();
            return await AfterLossAsync(panel, prepared, lost);
        }

        await ConfirmAsync(prepared.Written, happened: true);
        return new ActEnd<T>.Done(prepared.Result);
    }

    // The answer to COMMIT did not come: only the source can tell.
    private async Task<ActEnd<T>> AfterLossAsync<T>(OpenPanel panel, Prepared<T> prepared, Exception lost)
        where T : class
    {
        var happened = await ActEvidence.FindAsync(
            panel.Connections,
            prepared.Transaction,
            prepared.Rows,
            new Patience(_patience, EndsAbandoned: true),
            CancellationToken.None
        );
        switch (happened)
        {
            case true:
                await ConfirmAsync(prepared.Written, happened: true);
                return new ActEnd<T>.Done(prepared.Result);
            case false:
                await ConfirmAsync(prepared.Written, happened: false);
                return new ActEnd<T>.Refused(
                    new FieldProblem(
                        "",
                        "The connection to the database broke before this was done. Nothing was changed. Try again."
                    )
                );
            default:
                NotKnown(log, lost, prepared.Written.Entry);
                throw new OutcomeUnknownException(prepared.Written.Entry, lost);
        }
    }

    // Null where somebody else is at the parcel.
    private async Task<Prepared<T>?> PrepareAsync<T>(
        OpenPanel panel,
        NpgsqlTransaction transaction,
        Act<T> act,
        IReadOnlyList<string> despite,
        IReadOnlyList<AskedAfterwards> afterwards,
        CancellationToken cancellationToken
    )
        where T : class
    {
        var number = await new SourceRows(transaction.Connection!).TransactionAsync(cancellationToken);
        var rows = act.Witnesses is null ? [] : await act.Witnesses.CloseAsync(cancellationToken);
        var parcel = act.Parcel is null ? null : await act.Parcel.BeginAsync(number, cancellationToken);
        if (act.Parcel is not null && parcel is null)
            return null;
        var result = (T?)null;
        try
        {
            // The entry comes last: from then on only COMMIT is missing, and what stands open for long was broken off.
            var entry = await logbook.WriteAsync(
                new LogNote(panel, act.Kind, number, act.Records, parcel, rows, despite, afterwards),
                id => result = act.Result(new ActPlace(id, parcel)),
                cancellationToken
            );
            return new Prepared<T>(new Written(entry, parcel is not null), number, rows, result!);
        }
        catch
        {
            if (parcel is { } begun)
                await settler.WithdrawAsync(begun);
            throw;
        }
    }

    private async Task WithdrawAsync(NpgsqlTransaction transaction, Written? written)
    {
        await transaction.GiveUpAsync();
        if (written is not null)
            await ConfirmAsync(written, happened: false);
    }

    // It is done, or not, whatever becomes of our own tables now: what they are not told is settled in the background.
    private async Task ConfirmAsync(Written written, bool happened)
    {
        try
        {
            await settler.SettleAsync(written.Entry, happened, written.HasParcel, CancellationToken.None);
        }
        catch (Exception failure)
        {
            NotConfirmed(log, failure, written.Entry);
        }
    }

    [LoggerMessage(
        LogLevel.Warning,
        "The outcome of entry {Entry} of the logbook could not be written down; it will be settled in the background."
    )]
    private static partial void NotConfirmed(ILogger log, Exception failure, long entry);

    [LoggerMessage(
        LogLevel.Warning,
        "The source did not answer COMMIT, and cannot be asked; entry {Entry} of the logbook will be settled in the background."
    )]
    private static partial void NotKnown(ILogger log, Exception failure, long entry);

    private sealed record Written(long Entry, bool HasParcel);

    private sealed record Prepared<T>(Written Written, string Transaction, IReadOnlyList<RowWitness> Rows, T Result);
}
