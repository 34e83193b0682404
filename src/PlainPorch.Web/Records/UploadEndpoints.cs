using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;
using PlainPorch.Data.Uploads;
using PlainPorch.Web.Http;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Records;

/// <summary>A file that waits for its record to be saved.</summary>
/// <param name="Id">Its number: what is given as the value of its column.</param>
/// <param name="Bytes">How many bytes will be stored.</param>
/// <param name="Name">What it is called; null for what goes into a column of bytes.</param>
public sealed record Upload(string Id, long Bytes, string? Name);

/// <summary>Takes files that are chosen in forms, and gives out those that are stored.</summary>
internal static class UploadEndpoints
{
    private const string ContentType = "application/octet-stream";

    // Beyond the greatest file that a panel can allow.
    private const long MaxBodyBytes = 26_000_000;

    public static void MapUploads(this IEndpointRouteBuilder api)
    {
        var panel = api.MapGroup("/porches/{porch}/panels/{panel}").WithTags("Records").OpensPanel().ForMembers();
        panel
            .MapPost("/uploads/{column}", SendAsync)
            .WithName("sendFile")
            .WithSummary(
                "Keeps a file for a column until its record is saved, under a number that is given as the value, or as upload: and the number where the column holds paths. A picture is drawn anew."
            )
            .Accepts<IFormFile>(ContentType)
            .WithMetadata(new Microsoft.AspNetCore.Mvc.RequestSizeLimitAttribute(MaxBodyBytes));
        panel.MapGet("/uploads/{column}/{id}", FindAsync).WithName("findUpload").WithSummary("Shows a picture that waits.");
        panel
            .MapPost("/uploads/{column}/{id}/turn", TurnAsync)
            .WithName("turnUpload")
            .WithSummary("Keeps a picture that waits once more, turned to the right.");
        panel
            .MapGet("/records/{key}/files/{column}", DownloadAsync)
            .WithName("findFile")
            .WithSummary("The bytes of a record's column, or a file whose path it holds.");
    }

    private static async Task<Results<Ok<Upload>, NotFound, ProblemHttpResult, ValidationProblem>> SendAsync(
        [AsParameters] PanelHere here,
        string column,
        HttpRequest request,
        UploadStore uploads,
        FileFolder folder,
        CancellationToken cancellationToken,
        string? name = null
    )
    {
        if (FileColumn(here, column) is not { TakesFile: true } file)
            return TypedResults.NotFound();
        if (file.Files is { } files && Unfit(files, name ?? "", folder) is { } unfit)
            return Problems.Of([new FieldProblem(column, unfit)]);
        // Another site's page can send anything but this without asking first.
        if (request.ContentType != ContentType)
            return Problems.Of([new FieldProblem(column, $"Send the file with the content type {ContentType}.")]);
        if (request.ContentLength > file.MostBytes)
            return TooLarge(file);
        using var content = new MemoryStream();
        await request.Body.CopyToAsync(content, cancellationToken);
        if (content.Length == 0)
            return Problems.Of([new FieldProblem(column, "The file is empty. Choose another one.")]);
        if (content.Length > file.MostBytes)
            return TooLarge(file);
        return await KeepAsync(here, file, new WaitingFile(content.ToArray(), name), degrees: 0, uploads, cancellationToken);
    }

    private static async Task<Results<FileContentHttpResult, NotFound, ProblemHttpResult>> FindAsync(
        [AsParameters] PanelHere here,
        string column,
        Guid id,
        HttpResponse response,
        UploadStore uploads,
        CancellationToken cancellationToken
    )
    {
        if (
            FileColumn(here, column) is not { IsPicture: true }
            || await uploads.FindAsync(here.Opened.Id, column, id, cancellationToken) is not { } content
            || Drawing.Small(content.Content, Thumbnails.SizeFor(400)) is not { } picture
        )
            return TypedResults.NotFound();
        response.Headers.CacheControl = "private, max-age=86400, immutable";
        return TypedResults.File(picture, Thumbnails.MediaType);
    }

