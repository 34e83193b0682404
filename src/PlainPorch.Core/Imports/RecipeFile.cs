namespace PlainPorch.Core.Imports;

/// <summary>A recipe as a file, by which the command line brings files into a table.</summary>
public sealed record RecipeFile
{
    /// <summary>The schema of the table; null for the one that the command says.</summary>
    public string? Schema { get; init; }

    /// <summary>The table; null for the one that the command says, or the file's name.</summary>
    public string? Table { get; init; }

    /// <summary>What is done with the table; null for what the command says.</summary>
    public string? Mode { get; init; }

    /// <summary>The columns by which rows are found.</summary>
    public IReadOnlyList<string> Key { get; init; } = [];

    /// <summary>What parts the values of delimited text; null for finding it out.</summary>
    public string? Delimiter { get; init; }

    /// <summary>The encoding; null for finding it out.</summary>
    public string? Encoding { get; init; }

    /// <summary>Whether the first row names the columns; null for finding it out.</summary>
    public bool? HasHead { get; init; }

    /// <summary>Whether nothing is written where one row is rejected.</summary>
    public bool IsWhole { get; init; }

    /// <summary>Where the file's columns go; empty for finding it out. A file with other columns is refused.</summary>
    public IReadOnlyList<FieldMatch> Columns { get; init; } = [];

    /// <summary>A panel's recipe as one for its table.</summary>
    public static RecipeFile Of(PanelImportSettings settings, string schema, string table)
    {
        ArgumentNullException.ThrowIfNull(settings);
        return new RecipeFile
        {
            Schema = schema,
            Table = table,
            Mode = settings.Mode.ToString().ToLowerInvariant(),
            Key = settings.Key,
            Delimiter = settings.Reading.Delimiter,
            Encoding = settings.Reading.Encoding,
            HasHead = settings.Reading.HasHead,
            IsWhole = settings.IsWhole,
            Columns = [.. settings.Columns.Select(column => column with { Because = null })],
        };
    }
}
