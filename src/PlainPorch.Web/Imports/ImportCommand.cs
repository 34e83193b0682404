using System.CommandLine;
using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.Json;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Imports;
using PlainPorch.Data.Schema;

namespace PlainPorch.Web.Imports;

/// <summary>The verb <c>import</c>: brings files into tables, without the web and without a catalog.</summary>
internal static class ImportCommand
{
    private const int Rejected = 1;
    private const int WrongUse = 2;

    private static readonly JsonSerializerOptions _json = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static Task<int> RunAsync(IReadOnlyList<string> arguments)
    {
        var files = new Argument<string[]>("FILE")
        {
            Description = "Files, or folders of them.",
            Arity = ArgumentArity.OneOrMore,
        };
        var into = new Option<string>("--into")
        {
            Description = "The database: a postgresql:// URL, or names and values.",
            Required = true,
        };
        var schema = new Option<string?>("--schema") { Description = "The schema; public unless given." };
        var table = new Option<string?>("--table") { Description = "The table; the file's name unless given." };
        var mode = new Option<string?>("--mode")
        {
            Description =
                "new makes a table, add adds all rows, replace removes the table's first, update changes those with a key of the file, upsert adds the others, too, and mirror removes those that the file does not have.",
        };
        mode.AcceptOnlyFromAmong("new", "add", "replace", "update", "upsert", "mirror");
        var key = new Option<string?>("--key") { Description = "Columns that tell rows apart, parted by commas." };
        var delimiter = new Option<string?>("--delimiter")
        {
            Description = "What parts values: a character, tab, or fixed for columns at the same places of each line.",
        };
        var encoding = new Option<string?>("--encoding") { Description = "Such as utf-8, windows-1252 or cp850." };
        var recipe = new Option<string?>("--recipe")
        {
            Description = "A file with settings, as a panel's recipes give it; what is said here as well counts instead.",
        };
        var noHead = new Option<bool>("--no-head") { Description = "The first row has values, and no names." };
        var whole = new Option<bool>("--all-or-nothing") { Description = "Writes nothing where one row is rejected." };
        var dryRun = new Option<bool>("--dry-run") { Description = "Tells what would be done, and does nothing." };
        var json = new Option<bool>("--json") { Description = "Prints JSON." };
        var command = new RootCommand("Brings files into tables: all of them in one transaction.")
        {
            files,
            into,
            schema,
            table,
            mode,
            key,
            recipe,
            delimiter,
            encoding,
            noHead,
            whole,
            dryRun,
            json,
        };
        command.SetAction(
            (parsed, cancellationToken) =>
                ImportAsync(
                    new Given(
                        parsed.GetValue(files)!,
                        parsed.GetValue(into)!,
                        parsed.GetValue(schema),
                        parsed.GetValue(table),
                        parsed.GetValue(mode),
                        parsed.GetValue(key)?.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries),
                        parsed.GetValue(recipe),
                        parsed.GetValue(delimiter),
                        parsed.GetValue(encoding),
                        parsed.GetValue(noHead) ? false : null,
                        parsed.GetValue(whole),
                        parsed.GetValue(dryRun),
                        parsed.GetValue(json)
                    ),
                    cancellationToken
                )
        );
        var result = command.Parse(arguments);
        return result.Errors.Count > 0 ? FailAsync(result.Errors[0].Message) : result.InvokeAsync();
    }

    // What the command line says, before a recipe fills in what it does not.
    private sealed record Given(
        IReadOnlyList<string> Files,
        string Into,
        string? Schema,
        string? Table,
        string? Mode,
        IReadOnlyList<string>? Key,
        string? Recipe,
        string? Delimiter,
        string? Encoding,
        bool? HasHead,
        bool IsWhole,
        bool IsTrial,
        bool AsJson
    )
    {
        public Wanted With(RecipeFile recipe) =>
            new(
                Files,
                Into,
                Schema ?? recipe.Schema ?? "public",
                Table ?? recipe.Table,
                Enum.TryParse<ImportMode>(Mode ?? recipe.Mode ?? "new", ignoreCase: true, out var mode)
                    ? mode
                    : throw new UnreadableFileException(
                        $"The recipe’s mode {recipe.Mode} is none. Use new, add, replace, update, upsert or mirror."
                    ),
                Key ?? recipe.Key,
                Delimiter ?? recipe.Delimiter,
                Encoding ?? recipe.Encoding,
                HasHead ?? recipe.HasHead,
                IsWhole || recipe.IsWhole,
                IsTrial,
                AsJson,
                recipe.Columns
            );
    }

    private sealed record Wanted(
        IReadOnlyList<string> Files,
        string Into,
        string Schema,
        string? Table,
        ImportMode Mode,
        IReadOnlyList<string> Key,
        string? Delimiter,
        string? Encoding,
        bool? HasHead,
        bool IsWhole,
        bool IsTrial,
        bool AsJson,
        IReadOnlyList<FieldMatch> Columns
    );

    private static async Task<int> ImportAsync(Given given, CancellationToken cancellationToken)
    {
        Wanted wanted;
        try
        {
            wanted = given.With(given.Recipe is null ? new RecipeFile() : await ReadRecipeAsync(given.Recipe, cancellationToken));
        }
        catch (Exception failure)
            when (failure is JsonException or IOException or UnauthorizedAccessException or UnreadableFileException)
        {
            return await FailAsync(
                failure is UnreadableFileException
                    ? failure.Message
                    : $"The recipe {given.Recipe} cannot be read: {failure.Message}"
            );
        }

        if (!ConnectionText.TryRead(wanted.Into, out var settings, out var problem))
            return await FailAsync(problem!);
        if (wanted.Encoding is { } named && FileEncodings.Find(named) is null)
            return await FailAsync($"There is no encoding {named}. Write it like utf-8, windows-1252 or cp850.");
        if (wanted.Delimiter is { Length: > 1 } and not ("tab" or "\\t" or "fixed"))
            return await FailAsync($"A delimiter is one character, and {wanted.Delimiter} is several. Write one, or tab.");
        try
        {
            var files = FilesOf(wanted.Files);
            var tables = FilesToRead.TablesOf(files, SettingsOf(wanted)).Select(one => one.Table).ToList();
            if (wanted.Table is not null && tables.Count > 1)
                return await FailAsync(
                    $"--table names one table, and the files have {tables.Count}: {string.Join(", ", tables.Select(table => table.Name))}. Import them one by one."
                );
            await using var source = SourceConnection.Create(settings, isReadOnly: false, pooling: false, seconds: 0);
            await using var connection = await source.OpenConnectionAsync(cancellationToken);
            await using var transaction = await connection.BeginTransactionAsync(cancellationToken);
            var imported =
                wanted.Mode is ImportMode.New
                    ? await MakeAsync(connection, tables, wanted, cancellationToken)
                    : await WriteAsync(connection, source, tables, wanted, cancellationToken);
            var rejected = imported.Sum(table => table.Rejected.Count);
            var isWritten = !wanted.IsTrial && (rejected == 0 || !wanted.IsWhole);
            if (isWritten)
                await transaction.CommitAsync(cancellationToken);
            else
                await transaction.RollbackAsync(cancellationToken);
            Console.WriteLine(
                wanted.AsJson
                    ? JsonSerializer.Serialize(new { tables = imported.Select(WithoutValues) }, _json)
                    : Describe(imported, isWritten)
            );
            return rejected > 0 ? Rejected : 0;
        }
        catch (Exception failure)
            when (failure
                    is UnreadableFileException
                        or ImportRefusedException
                        or ArgumentException
                        or NpgsqlException
                        or IOException
                        or UnauthorizedAccessException
            )
        {
            var why = failure is PostgresException refused ? $"{refused.MessageText}." : failure.Message;
            return await FailAsync($"{why} Nothing was written.");
        }
    }

    private static async Task<RecipeFile> ReadRecipeAsync(string path, CancellationToken cancellationToken)
    {
        await using var file = File.OpenRead(path);
        return await JsonSerializer.DeserializeAsync<RecipeFile>(file, DefinitionJson.Kept, cancellationToken)
            ?? new RecipeFile();
    }

    // Where the columns of a file go as a recipe says; null where there is none, or it says nothing of them.
    private static IReadOnlyList<FieldMatch>? Fitted(Wanted wanted, FileTable table) =>
        wanted.Columns.Count == 0
            ? null
            : RecipeShape.Fit(wanted.Columns, [.. table.Columns.Select(column => column.Name)], out var changed)
                ?? throw new ImportRefusedException(changed!);

    // Whoever calls it has the file.
    private static ImportedTable WithoutValues(ImportedTable table) =>
        table with
        {
            FileColumns = null,
            Rejected = [.. table.Rejected.Select(row => row with { Values = null })],
        };

    private static async Task<IReadOnlyList<ImportedTable>> MakeAsync(
        NpgsqlConnection connection,
        IReadOnlyList<FileTable> tables,
        Wanted wanted,
        CancellationToken cancellationToken
    )
    {
        var planned = PlannedSet.Make(
            wanted.Schema,
            [.. tables.Select(table => Taken(wanted, table, LookAt(table, cancellationToken).Guess()))],
            wanted.Table,
            wanted.Key
        );
        var made = new List<ImportedTable>();
        foreach (var (table, plan) in tables.Zip(planned))
            made.Add(
                await new NewTable(connection).MakeAsync(
                    table,
                    plan,
                    written => Tell($"{table.Name}: {written:N0} rows written"),
                    cancellationToken
                )
            );
        var references = await new NewReferences(connection).KeepAsync([.. tables.Zip(planned)], cancellationToken);
        return [.. made.Zip(references, (table, notes) => table with { Notes = [.. table.Notes, .. notes] })];
    }

    private static async Task<IReadOnlyList<ImportedTable>> WriteAsync(
        NpgsqlConnection connection,
        NpgsqlDataSource source,
        IReadOnlyList<FileTable> tables,
        Wanted wanted,
        CancellationToken cancellationToken
    )
    {
        var snapshot = await new SnapshotReader(TimeProvider.System).ReadAsync(source, [wanted.Schema], cancellationToken);
        var written = new List<ImportedTable>();
        foreach (var table in tables)
        {
            var name = wanted.Table ?? PlannedTable.Tidy(table.Name, "imported");
            var known = snapshot.Find(new TableName(wanted.Schema, name))
                ?? throw new ImportRefusedException(
                    $"There is no table {wanted.Schema}.{name}. Choose one by --schema and --table, or --mode new to make it."
                );
            written.Add(
                await new KnownTable(connection, known).WriteAsync(
                    table,
                    LookAt(table, cancellationToken).Guess(),
                    wanted.Mode,
                    wanted.Key,
                    read => Tell($"{table.Name}: {read:N0} rows read"),
                    cancellationToken,
                    Fitted(wanted, table)
                )
            );
        }

        return written;
    }

    // A new table's columns as a recipe names and reads them.
    private static (FileTable, IReadOnlyList<ColumnGuess>) Taken(
        Wanted wanted,
        FileTable table,
        IReadOnlyList<ColumnGuess> guesses
    ) =>
        Fitted(wanted, table) is { } columns
            ? (
                table,
                [
                    .. guesses.Zip(columns, (guess, column) =>
                        guess with
                        {
                            Name = column.Column ?? guess.Name,
                            Form = ValueForm.Find(column.Type, column.Pattern) ?? guess.Form,
                        }
                    ),
                ]
            )
            : (table, guesses);

    private static ColumnGuesses LookAt(FileTable table, CancellationToken cancellationToken)
    {
        var told = 0L;
        return ColumnGuesses.Of(
            table,
            rows =>
            {
                if (rows < told + 100_000)
                    return;
                told = rows;
                Tell($"{table.Name}: {rows:N0} rows looked at");
            },
            cancellationToken
        );
    }

    private static DelimitedSettings SettingsOf(Wanted wanted) =>
        new()
        {
            Encoding = wanted.Encoding is { } encoding ? FileEncodings.Find(encoding) : null,
            Delimiter = wanted.Delimiter switch
            {
                null or "" or "fixed" => null,
                "tab" or "\\t" => '\t',
                var other => other[0],
            },
            IsFixedWidth = wanted.Delimiter == "fixed" ? true : null,
            HasHead = wanted.HasHead,
        };

    private static List<string> FilesOf(IReadOnlyList<string> named) =>
        [
            .. named.SelectMany(
                IEnumerable<string> (name) =>
                    Directory.Exists(name) ? Directory.EnumerateFiles(name).Where(FileTables.IsRead).Order(StringComparer.Ordinal)
                    : File.Exists(name) ? [name]
                    : throw new UnreadableFileException($"There is no file {name}.")
            ),
        ];

    private static string Describe(IReadOnlyList<ImportedTable> tables, bool isWritten)
    {
        var lines = new List<string>();
        foreach (var table in tables)
        {
            lines.Add(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{table.Schema}.{table.Name}: {table.Rows:N0} rows, {table.New:N0} new, {table.Changed:N0} changed, {table.Same:N0} the same, {table.Rejected.Count:N0} rejected{(table.Removed > 0 ? $", {table.Removed:N0} removed" : "")}"
                )
            );
            lines.AddRange(table.Notes.Select(note => $"  {note}"));
            lines.AddRange(
                table.Columns.Select(column =>
                    $"  {column.Name}: {column.Type}{(column.Reading.Length > 0 ? $" ({column.Reading})" : "")}"
                    + (column.Doubtful > 0 ? $"; {column.Doubtful} values would be others if read as {column.Otherwise}" : "")
                    + (column.Nearly is { } nearly ? $"; {nearly}" : "")
                )
            );
            lines.AddRange(
                table
                    .Rejected.Take(20)
                    .Select(row => $"  row {row.Row}{(row.Column is { } column ? $", {column}" : "")}: {row.Reason}")
            );
            if (table.Rejected.Count > 20)
                lines.Add($"  and {table.Rejected.Count - 20} more; --json tells all");
        }

        if (!isWritten)
            lines.Add("Nothing was written.");
        return string.Join('\n', lines);
    }

    private static void Tell(FormattableString line) => Console.Error.WriteLine(line.ToString(CultureInfo.InvariantCulture));

    private static async Task<int> FailAsync(string message)
    {
        await Console.Error.WriteLineAsync($"porch import: {message}");
        return WrongUse;
    }
}
