using System.Security.Cryptography;
using System.Text;
using System.Text.Json.Serialization;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Imports;

/// <summary>What becomes of a row of a file.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<RowFate>))]
public enum RowFate
{
    /// <summary>A record is added.</summary>
    New,

    /// <summary>A record is changed.</summary>
    Changed,

    /// <summary>The record is as the row says already.</summary>
    Same,

    /// <summary>It is left out.</summary>
    Rejected,
}

/// <summary>A record that a row may be about, as it is stored.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Version">Its version; null where its table tells none.</param>
/// <param name="Values">Its values.</param>
/// <param name="IsSetAside">Whether it is set aside, where its row stays in the table.</param>
public sealed record PresentRecord(
    string Key,
    uint? Version,
    IReadOnlyDictionary<string, string?> Values,
    bool IsSetAside = false
);

/// <summary>A row with what becomes of it.</summary>
/// <param name="Row">The row.</param>
/// <param name="Fate">What becomes of it.</param>
/// <param name="Present">The record that it is about; null for none.</param>
/// <param name="Values">The values that are written: of a changed record those that change.</param>
/// <param name="Reason">Why it is left out; null where it is not.</param>
public sealed record PlannedRow(
    ReadRow Row,
    RowFate Fate,
    PresentRecord? Present,
    IReadOnlyDictionary<string, string?> Values,
    FieldProblem? Reason
);

/// <summary>How often an import changes a column, with examples.</summary>
/// <param name="Column">The column.</param>
/// <param name="Label">What people call it.</param>
/// <param name="Count">In how many records.</param>
/// <param name="Examples">Some of the changes, as people read the values.</param>
public sealed record ColumnChanges(string Column, string Label, long Count, IReadOnlyList<ChangeExample> Examples);

/// <summary>A change of a value.</summary>
/// <param name="Row">The number of the row in the file.</param>
/// <param name="Record">How the record is called.</param>
/// <param name="From">The value before; null for none.</param>
/// <param name="To">The value after; null for none.</param>
public sealed record ChangeExample(long Row, string Record, string? From, string? To);

/// <summary>A text in a lookup's column that nothing is called.</summary>
/// <param name="Column">The lookup.</param>
/// <param name="Label">What people call it.</param>
/// <param name="Text">The text.</param>
/// <param name="Rows">In how many rows it stands.</param>
public sealed record MissingTarget(string Column, string Label, string Text, long Rows);

