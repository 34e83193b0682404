using System.Globalization;
using System.Text;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Imports;

/// <summary>A column of a table that is to be made.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Place">Which column of the file it comes from, from 0.</param>
/// <param name="Guess">What it was guessed to be.</param>
public sealed record PlannedColumn(string Name, int Place, ColumnGuess Guess)
{
    /// <summary>How its texts are read.</summary>
    public ValueForm Form => Guess.Form;
}

/// <summary>A table that is to be made of one in a file.</summary>
/// <param name="Schema">The schema.</param>
/// <param name="Name">Its name.</param>
/// <param name="Columns">Its columns.</param>
/// <param name="Key">The columns of the file that tell its rows apart; empty where a number is to be given out.</param>
/// <param name="Identity">The name of the column with numbers that are given out; null where columns of the file tell rows apart.</param>
public sealed record PlannedTable(
    string Schema,
    string Name,
    IReadOnlyList<PlannedColumn> Columns,
    IReadOnlyList<string> Key,
    string? Identity
)
{
    /// <summary>The columns over which it gets an index.</summary>
    public IReadOnlyList<string> Indexes { get; init; } = [];

    /// <summary>Where its rows refer to.</summary>
    public IReadOnlyList<ReferenceSettings> References { get; init; } = [];

    // PostgreSQL manual, 4.1.1: longer names are cut without a word.
    private const int MostBytes = 63;

    private static readonly string[] _keyEnds = ["id", "no", "nr", "cd", "key", "code", "num", "number", "nummer"];

    /// <summary>Plans a table.</summary>
    /// <param name="schema">The schema.</param>
    /// <param name="name">Its name.</param>
    /// <param name="guesses">What its columns are.</param>
    /// <param name="key">The columns that are to tell rows apart, by their names in the file or in the table; empty for what was guessed.</param>
    /// <exception cref="ArgumentException">There is no such column, or it cannot be a key; the message says why.</exception>
    public static PlannedTable Make(
        string schema,
        string name,
        IReadOnlyList<ColumnGuess> guesses,
        IReadOnlyList<string>? key = null
    )
    {
        ArgumentNullException.ThrowIfNull(guesses);
        var taken = new HashSet<string>(StringComparer.Ordinal);
        var columns = guesses
            .Select((guess, place) => new PlannedColumn(Unique(Tidy(guess.Name, $"column_{place + 1}"), taken), place, guess))
            .ToList();
        List<PlannedColumn> chosen =
            key is { Count: > 0 } ? [.. key.Select(one => Named(columns, one, isAlone: key.Count == 1))]
            : Guessed(columns) is { } guessed ? [guessed]
            : [];
        return new PlannedTable(
            schema,
            name,
            columns,
            [.. chosen.Select(column => column.Name)],
            chosen.Count == 0 ? Unique("id", taken) : null
        );
    }

    /// <summary>Plans a table as its settings say.</summary>
    /// <param name="settings">The settings.</param>
    /// <param name="table">What was found out about it.</param>
    /// <param name="problems">Gets what is wrong with the settings: the field, and a sentence.</param>
    public static PlannedTable Make(TableSettings settings, LookedTable table, ICollection<FieldProblem> problems)
    {
        ArgumentNullException.ThrowIfNull(settings);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(problems);
        if (NameProblem(settings.Name) is { } wrong)
            problems.Add(new("name", wrong));
        var taken = new HashSet<string>(StringComparer.Ordinal);
        var columns = new List<PlannedColumn>();
        for (var place = 0; place < table.Columns.Count; place++)
        {
            var looked = table.Columns[place];
            if (settings.Of(place, looked.Name) is not { IsLeftOut: false } column)
                continue;
            if (NameProblem(column.Name) is { } named)
                problems.Add(new($"columns.{place}.name", named));
            else if (!taken.Add(column.Name))
                problems.Add(new($"columns.{place}.name", $"Two columns are called {column.Name}. Give one another name."));
            if (column.Form is not { } form)
                problems.Add(
                    new($"columns.{place}.type", $"{column.Type} {column.Pattern} cannot be read. Choose another type.")
                );
            else
                columns.Add(new PlannedColumn(column.Name, place, looked.ToGuess(form)));
        }

        if (columns.Count == 0)
            problems.Add(new("columns", "All columns are left out. Take at least one."));
        foreach (var key in settings.Key.Where(key => columns.TrueForAll(column => column.Name != key)))
            problems.Add(new("key", $"There is no column {key}. Choose the key again."));
        foreach (var column in columns.Where(column => settings.Key.Contains(column.Name)))
        {
            if (column.Guess.Empty > 0)
                problems.Add(
                    new(
                        "key",
                        $"{column.Name} is empty in {column.Guess.Empty} rows, and so tells them not apart. Choose another key."
                    )
                );
            else if (settings.Key.Count == 1 && column.Guess.IsUnique == false)
                problems.Add(new("key", $"Several rows have the same {column.Name}. Choose another key."));
        }

        var indexed = settings.Columns.Where(column => column.HasIndex).Select(column => column.Name).ToHashSet();
        return new PlannedTable(
            settings.Schema,
            settings.Name,
            columns,
            settings.Key,
            settings.Key.Count == 0 ? Unique("id", taken) : null
        )
        {
            Indexes = [.. columns.Select(column => column.Name).Where(indexed.Contains)],
            References = [.. settings.References.Where(reference => !reference.IsLeftOut)],
        };
    }

    private static string? NameProblem(string name) =>
        string.IsNullOrWhiteSpace(name) ? "The name is missing. Type one."
        : name.Contains('\0', StringComparison.Ordinal) ? "A name cannot have a null character. Type another one."
        : Encoding.UTF8.GetByteCount(name) > MostBytes
            ? $"“{name}” is longer than {MostBytes} bytes, which no name can be. Shorten it."
        : null;

    /// <summary>A name that needs no quotes in SQL: small letters, digits and low lines, as long as PostgreSQL keeps.</summary>
    /// <param name="name">Any name.</param>
    /// <param name="otherwise">What it is called where nothing of the name is left.</param>
    public static string Tidy(string name, string otherwise)
    {
        ArgumentNullException.ThrowIfNull(name);
        var tidy = new StringBuilder();
        var isOpen = false;
        foreach (
            var rune in name.Replace("ß", "ss", StringComparison.Ordinal).Normalize(NormalizationForm.FormD).EnumerateRunes()
        )
        {
            // Accents are parted from their letters.
            if (Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark)
                continue;
            if (!Rune.IsLetterOrDigit(rune))
            {
                isOpen = tidy.Length > 0;
                continue;
            }

            if (isOpen)
                tidy.Append('_');
            isOpen = false;
            tidy.Append(Rune.ToLowerInvariant(rune).ToString());
        }

        var made = Cut(tidy.ToString().Normalize(NormalizationForm.FormC), MostBytes);
        return made.Length == 0 ? otherwise
            : char.IsAsciiDigit(made[0]) ? Cut($"n_{made}", MostBytes)
            : made;
    }

    internal static string Unique(string name, HashSet<string> taken)
    {
        var unique = name;
        for (var number = 2; !taken.Add(unique); number++)
        {
            var end = string.Create(CultureInfo.InvariantCulture, $"_{number}");
            unique = Cut(name, MostBytes - end.Length) + end;
        }

        return unique;
    }

    /// <summary>As much of a name as PostgreSQL keeps.</summary>
    public static string Cut(string name) => Cut(name, MostBytes);

    private static string Cut(string text, int mostBytes)
    {
        while (Encoding.UTF8.GetByteCount(text) > mostBytes)
            text = char.IsLowSurrogate(text[^1]) ? text[..^2] : text[..^1];
        return text;
    }

    // A key is unique, never empty, and called so, or stands first.
    private static PlannedColumn? Guessed(List<PlannedColumn> columns) =>
        columns.FirstOrDefault(column => CanBeKey(column) && _keyEnds.Any(end => EndsIn(column.Name, end)))
        ?? columns.Take(1).FirstOrDefault(column => CanBeKey(column) && column.Form is ValueForm.Whole or ValueForm.Uuid);

    private static bool CanBeKey(PlannedColumn column) =>
        column.Guess is { IsUnique: true, Empty: 0 }
        && column.Form is not (ValueForm.YesNo or ValueForm.Number or ValueForm.Bytes);

    private static bool EndsIn(string name, string end) =>
        name == end
        || name.EndsWith($"_{end}", StringComparison.Ordinal)
        || (end is "id" or "no" or "nr" && name.Length <= end.Length + 6 && name.EndsWith(end, StringComparison.Ordinal));

    private static PlannedColumn Named(List<PlannedColumn> columns, string key, bool isAlone)
    {
        var column = columns.FirstOrDefault(one => one.Name == key || one.Guess.Name == key)
            ?? throw new ArgumentException(
                $"The file has no column {key}. Its columns are: {string.Join(", ", columns.Select(one => one.Guess.Name))}."
            );
        return column.Guess.Empty > 0
                ? throw new ArgumentException(
                    $"{key} is empty in {column.Guess.Empty} rows, and so tells them not apart. Choose another key."
                )
            : isAlone && column.Guess.IsUnique == false
                ? throw new ArgumentException($"Several rows have the same value in {key}. Choose another key.")
            : column;
    }
}