    private static async Task<Results<Ok<Upload>, NotFound, ProblemHttpResult, ValidationProblem>> TurnAsync(
        [AsParameters] PanelHere here,
        string column,
        Guid id,
        UploadStore uploads,
        CancellationToken cancellationToken
    )
    {
        if (
            FileColumn(here, column) is not { TakesFile: true, IsPicture: true } file
            || await uploads.FindAsync(here.Opened.Id, column, id, cancellationToken) is not { } content
        )
            return TypedResults.NotFound();
        return await KeepAsync(here, file, content, degrees: 90, uploads, cancellationToken);
    }

    private static async Task<Results<FileContentHttpResult, PhysicalFileHttpResult, NotFound, ProblemHttpResult>> DownloadAsync(
        [AsParameters] PanelHere here,
        string key,
        string column,
        HttpResponse response,
        FileFolder folder,
        CancellationToken cancellationToken,
        int place = 0
    )
    {
        var records = here.Records();
        response.Headers.CacheControl = "private, no-store";
        if (FileColumn(here, column) is { Files: { } files } held)
            return await records.FileAsync(key, held, files, place, folder, cancellationToken) is { } found
                ? TypedResults.PhysicalFile(found.FullName, ContentType, found.Name)
                : TypedResults.NotFound();
        if (
            FileColumn(here, column) is not { } file
            || await records.BytesAsync(key, file, Thumbnails.MaxBytes, cancellationToken) is not { } content
        )
            return TypedResults.NotFound();
        // Never shown in the page's own name, whatever it holds.
        return TypedResults.File(content, ContentType, $"{column}-{key}");
    }

    private static async Task<Results<Ok<Upload>, NotFound, ProblemHttpResult, ValidationProblem>> KeepAsync(
        PanelHere here,
        BoundColumn file,
        WaitingFile sent,
        int degrees,
        UploadStore uploads,
        CancellationToken cancellationToken
    )
    {
        var stored = file.IsPicture ? Drawing.Store(sent.Content, degrees) : sent.Content;
        if (stored is null)
            return Problems.Of([
                new FieldProblem(file.Name, "This is no picture that can be shown. Choose a JPEG, PNG, WebP or GIF file."),
            ]);
        // Drawn anew, a picture may be of another sort than its name says.
        var name =
            file.Files is null ? null
            : file.IsPicture ? Path.ChangeExtension(FilesInFolder.NameOf(sent.Name ?? ""), Drawing.EndingOf(stored))
            : FilesInFolder.NameOf(sent.Name ?? "");
        return await uploads.KeepAsync(here.Opened.Id, file.Name, stored, name, cancellationToken) is { } id
            ? TypedResults.Ok(new Upload(id.ToString("D"), stored.Length, name))
            : Problems.Of([
                new FieldProblem(file.Name, "Too many files are waiting to be saved on this server. Try again tomorrow."),
            ]);
    }

    // Stored as bytes or as a path, and shown to whoever asks.
    private static BoundColumn? FileColumn(PanelHere here, string column) =>
        here.Records().Seen.Panel is var panel
        && panel.Find(column) is { } file
        && (file.Schema.Type.Kind is Core.Schema.ValueKind.Binary || file.Files is not null)
        && panel.IsVisible(file)
            ? file
            : null;

    private static string? Unfit(FilesInFolder files, string name, FileFolder folder) =>
        !folder.IsThere ? "This server has no folder for files. Whoever runs it names one by PORCH_FILES."
        : files.Takes(FilesInFolder.NameOf(name)) ? null
        : $"Only {string.Join(", ", files.Endings)} are taken here. Choose such a file.";

    private static ValidationProblem TooLarge(BoundColumn file) =>
        Problems.Of([
            new FieldProblem(file.Name, $"The file is larger than {file.MostBytes / 1_000_000} MB. Choose a smaller one."),
        ]);
}
