using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Uploads;

/// <summary>
/// Keeps files that were chosen in a form until its record is saved, so that they are seen before and saved with the rest.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="time">Tells how long one was kept.</param>
public sealed class UploadStore(CatalogContext catalog, TimeProvider time)
{
    /// <summary>So long one waits for its record.</summary>
    public static readonly TimeSpan KeptFor = TimeSpan.FromDays(2);

    // So many bytes wait at most, whoever sent them.
    private const long Most = 2_000_000_000;

    /// <summary>Keeps a file; those that waited too long go.</summary>
    /// <param name="panelId">The panel for whose records it is.</param>
    /// <param name="column">The column that it is for.</param>
    /// <param name="content">The file.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>Its number; null where too much is waiting already.</returns>
    public async Task<Guid?> KeepAsync(int panelId, string column, byte[] content, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(content);
        var now = time.GetUtcNow();
        await catalog.Uploads.Where(upload => upload.At < now - KeptFor).ExecuteDeleteAsync(cancellationToken);
        if (await catalog.Uploads.SumAsync(upload => (long)upload.Content.Length, cancellationToken) + content.Length > Most)
            return null;
        var row = new UploadRow
        {
            Id = Guid.NewGuid(),
            PanelId = panelId,
            Column = column,
            At = now,
            Content = content,
        };
        catalog.Uploads.Add(row);
        await catalog.SaveChangesAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
        return row.Id;
    }

    /// <summary>Finds a file.</summary>
    /// <param name="panelId">The panel.</param>
    /// <param name="column">The column that it was sent for.</param>
    /// <param name="id">Its number.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The file; null where none waits for this column under this number.</returns>
    public Task<byte[]?> FindAsync(int panelId, string column, Guid id, CancellationToken cancellationToken) =>
        catalog
            .Uploads.Where(upload => upload.Id == id && upload.PanelId == panelId && upload.Column == column)
            .Select(upload => upload.Content)
            .FirstOrDefaultAsync(cancellationToken);

    /// <summary>Puts files in the place of their numbers, in what is to be saved.</summary>
    /// <param name="panelId">The panel.</param>
    /// <param name="input">What is to be saved.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The same with the files' bytes as texts; with a problem for each that does not wait any more.</returns>
    public async Task<CheckedInput> FillAsync(int panelId, CheckedInput input, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(input);
        if (input.Files.Count == 0)
            return input;
        var values = input.Values.ToDictionary();
        var problems = input.Problems.ToList();
        foreach (var (column, id) in input.Files)
        {
            if (await FindAsync(panelId, column, id, cancellationToken) is { } content)
                values[column] = ClrValue.OfBytes(content);
            else
                problems.Add(
                    new FieldProblem(
                        column,
                        $"The file that was chosen is not kept any more, after {KeptFor.TotalDays:0} days. Choose it again."
                    )
                );
        }

        return new CheckedInput(values, problems);
    }
}
