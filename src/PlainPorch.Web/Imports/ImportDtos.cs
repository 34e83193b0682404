using System.Text.Json;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Imports;
using PlainPorch.Data.Imports;

namespace PlainPorch.Web.Imports;

/// <summary>A file of an import.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Size">How many bytes it has.</param>
/// <param name="IsInFolder">Whether it lies in the server's folder.</param>
public sealed record ImportFile(Guid Id, string Name, long Size, bool IsInFolder)
{
    internal static ImportFile Of(ImportFileRow row) => new(row.Id, row.Name, row.Size, row.Path is not null);
}

/// <summary>How an import stands.</summary>
/// <param name="Id">Its number.</param>
/// <param name="State">Looking, ready, planning, running, done, stopped, failed or taken back.</param>
/// <param name="Step">What is being done.</param>
/// <param name="Done">How much of the step is done.</param>
/// <param name="Total">How much there is to do in it; 0 where that is not known.</param>
/// <param name="Seconds">How long the step takes so far, or took.</param>
/// <param name="Who">Who began it.</param>
/// <param name="At">When it was begun.</param>
/// <param name="IsStopping">Whether it was asked to stop and has not yet.</param>
/// <param name="Problem">Why it could not be done; null where it was.</param>
/// <param name="Recipe">The recipe that it follows; null for none.</param>
/// <param name="CanStop">Whether it can still be stopped without a trace: not once everything is written.</param>
/// <param name="Files">Its files.</param>
public record ImportStatus(
    Guid Id,
    ImportState State,
    string Step,
    long Done,
    long Total,
    double Seconds,
    string Who,
    DateTimeOffset At,
    bool IsStopping,
    string? Problem,
    string? Recipe,
    bool CanStop,
    IReadOnlyList<ImportFile> Files
)
{
    internal static ImportStatus Of(ImportRow row, IReadOnlyList<ImportFileRow> files) =>
        new(
            row.Id,
            row.State,
            row.Step,
            row.Done,
            row.Total,
            (row.BeatAt - row.StepAt).TotalSeconds,
            row.Who,
            row.At,
            row.StopAsked,
            row.Problem,
            row.Recipe,
            row.Transaction is null,
            [.. files.Select(ImportFile.Of)]
        );
}

/// <summary>An import into new tables, with all that is known of it.</summary>
/// <param name="Status">How it stands.</param>
/// <param name="Settings">How its files are brought in; null before they were looked at.</param>
/// <param name="Tables">What was found in them; empty before.</param>
/// <param name="Result">What it did; null before.</param>
public sealed record TableImportDto(
    ImportStatus Status,
    ImportSettings? Settings,
    IReadOnlyList<LookedTable> Tables,
    IReadOnlyList<ImportedTable>? Result
)
{
    internal static TableImportDto Of(ImportRow row, IReadOnlyList<ImportFileRow> files) =>
        new(
            ImportStatus.Of(row, files),
            Read<ImportSettings>(row.Settings),
            Read<List<LookedTable>>(row.Look) ?? [],
            row.State is ImportState.Done ? Read<List<ImportedTable>>(row.Result) : null
        );

    internal static T? Read<T>(string? content)
        where T : class => content is null ? null : JsonSerializer.Deserialize<T>(content, DefinitionJson.Kept);
}

/// <summary>How files are to be read.</summary>
/// <param name="Delimiter">What parts the values of delimited text; null or empty for finding it out.</param>
/// <param name="Encoding">The encoding; null or empty for finding it out.</param>
/// <param name="HasHead">Whether the first row names the columns; null for finding it out.</param>
/// <param name="Schema">The schema of new tables; null for the first one of the source.</param>
public sealed record LookRequest(string? Delimiter = null, string? Encoding = null, bool? HasHead = null, string? Schema = null)
{
    internal ImportSettings ToSettings() =>
        new()
        {
            Delimiter = string.IsNullOrEmpty(Delimiter) ? null : Delimiter,
            Encoding = string.IsNullOrEmpty(Encoding) ? null : Encoding,
            HasHead = HasHead,
        };
}

/// <summary>A form in which texts can be read.</summary>
/// <param name="Type">The type.</param>
/// <param name="Pattern">How they are written; null where the type says it.</param>
/// <param name="Reading">The same in words; empty for as they stand.</param>
public sealed record FormChoice(string Type, string? Pattern, string Reading);

/// <summary>What an import may read, and how.</summary>
/// <param name="Folder">The server's folder; null for none.</param>
/// <param name="Files">The files in it.</param>
/// <param name="Forms">The forms in which texts can be read.</param>
/// <param name="MostBytes">The greatest size of a file that is sent.</param>
public sealed record ImportMeans(
    string? Folder,
    IReadOnlyList<FolderFile> Files,
    IReadOnlyList<FormChoice> Forms,
    long MostBytes
);

/// <summary>Files of the server's folder.</summary>
/// <param name="Paths">Where they lie below it.</param>
public sealed record FolderFilesRequest(IReadOnlyList<string> Paths);
