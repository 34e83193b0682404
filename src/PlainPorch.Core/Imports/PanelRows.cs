using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Imports;

/// <summary>What a text means in a lookup.</summary>
/// <param name="Value">The value that refers to the record; null where there is none, or more than one.</param>
/// <param name="Problem">Why there is none; null where there is one.</param>
/// <param name="IsMissing">Whether nothing is called so.</param>
public sealed record FoundTarget(string? Value, string? Problem, bool IsMissing = false);

/// <summary>A text in a lookup's column that does not say which record is meant.</summary>
/// <param name="Text">The text.</param>
/// <param name="Problem">Why it does not.</param>
/// <param name="IsMissing">Whether nothing is called so.</param>
public sealed record UnfoundTarget(string Text, string Problem, bool IsMissing);

/// <summary>A row of a file as values of a panel's record.</summary>
/// <param name="Number">Its number in the file.</param>
/// <param name="Raw">Its values as they stand in the file.</param>
/// <param name="Values">The values, as they are stored.</param>
/// <param name="Problems">What is wrong with it; empty where nothing is.</param>
public sealed record ReadRow(
    long Number,
    IReadOnlyList<string?> Raw,
    IReadOnlyDictionary<string, string?> Values,
    IReadOnlyList<FieldProblem> Problems
)
{
    /// <summary>The values as the panel's form would send them.</summary>
    public IReadOnlyDictionary<string, string?> Given { get; init; } = Values;

    /// <summary>By lookup, the texts that do not say which record is meant: right where the record refers to what is called so already.</summary>
    public IReadOnlyDictionary<string, UnfoundTarget> Unfound { get; init; } = new Dictionary<string, UnfoundTarget>();
}

/// <summary>
/// Reads rows of a file as whoever types them into the panel's form would: through the readings of its columns, lookups by title or number,
/// and the same checks.
/// </summary>
public sealed class PanelRows
{
    private static readonly HashSet<string> _none = [];

    private readonly BoundPanel _panel;
    private readonly PanelImportSettings _settings;
    private readonly IReadOnlyDictionary<string, IReadOnlyDictionary<string, FoundTarget>> _targets;
    private readonly Notation _notation;
    private readonly List<(int Place, FieldMatch Match, BoundColumn Column, ValueForm Form)> _columns;
    private readonly Dictionary<(string Column, string Text), (string? Given, string? Problem)> _known = [];
    private readonly Dictionary<string, Dictionary<string, string>> _labels = [];

    /// <summary>Prepares for reading.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="table">The file's table.</param>
    /// <param name="settings">Where its columns go; checked.</param>
    /// <param name="targets">What texts mean in lookups, by column and text.</param>
    /// <param name="notation">How people of this porch write dates and numbers.</param>
    public PanelRows(
        BoundPanel panel,
        FileTable table,
        PanelImportSettings settings,
        IReadOnlyDictionary<string, IReadOnlyDictionary<string, FoundTarget>> targets,
        Notation notation
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(settings);
        (_panel, _settings, _targets, _notation) = (panel, settings, targets, notation);
        _columns = Columns(panel, table.Columns, settings);
    }

    /// <summary>The columns that are taken, with their places in the file.</summary>
    public static List<(int Place, FieldMatch Match, BoundColumn Column, ValueForm Form)> Columns(
        BoundPanel panel,
        IReadOnlyList<FileColumn> columns,
        PanelImportSettings settings
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(columns);
        ArgumentNullException.ThrowIfNull(settings);
        return
        [
            .. settings
                .Columns.Select((match, place) => (Place: place, Match: match))
                .Where(one => one.Match.Column is not null && one.Place < columns.Count)
                .Select(one =>
                    (
                        one.Place,
                        one.Match,
                        Column: panel.FindToWrite(one.Match.Column!)!,
                        Form: ValueForm.Find(one.Match.Type, one.Match.Pattern) ?? ValueForm.Text
                    )
                ),
        ];
    }

    /// <summary>What is wrong with settings; empty where an import can be done by them.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="table">The file's table, looked at.</param>
    /// <param name="settings">The settings.</param>
    public static IReadOnlyList<FieldProblem> Check(BoundPanel panel, LookedTable table, PanelImportSettings settings)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(settings);
        var problems = new List<FieldProblem>();
        if (!settings.Columns.Select(match => match.Source).SequenceEqual(table.Columns.Select(column => column.Name)))
            return [new("columns", "The file has other columns than these settings. Look at it again.")];
        var fillable = FieldMatching.Fillable(panel).Select(column => column.Name).ToHashSet();
        for (var place = 0; place < settings.Columns.Count; place++)
            if (settings.Columns[place] is { Column: { } name } match)
            {
                if (!fillable.Contains(name))
                    problems.Add(
                        new(
                            $"columns.{place}",
                            $"{name} cannot be filled here. Choose another column, or leave {match.Source} out."
                        )
                    );
                else if (settings.Columns.Take(place).FirstOrDefault(other => other.Column == name) is { } twice)
                    problems.Add(
                        new(
                            $"columns.{place}",
                            $"{twice.Source} and {match.Source} would both go into {panel.FindToWrite(name)!.Label}. Leave one of them out."
                        )
                    );
                if (ValueForm.Find(match.Type, match.Pattern) is null)
                    problems.Add(new($"columns.{place}", $"{match.Type} {match.Pattern} cannot be read. Choose another type."));
            }