/// <summary>What an import would do to the records of a panel.</summary>
/// <param name="Rows">How many rows the file has.</param>
/// <param name="New">How many records are added.</param>
/// <param name="Changed">How many are changed.</param>
/// <param name="Same">How many are as the file says already.</param>
/// <param name="SetAside">How many are set aside.</param>
/// <param name="AlongWith">How many others go along with those.</param>
/// <param name="Columns">What changes, column by column.</param>
/// <param name="Missing">What is missing among the records referred to.</param>
/// <param name="Rejected">The rows that are left out.</param>
/// <param name="FileColumns">What the file calls its columns.</param>
/// <param name="Fingerprint">Tells this plan from another one.</param>
public sealed record PanelPlan(
    long Rows,
    long New,
    long Changed,
    long Same,
    long SetAside,
    long AlongWith,
    IReadOnlyList<ColumnChanges> Columns,
    IReadOnlyList<MissingTarget> Missing,
    IReadOnlyList<RejectedRow> Rejected,
    IReadOnlyList<string> FileColumns,
    string Fingerprint
)
{
    private const int MostExamples = 5;

    /// <summary>Why it cannot be done at all; null where it can.</summary>
    public string? Forbidden { get; init; }

    /// <summary>Decides what becomes of each row.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="rows">The rows, read.</param>
    /// <param name="settings">What is to be done.</param>
    /// <param name="present">The records that there are, by the values of <see cref="PanelImportSettings.Key"/> as
    /// <see cref="KeyOf"/> writes them.</param>
    /// <param name="titles">By lookup, what the records are called that present ones refer to.</param>
    /// <param name="assigned">Columns of a new record that the server numbers.</param>
    public static IReadOnlyList<PlannedRow> Decide(
        BoundPanel panel,
        IEnumerable<ReadRow> rows,
        PanelImportSettings settings,
        ILookup<string, PresentRecord> present,
        IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>> titles,
        IReadOnlySet<string> assigned
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(settings);
        ArgumentNullException.ThrowIfNull(present);
        ArgumentNullException.ThrowIfNull(titles);
        var seen = new Dictionary<string, long>();
        return [.. rows.Select(row => Decide(panel, row, settings, present, titles, assigned, seen))];
    }

    private static PlannedRow Decide(
        BoundPanel panel,
        ReadRow row,
        PanelImportSettings settings,
        ILookup<string, PresentRecord> present,
        IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>> titles,
        IReadOnlySet<string> assigned,
        Dictionary<string, long> seen
    )
    {
        if (row.Problems is [var problem, ..])
            return Rejected(problem);
        if (!settings.FindsRecords)
            return New();
        // What the database gives out itself is empty in the row of a new record.
        var isGivenOut = settings.Key.Any(column => panel.FindToWrite(column) is { IsWritable: false });
        if (settings.Key.FirstOrDefault(column => row.Values.GetValueOrDefault(column) is null) is { } empty)
            return isGivenOut && settings.Mode is not PanelImportMode.Update
                ? New()
                : Rejected(new(empty, "It is empty, and records are found by it. Fill it in."));
        var key = KeyOf(settings, row.Values);
        if (!seen.TryAdd(key, row.Number))
            return Rejected(new(settings.Key[0], $"Row {seen[key]} has the same. Leave one of the two out."));
        return present[key].ToList() switch
        {
            [] when settings.Mode is PanelImportMode.Update => Rejected(
                new(settings.Key[0], "There is no such record. Add it, or leave the row out.")
            ),
            [] when isGivenOut => Rejected(
                new(
                    settings.Key[0],
                    "There is no such record, and the database gives new ones their number itself. Leave it empty to add one."
                )
            ),
            [] => New(),
            [{ IsSetAside: true }] => Rejected(
                new(settings.Key[0], "This record is set aside. Bring it back first, or leave the row out.")
            ),
            [var one] => Found(one),
            var several => Rejected(
                new(
                    settings.Key[0],
                    $"{several.Count} records have it, so none of them is meant. Find records by another column."
                )
            ),
        };

        PlannedRow New()
        {
            if (row.Unfound.Count > 0)
                return Unfound(row.Unfound.First());
            var given = row.Given.Where(pair => panel.FindToWrite(pair.Key) is { IsWritable: true }).ToDictionary();
            var input = Records.RecordInput.Check(panel, given, isNew: true, assigned);
            return input.Problems is [var missing, ..]
                ? Rejected(missing)
                : new PlannedRow(row, RowFate.New, null, input.Values, null);
        }

        PlannedRow Unfound(KeyValuePair<string, UnfoundTarget> one) => Rejected(new(one.Key, one.Value.Problem));

        PlannedRow Found(PresentRecord record)
        {
            foreach (var one in row.Unfound)
                // Of several that are called so, or of one that cannot be chosen any more, it is the one that it refers to already.
                if (TitleOf(one.Key, record) is not { } title || Plain(title) != Plain(one.Value.Text))
                    return Unfound(one);
            var changes = row
                .Values.Where(pair =>
                    panel.FindToWrite(pair.Key) is { IsWritable: true } column
                    // What refers to nothing is called nothing.
                    && !(pair.Value is null && titles.ContainsKey(pair.Key) && TitleOf(pair.Key, record) is null)
                    && !ValueText.AreSame(column.Schema.Type, record.Values.GetValueOrDefault(pair.Key), pair.Value)
                )
                .ToDictionary();
            return new PlannedRow(row, changes.Count == 0 ? RowFate.Same : RowFate.Changed, record, changes, null);
        }

        string? TitleOf(string column, PresentRecord record) =>
            record.Values.GetValueOrDefault(column) is { } stored
                ? titles.GetValueOrDefault(column)?.GetValueOrDefault(stored)
                : null;

        PlannedRow Rejected(FieldProblem reason) => new(row, RowFate.Rejected, null, new Dictionary<string, string?>(), reason);
    }

    /// <summary>A title as it is compared: blanks and capitals do not count, as people write names.</summary>
    public static string Plain(string title)
    {
        ArgumentNullException.ThrowIfNull(title);
        return string.Join(' ', title.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).ToUpperInvariant();
    }

    /// <summary>What tells a record from others by the columns by which records are found.</summary>
    public static string KeyOf(PanelImportSettings settings, IReadOnlyDictionary<string, string?> values)
    {
        ArgumentNullException.ThrowIfNull(settings);
        ArgumentNullException.ThrowIfNull(values);
        return Records.RecordKey.Write([.. settings.Key.Select(column => values.GetValueOrDefault(column) ?? "")]);
    }

    /// <summary>What is told of planned rows.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="rows">The rows.</param>
    /// <param name="columns">What the file calls its columns.</param>
    /// <param name="leaving">The keys of the records that are set aside.</param>
    /// <param name="alongWith">How many others go along with them.</param>
    /// <param name="notation">How people of this porch write dates and numbers.</param>
    public static PanelPlan Of(
        BoundPanel panel,
        IReadOnlyList<PlannedRow> rows,
        IReadOnlyList<string> columns,
        IReadOnlyCollection<string> leaving,
        long alongWith,
        Notation notation
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(leaving);
        var changed = rows.Where(row => row.Fate is RowFate.Changed).ToList();
        return new PanelPlan(
            rows.Count,
            rows.Count(row => row.Fate is RowFate.New),
            changed.Count,
            rows.Count(row => row.Fate is RowFate.Same),
            leaving.Count,
            alongWith,
            [
                .. from change in changed.SelectMany(row => row.Values.Keys.Select(column => (Row: row, Column: column)))
                group change.Row by change.Column into alike
                let column = panel.FindToWrite(alike.Key)!
                orderby alike.Count() descending
                select new ColumnChanges(
                    column.Name,
                    column.Label,
                    alike.Count(),
                    [.. alike.Take(MostExamples).Select(row => ExampleOf(panel, column, row, notation))]
                ),
            ],
            [
                .. from row in rows
                where row.Fate is RowFate.Rejected
                from one in row.Row.Unfound
                where one.Value.IsMissing
                group row by (one.Key, one.Value.Text) into alike
                orderby alike.Count() descending
                select new MissingTarget(alike.Key.Key, panel.FindToWrite(alike.Key.Key)!.Label, alike.Key.Text, alike.Count()),
            ],
            RejectedRow.Kept(
                rows.Where(row => row.Reason is not null)
                    .Select(row => new RejectedRow(
                        row.Row.Number,
                        panel.FindToWrite(row.Reason!.Field)?.Label ?? (row.Reason.Field.Length == 0 ? null : row.Reason.Field),
                        row.Reason.Message
                    )
                    {
                        Values = row.Row.Raw,
                    })
            ),
            columns,
            FingerprintOf(rows, leaving)
        );
    }

    private static ChangeExample ExampleOf(BoundPanel panel, BoundColumn column, PlannedRow row, Notation notation)
    {
        var isKept = column.Decision.IsSensitive || column.Decision.IsSecret;
        return new ChangeExample(
            row.Row.Number,
            panel.Title.Render(
                name => panel.Find(name)?.Show(row.Present!.Values.GetValueOrDefault(name), notation),
                row.Present!.Key
            ),
            isKept ? null : column.Show(row.Present.Values.GetValueOrDefault(column.Name), notation),
            isKept ? null : column.Show(row.Values[column.Name], notation)
        );
    }

    // Whoever agreed to it agreed to this and nothing else.
    private static string FingerprintOf(IReadOnlyList<PlannedRow> rows, IReadOnlyCollection<string> leaving)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (var row in rows.Where(row => row.Fate is RowFate.New or RowFate.Changed))
        {
            Add($"{row.Row.Number} {row.Fate} {row.Present?.Key}");
            foreach (var (column, value) in row.Values.OrderBy(pair => pair.Key, StringComparer.Ordinal))
                Add($"{column}={row.Present?.Values.GetValueOrDefault(column)}→{value}");
        }

        foreach (var key in leaving.Order(StringComparer.Ordinal))
            Add($"- {key}");
        return Convert.ToHexString(hash.GetHashAndReset());

        void Add(string line) => hash.AppendData(Encoding.UTF8.GetBytes(line + "\n"));
    }
}
