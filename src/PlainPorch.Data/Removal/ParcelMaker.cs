using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.History;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.History;
using PlainPorch.Data.Records;

namespace PlainPorch.Data.Removal;

/// <summary>Work within a transaction of the source by which a parcel is made: its rows have been read, and others cannot write to them.</summary>
internal interface IParcelWork
{
    /// <summary>How the first record is called.</summary>
    string Title { get; }

    /// <summary>How many records were chosen and did not only go along.</summary>
    int Chosen { get; }

    /// <summary>What the logbook is to say.</summary>
    IReadOnlyList<LoggedRecord> Logged();

    /// <summary>The parts of the parcel.</summary>
    IReadOnlyList<ParcelPartRow> Parts(long parcel);

    /// <summary>The rows of the parcel.</summary>
    IEnumerable<ParcelRecordRow> Records(long parcel);

    /// <summary>Does it.</summary>
    /// <returns>What kept some rows back; null where all is done.</returns>
    Task<FieldProblem?> CarryOutAsync();
}

/// <summary>
/// Carries out work by which a parcel is made, in the one order in which a crash loses nothing: parcel and entry are written with the
/// number of the source's transaction, then the rows are changed, then that transaction ends, then parcel and entry are confirmed.
/// </summary>
/// <param name="parcels">What was set aside.</param>
/// <param name="logbook">The logbook.</param>
/// <param name="time">Tells the present moment.</param>
/// <param name="atStage">Is called between the steps; a test that fails there leaves what a crash would.</param>
internal sealed class ParcelMaker(ParcelStore parcels, Logbook logbook, TimeProvider time, Func<RemovalStage, Task>? atStage = null)
{
    private Task At(RemovalStage stage) => atStage?.Invoke(stage) ?? Task.CompletedTask;

    /// <summary>Carries it out.</summary>
    /// <param name="panel">The panel where it is done.</param>
    /// <param name="work">The work.</param>
    /// <param name="act">What the logbook calls it.</param>
    /// <param name="keeps">Whether it can be brought back, and so makes a parcel.</param>
    /// <param name="transaction">The source's transaction.</param>
    /// <param name="cancellationToken">Gives it up; then nothing was done.</param>
    /// <returns>The parcel, null where none is made; or why it was refused.</returns>
    public async Task<(long? Parcel, FieldProblem? Problem)> CarryOutAsync(
        OpenPanel panel, IParcelWork work, LogAct act, bool keeps, NpgsqlTransaction transaction, CancellationToken cancellationToken)
    {
        var number = await new SourceRows(transaction.Connection!).TransactionAsync(cancellationToken);
        var parcel = keeps ? await AddAsync(panel, work, number, cancellationToken) : null;
        long? entry = null;
        var isOpen = true;
        try
        {
            entry = await logbook.WriteAsync(panel, act, number, work.Logged(), cancellationToken, parcel?.Id);
            if (parcel is not null)
            {
                await parcels.FillAsync(work.Parts(parcel.Id), work.Records(parcel.Id), cancellationToken);
                await parcels.NoteEntryAsync(parcel.Id, entry.Value, cancellationToken);
            }

            await At(RemovalStage.Written);
            if (await work.CarryOutAsync() is { } heldBack)
                return (null, heldBack);
            await At(RemovalStage.Removed);
            await transaction.CommitAsync(cancellationToken);
            isOpen = false;
            await At(RemovalStage.Committed);
        }
        catch (PostgresException answer) when (isOpen && RefusalText.Explain(answer, panel.Bound!) is { } problem)
        {
            return (null, problem);
        }
        catch (SimulatedCrash)
        {
            // What comes next would not have come either.
            (entry, parcel) = (null, null);
            throw;
        }
        finally
        {
            if (isOpen)
                await WithdrawAsync(transaction, parcel, entry);
        }

        // It is done, whoever gives up waiting now.
        if (parcel is not null)
            await parcels.KeepAsync(parcel.Id, CancellationToken.None);
        await logbook.SettleAsync(entry!.Value, happened: true, CancellationToken.None);
        return (parcel?.Id, null);
    }

    private async Task WithdrawAsync(NpgsqlTransaction transaction, ParcelRow? parcel, long? entry)
    {
        await transaction.GiveUpAsync();
        if (parcel is not null)
            await parcels.RemoveAsync(parcel.Id, CancellationToken.None);
        if (entry is not null)
            await logbook.SettleAsync(entry.Value, happened: false, CancellationToken.None);
    }

    private async Task<ParcelRow> AddAsync(OpenPanel panel, IParcelWork work, string transaction, CancellationToken cancellationToken)
    {
        var now = time.GetUtcNow();
        var parcel = new ParcelRow
        {
            SourceId = panel.Source.Id,
            PorchId = panel.Porch.Id,
            Panel = panel.Definition.Slug,
            Title = work.Title,
            Chosen = work.Chosen,
            At = now,
            Who = logbook.Caller.Name,
            EraseAt = panel.Definition.Removal.EraseAfterDays is { } days ? now.AddDays(days) : null,
            State = ParcelState.Leaving,
            Transaction = transaction,
            MadeBy = transaction,
        };
        await parcels.AddAsync(parcel, cancellationToken);
        return parcel;
    }
}

/// <summary>Gives transactions up.</summary>
internal static class GivingUp
{
    /// <summary>Rolls a transaction back, if there is still a database to tell.</summary>
    public static Task GiveUpAsync(this NpgsqlTransaction transaction) =>
        transaction.Connection is { FullState: not System.Data.ConnectionState.Broken } ? transaction.RollbackAsync(CancellationToken.None) : Task.CompletedTask;
}
