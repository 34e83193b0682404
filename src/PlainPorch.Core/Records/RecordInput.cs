using System.Collections.Frozen;
using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Records;

/// <summary>Checks what was given for a record against schema and panel, before the database is asked.</summary>
public static class RecordInput
{
    /// <summary>How many characters one value has at most that is typed or sent by itself.</summary>
    public const int MostCharacters = 3_000_000;

    /// <summary>Finds values that are longer than anybody types, before anything else is done with them.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="given">Column names with texts.</param>
    /// <returns>What is wrong with which field; nothing where nothing is.</returns>
    public static IReadOnlyList<FieldProblem> TooLong(BoundPanel panel, IReadOnlyDictionary<string, string?> given)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(given);
        return
        [
            .. from pair in given
            where pair.Value?.Length > MostCharacters
            let label = panel.FindToWrite(pair.Key)?.Label ?? pair.Key
            select new FieldProblem(
                pair.Key,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{label} has {pair.Value!.Length:N0} characters, and at most {MostCharacters:N0} are taken. Shorten it."
                )
            ),
        ];
    }

    /// <summary>Checks the values given for a new or changed record.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="given">Column names with texts; null empties the column. Columns that are left out stay as they are.</param>
    /// <param name="isNew">Whether the record is being added.</param>
    /// <param name="assigned">Columns of a new record that the server numbers where they are left out.</param>
    /// <param name="withFiles">Whether files can be given, by the numbers of uploads.</param>
    /// <returns>The values in their one form, or what is wrong with which field.</returns>
    public static CheckedInput Check(
        BoundPanel panel,
        IReadOnlyDictionary<string, string?> given,
        bool isNew,
        IReadOnlySet<string> assigned,
        bool withFiles = false
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(given);
        ArgumentNullException.ThrowIfNull(assigned);
        var problems = new List<FieldProblem>();
        var values = new Dictionary<string, string?>();
        var files = new Dictionary<string, Guid>();
        var paths = new Dictionary<string, IReadOnlyList<string>>();
        foreach (var (name, text) in given)
        {
            if (panel.FindToWrite(name) is not { } column)
                problems.Add(new(name, $"The panel has no column {name}. Leave it out."));
            else if (withFiles && column.TakesFile)
                ReadFile(column, text);
            else if (!column.IsWritable)
                problems.Add(new(name, $"{column.Label} cannot be changed here. Leave it as it is."));
            else if (Read(column, text, out var value) is { } problem)
                problems.Add(new(name, problem));
            else
                values[name] = value;
        }

        if (isNew)
        {
            // What makes a record one of those that the person sees, whether the form shows it or not.
            foreach (var (name, value) in panel.Sight.Fills.Where(fill => !given.ContainsKey(fill.Key)))
                values[name] = value;
            problems.AddRange(Missing(panel, given, assigned));
        }

        return new CheckedInput(values, problems) { Files = files, Paths = paths };

        void ReadFile(BoundColumn column, string? text)
        {
            var given = column.Files is null ? [] : column.PathsIn(text);
            if (
                (text is null || (column.Files is not null && given.Count == 0)) && (column.IsNeeded || !column.Schema.IsNullable)
            )
                problems.Add(new(column.Name, $"{column.Label} must not be empty. Choose a file."));
            else if (text is null)
                values[column.Name] = null;
            else if (given.Count > FilesInFolder.MostFiles)
                problems.Add(new(column.Name, $"At most {FilesInFolder.MostFiles} files are taken. Leave some out."));
            else if (column.Files is not null)
                paths[column.Name] = given;
            else if (Guid.TryParseExact(text, "D", out var upload))
                files[column.Name] = upload;
            else
                problems.Add(new(column.Name, "Bytes cannot be typed. Choose a file."));
        }
    }

    /// <summary>Reads what was given for one column.</summary>
    /// <param name="column">The column.</param>
    /// <param name="text">What was given; null for nothing.</param>
    /// <param name="value">What is to be stored, in the one text form.</param>
    /// <returns>What is wrong with it, with the remedy; null where nothing is.</returns>
    public static string? Read(BoundColumn column, string? text, out string? value)
    {
        ArgumentNullException.ThrowIfNull(column);
        value = null;
        if (column.Reading is { } reading)
            return Read(column, reading, text, out value);
        if (text is null)
            return column.IsNeeded || !column.Schema.IsNullable ? NeedsValue(column) : null;
        if (column.IsNeeded && string.IsNullOrWhiteSpace(text))
            return NeedsValue(column);
        if (column.IsFormatted)
            text = FormattedText.Sanitize(text);
        return ValueText.TryRead(column.Type, text, out value, out var problem) ? null : problem;
    }

    // Checked twice: as what it means, and as what is stored then.
    private static string? Read(BoundColumn column, Reading reading, string? text, out string? value)
    {
        value = null;
        var isEmpty = string.IsNullOrWhiteSpace(text);
        if (isEmpty && column.IsNeeded)
            return NeedsValue(column);
        string? read = null;
        if (!isEmpty && !ValueText.TryRead(column.Type, text!, out read, out var unread))
            return unread;
        value = reading.Write(isEmpty ? null : read, column.Schema, before: null, out var problem);
        if (problem is not null)
            return problem;
        if (value is null)
            return isEmpty && !column.Schema.IsNullable ? NeedsValue(column) : null;
        return ValueText.TryRead(column.Schema.Type, value, out value, out problem) ? null : problem;
    }

    private static IEnumerable<FieldProblem> Missing(
        BoundPanel panel,
        IReadOnlyDictionary<string, string?> given,
        IReadOnlySet<string> assigned
    ) =>
        from column in panel.Columns.Concat(panel.Secrets)
        where
            column.MustBeGiven
            && !given.ContainsKey(column.Name)
            && !assigned.Contains(column.Name)
            && !panel.Sight.Fills.ContainsKey(column.Name)
            && !(IsTakenEmpty(column) && IsOutOfSight(column, given))
        select column.IsWritable || column.TakesFile
            ? new FieldProblem(column.Name, NeedsValue(column))
            : new FieldProblem(
                "",
                $"The database requires a value for {column.Name}, but it is not in the form. Add it to the panel's form."
            );

    // Nobody can fill in what the form does not show.
    private static bool IsOutOfSight(BoundColumn column, IReadOnlyDictionary<string, string?> given) =>
        column.Decision.ShownWhen is { } when && !when.Holds(given.GetValueOrDefault(when.Column));

    private static bool IsTakenEmpty(BoundColumn column) =>
        !column.IsAssumedKey && (column.Schema.IsNullable || column.Schema.IsSuppliedByDatabase);

    private static string NeedsValue(BoundColumn column) => $"{column.Label} must not be empty. Fill it in.";
}

