using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Uploads;

/// <summary>
/// Keeps files that were chosen in a form until its record is saved, so that they are seen before and saved with the rest.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="folder">Where the files lie whose paths columns hold.</param>
/// <param name="time">Tells how long one was kept.</param>
public sealed class UploadStore(CatalogContext catalog, FileFolder folder, TimeProvider time)
{
    /// <summary>So long one waits for its record.</summary>
    public static readonly TimeSpan KeptFor = TimeSpan.FromDays(2);

    // So many bytes wait at most, whoever sent them.
    private const long Most = 2_000_000_000;

    /// <summary>Keeps a file; those that waited too long go.</summary>
    /// <param name="panelId">The panel for whose records it is.</param>
    /// <param name="column">The column that it is for.</param>
    /// <param name="content">The file.</param>
    /// <param name="name">What it was called where it came from; null where nobody asks.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>Its number; null where too much is waiting already.</returns>
    public async Task<Guid?> KeepAsync(
        int panelId,
        string column,
        byte[] content,
        string? name,
        CancellationToken cancellationToken
    )
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
            Name = name,
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
    public Task<WaitingFile?> FindAsync(int panelId, string column, Guid id, CancellationToken cancellationToken) =>
        catalog
            .Uploads.Where(upload => upload.Id == id && upload.PanelId == panelId && upload.Column == column)
            .Select(upload => new WaitingFile(upload.Content, upload.Name))
            .FirstOrDefaultAsync(cancellationToken);

    /// <summary>
    /// Puts files in the place of their numbers, in what is to be saved: their bytes, or the paths of where they are laid.
    /// </summary>
    /// <param name="panelId">The panel.</param>
    /// <param name="panel">The panel as whoever saves sees it.</param>
    /// <param name="input">What is to be saved.</param>
    /// <param name="present">Tells which paths a column of the record holds by now.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The same with the files; with a problem for each that does not wait any more.</returns>
    public async Task<FilledInput> FillAsync(
        int panelId,
        BoundPanel panel,
        CheckedInput input,
        Func<BoundColumn, Task<IReadOnlyList<string>>> present,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(input);
        ArgumentNullException.ThrowIfNull(present);
        var values = input.Values.ToDictionary();
        var problems = input.Problems.ToList();
        var laid = new List<(FilesInFolder Files, string Path)>();
        foreach (var (column, id) in input.Files)
        {
            if (await FindAsync(panelId, column, id, cancellationToken) is { } file)
                values[column] = ClrValue.OfBytes(file.Content);
            else
                problems.Add(Gone(column));
        }

        // What is wrong elsewhere is told before files are laid anywhere.
        if (problems.Count > 0)
            return new FilledInput(folder, new CheckedInput(values, problems), laid);
        foreach (var (name, given) in input.Paths)
        {
            var column = panel.FindToWrite(name)!;
            var files = column.Files!;
            var paths = new List<string>();
            HashSet<string>? known = null;
            foreach (var one in given)
            {
                if (CheckedInput.UploadIn(one) is { } id)
                {
                    if (await FindAsync(panelId, name, id, cancellationToken) is not { } file)
                        problems.Add(Gone(name));
                    else if (await LayAsync(files, id, file, cancellationToken) is not { } placed)
                        problems.Add(
                            new FieldProblem(name, "The server cannot keep the file in its folder. Tell whoever runs it.")
                        );
                    else
                    {
                        if (placed.IsNew)
                            laid.Add((files, placed.Path));
                        paths.Add(placed.Path);
                    }
                }
                // A path that was typed would show whoever typed it another record's file.
                else if ((known ??= [.. await present(column)]).Contains(one))
                    paths.Add(one);
                else
                    problems.Add(
                        new FieldProblem(
                            name,
                            $"{FilesInFolder.NameOf(one)} is not a file of this record. Choose the file itself."
                        )
                    );
            }

            if (RecordInput.Read(column, column.WithPaths(paths), out var value) is { } problem)
                problems.Add(new FieldProblem(name, problem));
            values[name] = value;
        }

        var filled = new FilledInput(folder, new CheckedInput(values, problems), laid);
        if (problems.Count > 0)
            filled.TakeBack();
        return filled;
    }

    private async Task<(string Path, bool IsNew)?> LayAsync(
        FilesInFolder files,
        Guid id,
        WaitingFile file,
        CancellationToken cancellationToken
    )
    {
        try
        {
            return await folder.LayAsync(files, file.Name ?? "", id, file.Content, cancellationToken);
        }
        catch (IOException)
        {
            return null;
        }
    }

    private static FieldProblem Gone(string column) =>
        new(column, $"The file that was chosen is not kept any more, after {KeptFor.TotalDays:0} days. Choose it again.");
}

/// <summary>A file that waits for its record.</summary>
/// <param name="Content">The file.</param>
/// <param name="Name">What it was called where it came from; null where nobody asked.</param>
public sealed record WaitingFile(byte[] Content, string? Name);

/// <summary>What is to be saved, with the files that were laid into the server's folder for it.</summary>
public sealed class FilledInput
{
    private readonly FileFolder _folder;
    private readonly IReadOnlyList<(FilesInFolder Files, string Path)> _laid;

    internal FilledInput(FileFolder folder, CheckedInput input, IReadOnlyList<(FilesInFolder Files, string Path)> laid)
    {
        _folder = folder;
        _laid = laid;
        Input = input;
    }

    /// <summary>What is to be saved, or what is wrong with it.</summary>
    public CheckedInput Input { get; }

    /// <summary>Takes the files away again, as the record was not saved.</summary>
    public void TakeBack()
    {
        foreach (var (files, path) in _laid)
            _folder.TakeBack(files, path);
    }
}