        if (settings.Columns.All(match => match.Column is null))
            problems.Add(new("columns", "No column of the file goes anywhere. Choose at least one."));
        if (settings.FindsRecords && settings.Key.Count == 0)
            problems.Add(new("key", "Records are to be found, and no column says by what. Choose one."));
        foreach (var key in settings.FindsRecords ? settings.Key : [])
            if (settings.Columns.All(match => match.Column != key))
                problems.Add(
                    new(
                        "key",
                        $"Records are to be found by {panel.FindToWrite(key)?.Label ?? key}, and no column of the file goes there. Choose one."
                    )
                );
        return problems;
    }

    /// <summary>The texts of lookups, which have to be looked up before rows are read.</summary>
    /// <param name="rows">The rows.</param>
    public IReadOnlyDictionary<string, IReadOnlySet<string>> LookupTexts(IEnumerable<FileRow> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        var lookups = _columns.Where(one => IsFound(one.Column)).ToList();
        var texts = lookups.ToDictionary(
            one => one.Column.Name,
            _ => (IReadOnlySet<string>)new HashSet<string>(StringComparer.Ordinal)
        );
        foreach (var row in rows)
        foreach (var (place, _, column, _) in lookups)
            if (row.Problem is null && row.Values[place]?.Trim() is { Length: > 0 } text)
                ((HashSet<string>)texts[column.Name]).Add(text);
        return texts;
    }

    // What refers by several columns is given by the values of these.
    private static bool IsFound(BoundColumn column) => column.Decision.Lookup is { Also.Count: 0 };

    /// <summary>Reads a row.</summary>
    /// <param name="row">The row.</param>
    public ReadRow Read(FileRow row)
    {
        if (row.Problem is { } none)
            return new ReadRow(row.Number, row.Values, new Dictionary<string, string?>(), [new("", none)]);
        var given = new Dictionary<string, string?>();
        var problems = new List<FieldProblem>();
        var unfound = new Dictionary<string, UnfoundTarget>();
        foreach (var (place, match, column, form) in _columns)
        {
            var text = row.Values[place];
            if (string.IsNullOrWhiteSpace(text))
            {
                if (!match.KeepsWhereEmpty)
                    given[column.Name] = null;
                continue;
            }

            if (IsFound(column))
            {
                var target = _targets[column.Name][text.Trim()];
                if (target.Problem is { } why)
                    unfound[column.Name] = new UnfoundTarget(text.Trim(), $"“{Cut(text)}”: {why}", target.IsMissing);
                else
                    given[column.Name] = target.Value;
                continue;
            }

            var (value, problem) = Known(column, form, text);
            if (problem is null)
                given[column.Name] = value;
            else
                problems.Add(new(column.Name, $"“{Cut(text)}”: {problem}"));
        }

        // What says which record it is need not be writable.
        var keys = given.Where(pair => !_panel.FindToWrite(pair.Key)!.IsWritable && _settings.Key.Contains(pair.Key)).ToList();
        var checkedInput = RecordInput.Check(_panel, given.Except(keys).ToDictionary(), isNew: false, _none);
        problems.AddRange(checkedInput.Problems);
        return new ReadRow(row.Number, row.Values, checkedInput.Values.Concat(keys).ToDictionary(), problems)
        {
            Given = given,
            Unfound = unfound,
        };
    }

    private (string? Given, string? Problem) Known(BoundColumn column, ValueForm form, string text)
    {
        if (_known.TryGetValue((column.Name, text), out var known))
            return known;
        // Long texts are hardly ever the same.
        return text.Length > 100 ? Meant(column, form, text) : _known[(column.Name, text)] = Meant(column, form, text);
    }

    // What the form would be given for it: as the file was found to write it, as it stands, by its label, or as it is stored.
    private (string? Given, string? Problem) Meant(BoundColumn column, ValueForm form, string text)
    {
        if (column.Reading is null && column.Type.Kind is Schema.ValueKind.Text)
            return Try(column, text) is { } wrong ? (null, wrong) : (text, null);
        var trimmed = text.Trim();
        string? first = null;
        foreach (var candidate in Candidates(column, form, trimmed))
        {
            if (Try(column, candidate) is not { } problem)
                return (candidate, null);
            first ??= problem;
        }

        return (null, first ?? "It cannot be read. Correct it.");
    }

    private IEnumerable<string> Candidates(BoundColumn column, ValueForm form, string text)
    {
        // 20111001 is a day where days are meant, and the number where numbers are.
        if (form is not ValueForm.Whole && form != ValueForm.Text && form.Read(text) is { } read)
            yield return read;
        yield return text;
        if (column.Type.EnumValues.Count > 0 && LabelsOf(column).TryGetValue(text, out var labelled))
            yield return labelled;
        if (column.Reading is not null && column.Read(text) is { Sort: Definition.Readings.ReadSort.Value, Text: { } meaning })
            yield return meaning;
    }

    private Dictionary<string, string> LabelsOf(BoundColumn column)
    {
        if (_labels.TryGetValue(column.Name, out var known))
            return known;
        var labels = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var value in column.Type.EnumValues)
        {
            labels.TryAdd(column.ShowRead(value, _notation), value);
            labels.TryAdd(value, value);
        }

        return _labels[column.Name] = labels;
    }

    private string? Try(BoundColumn column, string text) =>
        column.IsWritable
            ? RecordInput.Check(_panel, new Dictionary<string, string?> { [column.Name] = text }, isNew: false, _none).Problems
                is [var problem, ..]
                ? problem.Message
                : null
            : ValueText.TryRead(column.Type, text, out _, out var unread)
                ? null
                : unread;

    private static string Cut(string text) => text.Length > 60 ? $"{text[..60]}…" : text;
}