/// <summary>The outcome of <see cref="RecordInput.Check"/>.</summary>
/// <param name="Values">The values in their one form, for the columns that were given and are well.</param>
/// <param name="Problems">What is wrong; empty where all is well. A field name of "" means the whole record.</param>
public sealed record CheckedInput(IReadOnlyDictionary<string, string?> Values, IReadOnlyList<FieldProblem> Problems)
{
    /// <summary>Columns of bytes with the uploads that go into them.</summary>
    public IReadOnlyDictionary<string, Guid> Files { get; init; } = FrozenDictionary<string, Guid>.Empty;

    /// <summary>Columns of paths with what was given for them: paths as they are stored, and uploads (<see cref="UploadIn"/>).</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> Paths { get; init; } =
        FrozenDictionary<string, IReadOnlyList<string>>.Empty;

    /// <summary>The same with what is wrong elsewhere.</summary>
    /// <param name="others">What is wrong there.</param>
    public CheckedInput With(IEnumerable<FieldProblem> others) => this with { Problems = [.. Problems, .. others] };

    /// <summary>The upload that stands where a path is to be, as <c>upload:</c> and its number.</summary>
    /// <param name="path">What was given.</param>
    /// <returns>The upload's number; null for a path.</returns>
    public static Guid? UploadIn(string path) =>
        path is not null
        && path.StartsWith(UploadSign, StringComparison.Ordinal)
        && Guid.TryParseExact(path[UploadSign.Length..], "D", out var id)
            ? id
            : null;

    private const string UploadSign = "upload:";
}
