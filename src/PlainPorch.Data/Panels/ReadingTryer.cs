using Npgsql;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Panels;

/// <summary>What a reading makes of a column.</summary>
/// <param name="Problem">What keeps the column from being read so; null where it can be.</param>
/// <param name="Samples">Stored values with what they become.</param>
/// <param name="Unfit">How many records hold what does not fit; null where counting takes too long.</param>
public sealed record ReadingOutcome(string? Problem, IReadOnlyList<ReadingSample> Samples, long? Unfit);

/// <summary>A stored value with what a reading makes of it.</summary>
/// <param name="Stored">The stored value.</param>
/// <param name="Read">What it becomes, as people read it; null for no value.</param>
/// <param name="Sort">What it turned out to be.</param>
public sealed record ReadingSample(string Stored, string? Read, ReadSort Sort);

/// <summary>Tries a reading on a column before anybody decides for it.</summary>
/// <param name="seen">The panel as somebody sees it.</param>
public sealed class ReadingTryer(SeenPanel seen)
{
    private const int MostSamples = 3;
    private const int MostMisfits = 3;

    /// <summary>Tries it.</summary>
    /// <param name="column">The column.</param>
    /// <param name="reading">The reading.</param>
    /// <param name="cancellationToken">Stops the counting.</param>
    public async Task<ReadingOutcome> TryAsync(BoundColumn column, Reading reading, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(reading);
        if (reading.Problem(column.Schema.Type) is { } problem)
            return new ReadingOutcome(problem, [], null);
        var read = new BoundColumn(column.Decision with { Lookup = null, Reading = reading }, column.Schema);
        var misfit = seen.Panel.Within(ReadFilter.Misfit(column.Schema, reading));
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(seen.Model, connection);
        var fitting = await ValuesAsync(
            reader,
            column,
            seen.Panel.Within(new Filter.Fits(column.Name, reading)),
            50,
            cancellationToken
        );
        var samples = fitting.Take(MostSamples).Select(Sample).ToList();
        try
        {
            var unfit = await reader.CountAsync(seen.Panel.Table, misfit, int.MaxValue, cancellationToken);
            if (unfit > 0)
                samples.AddRange(
                    (await ValuesAsync(reader, column, misfit, 50, cancellationToken)).Take(MostMisfits).Select(Sample)
                );
            return new ReadingOutcome(null, samples, unfit);
        }
        catch (NpgsqlException slow) when (slow.InnerException is TimeoutException && !cancellationToken.IsCancellationRequested)
        {
            return new ReadingOutcome(null, samples, null);
        }

        ReadingSample Sample(string stored) => new(stored, read.Show(stored, seen.Porch.Notation), read.Read(stored).Sort);
    }

    private async Task<IReadOnlyList<string>> ValuesAsync(
        SourceReader reader,
        BoundColumn column,
        Filter? filter,
        int most,
        CancellationToken cancellationToken
    )
    {
        var request = new RowRequest
        {
            Filter = filter,
            Columns = [column.Name],
            CutAt = 60,
            Take = most,
        };
        var rows = await reader.ReadAsync(seen.Panel.Table, request, cancellationToken);
        return [.. rows.Select(row => ClrValue.ToText(column.Schema.Type, row[0])).OfType<string>().Distinct()];
    }
}
