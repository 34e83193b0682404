using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Values;
using PlainPorch.Data.Imports;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Imports;

/// <summary>Takes the files of imports, whatever these go into.</summary>
internal static class ImportFileEndpoints
{
    private const string ContentType = "application/octet-stream";

    /// <summary>Takes a file that is sent.</summary>
    internal static async Task<Results<Ok<ImportFile>, ValidationProblem>> KeepAsync(
        Guid import,
        string? name,
        HttpRequest request,
        ImportStore imports,
        CancellationToken cancellationToken
    )
    {
        if (request.ContentType != ContentType)
            return Of($"Send the file with the content type {ContentType}.");
        if (string.IsNullOrWhiteSpace(name) || name.Length > 200)
            return Of("Give the file a name of at most 200 characters.");
        if (!FileTables.IsRead(name))
            return Of(
                $"{name} is not of a kind that can be read: delimited text, a spreadsheet (.xlsx, .xls, .ods), JSON, XML, SQLite, a dBASE table, or one of these packed. Save it as one of them."
            );
        if (await imports.KeepAsync(import, name, request.Body, cancellationToken) is not { } kept)
            return Of(
                $"{name} is too large, or too much is waiting already: at most {ImportStore.MostBytes / 1024 / 1024 / 1024} GB of a file are sent. Put it into the server's folder and choose it there."
            );
        // One of the same name is the one that was sent before, and this is what it was to be.
        foreach (var earlier in await imports.FilesAsync(import, cancellationToken))
            if (earlier.Name == name && earlier.Id != kept.Id)
                await imports.RemoveFileAsync(import, earlier.Id, cancellationToken);
        return TypedResults.Ok(ImportFile.Of(kept));

        static ValidationProblem Of(string message) => Problems.Of([new FieldProblem("file", message)]);
    }

    /// <summary>Has an import read files of the server's folder.</summary>
    internal static async Task<Results<Ok<IReadOnlyList<ImportFile>>, ValidationProblem>> PointAsync(
        Guid import,
        FolderFilesRequest request,
        ImportStore imports,
        ImportFolder folder,
        CancellationToken cancellationToken
    )
    {
        var taken = new List<ImportFile>();
        foreach (var path in request.Paths.Distinct())
        {
            if (folder.Find(path) is not { } file)
                return Problems.Of([
                    new FieldProblem("paths", $"There is no file {path} in the server's folder. Look at it again."),
                ]);
            taken.Add(ImportFile.Of(await imports.PointAsync(import, path, file.Length, cancellationToken)));
        }

        return TypedResults.Ok<IReadOnlyList<ImportFile>>(taken);
    }

    /// <summary>What imports may read.</summary>
    internal static ImportMeans Means(ImportFolder folder) =>
        new(
            folder.Shared,
            folder.List(),
            [
                .. ColumnGuesses
                    .Forms.Prepend(ValueForm.Text)
                    .Concat([
                        new ValueForm.Whole("integer"),
                        new ValueForm.Whole("bigint"),
                        new ValueForm.YesNo("J", "N"),
                        new ValueForm.YesNo("Y", "N"),
                        new ValueForm.YesNo("true", "false"),
                        new ValueForm.YesNo("1", "0"),
                    ])
                    .Select(form => new FormChoice(form.StoreType, form.Pattern, form.Reading))
                    .Distinct(),
            ],
            ImportStore.MostBytes
        );
}
