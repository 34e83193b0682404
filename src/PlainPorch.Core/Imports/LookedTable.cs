namespace PlainPorch.Core.Imports;

/// <summary>What was found out about a table of a file by looking at all of its rows.</summary>
/// <param name="File">The file.</param>
/// <param name="Name">What the file calls the table.</param>
/// <param name="Rows">How many rows it has, those that are none of the table among them.</param>
/// <param name="Misfits">How many rows are none of the table.</param>
/// <param name="Notes">What was found out about how it is written, and what is left out, in sentences.</param>
/// <param name="Key">The columns by which the file itself tells rows apart; empty where it does not.</param>
/// <param name="References">The references that the file declares.</param>
/// <param name="Columns">Its columns.</param>
/// <param name="First">Its first rows, as they stand in the file.</param>
public sealed record LookedTable(
    string File,
    string Name,
    long Rows,
    long Misfits,
    IReadOnlyList<string> Notes,
    IReadOnlyList<string> Key,
    IReadOnlyList<FileReference> References,
    IReadOnlyList<LookedColumn> Columns,
    IReadOnlyList<IReadOnlyList<string?>> First
)
{
    /// <summary>So many rows are shown.</summary>
    public const int Shown = 20;

    private const int ShownLength = 200;

    /// <summary>As much of a value as is shown.</summary>
    public static string? Cut(string? value) => value?.Length > ShownLength ? $"{value[..ShownLength]}…" : value;
}

/// <summary>What was found out about a column of a file.</summary>
/// <param name="Name">What the file calls it.</param>
/// <param name="Type">The type that all its values have.</param>
/// <param name="Pattern">How they are written, where the type does not say it; null else.</param>
/// <param name="Reading">How they are read, in words; empty for as they stand.</param>
/// <param name="Values">How many rows have a value.</param>
/// <param name="Empty">How many rows have none.</param>
/// <param name="IsUnique">Whether no two rows have the same value; null where that was not followed to the end.</param>
/// <param name="Doubtful">How many values would mean something else if read otherwise.</param>
/// <param name="OtherType">The type by which they would be read otherwise; null for none.</param>
/// <param name="OtherPattern">The pattern by which they would be read otherwise.</param>
/// <param name="Otherwise">How they would be read then, in words; null for nothing.</param>
/// <param name="Nearly">What it would be but for a few values, in words; null for nothing.</param>
public sealed record LookedColumn(
    string Name,
    string Type,
    string? Pattern,
    string Reading,
    long Values,
    long Empty,
    bool? IsUnique,
    long Doubtful,
    string? OtherType,
    string? OtherPattern,
    string? Otherwise,
    string? Nearly
)
{
    /// <summary>The type that all but few of its values have; null for none.</summary>
    public string? NearlyType { get; init; }

    /// <summary>How these are written, where the type does not say it.</summary>
    public string? NearlyPattern { get; init; }

    /// <summary>What the survey takes it for, in a word; null for nothing of its own.</summary>
    public string? Meaning { get; init; }

    /// <summary>Why the survey takes it for that.</summary>
    public string? Evidence { get; init; }

    /// <summary>Whether its values are nobody's business, such as a bank account.</summary>
    public bool IsSensitive { get; init; }

    /// <summary>Tells of a guess.</summary>
    public static LookedColumn Of(ColumnGuess guess)
    {
        ArgumentNullException.ThrowIfNull(guess);
        return new LookedColumn(
            guess.Name,
            guess.Form.StoreType,
            guess.Form.Pattern,
            guess.Form.Reading,
            guess.Values,
            guess.Empty,
            guess.IsUnique,
            guess.Doubtful,
            guess.Otherwise?.StoreType,
            guess.Otherwise?.Pattern,
            guess.InOtherWords,
            guess.NearlyInWords
        )
        {
            NearlyType = guess.Nearly?.Form.StoreType,
            NearlyPattern = guess.Nearly?.Form.Pattern,
        };
    }

    /// <summary>The guess that this tells of, read by the form that was chosen for it.</summary>
    /// <param name="form">The form.</param>
    public ColumnGuess ToGuess(ValueForm form) => new(Name, form, Values, Empty, IsUnique, Doubtful);
}

/// <summary>Looks at a table of a file once, and keeps what is told of it and what the survey needs.</summary>
public sealed class TableLook
{
    // As many as a survey reads of a table.
    private const int MostSampled = 3_000;
    private const int MostKeyValues = 50_000;

    private readonly FileTable _table;
    private readonly ColumnGuesses _guesses;
    private readonly List<IReadOnlyList<string?>> _first = [];
    private readonly List<IReadOnlyList<string?>> _sample = [];
    private readonly HashSet<string>?[] _keys;

    // Always the same rows of the same file.
    private readonly Random _chance = new(1);
    private long _rows;
    private long _misfits;

    private TableLook(FileTable table)
    {
        _table = table;
        _guesses = new ColumnGuesses(table.Columns, table.HasPoints);
        _keys = [.. table.Columns.Select(_ => new HashSet<string>(StringComparer.Ordinal))];
    }

    /// <summary>Looks at a table.</summary>
    /// <param name="table">The table.</param>
    /// <param name="progress">Told how many rows were looked at, now and then.</param>
    /// <param name="cancellationToken">Stops it.</param>
    public static TableLook At(FileTable table, Action<long> progress, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(progress);
        var look = new TableLook(table);
        foreach (var row in table.Rows())
        {
            look.Add(row);
            if (look._rows % 10_000 != 0)
                continue;
            cancellationToken.ThrowIfCancellationRequested();
            progress(look._rows);
        }

        look.Guesses = look._guesses.Guess();
        return look;
    }

    /// <summary>What its columns are.</summary>
    public IReadOnlyList<ColumnGuess> Guesses { get; private set; } = [];

    /// <summary>The table.</summary>
    public FileTable Table => _table;

    /// <summary>How many rows it has.</summary>
    public long Rows => _rows;

    /// <summary>Whether all of its rows are in the sample.</summary>
    public bool IsWhole => _rows - _misfits == _sample.Count;

    /// <summary>The values of a column in the sample, read by a form; null for none.</summary>
    /// <param name="place">The place of the column.</param>
    /// <param name="form">The form.</param>
    public IReadOnlyList<string?> Sample(int place, ValueForm form)
    {
        ArgumentNullException.ThrowIfNull(form);
        return [.. _sample.Select(row => string.IsNullOrWhiteSpace(row[place]) ? null : form.Read(row[place]!.Trim()))];
    }

    /// <summary>All values of a column that are each there once; null where there are too many, or one is there twice.</summary>
    /// <param name="place">The place of the column.</param>
    public IReadOnlySet<string>? Keys(int place) => _keys[place] is { Count: > 0 } all ? all : null;

    /// <summary>What is told of it.</summary>
    /// <param name="file">The file.</param>
    public LookedTable Told(string file) =>
        new(
            file,
            _table.Name,
            _rows,
            _misfits,
            _table.Notes,
            _table.Key,
            _table.References,
            [.. Guesses.Select(LookedColumn.Of)],
            _first
        );

    private void Add(FileRow row)
    {
        _rows++;
        if (row.Problem is not null)
        {
            _misfits++;
            return;
        }

        _guesses.Add(row.Values);
        if (_first.Count < LookedTable.Shown)
            _first.Add([.. row.Values.Select(LookedTable.Cut)]);
        FollowSample(row.Values);
        for (var place = 0; place < _keys.Length; place++)
            if (
                _keys[place] is { } keys
                && row.Values[place] is { Length: > 0 } value
                && (!keys.Add(value) || keys.Count > MostKeyValues)
            )
                _keys[place] = null;
    }

    // Algorithm R: each row is as likely to be in the sample (J. S. Vitter, "Random sampling with a reservoir", 1985).
    private void FollowSample(IReadOnlyList<string?> values)
    {
        if (_sample.Count < MostSampled)
            _sample.Add(values);
        else if (_chance.NextInt64(_rows - _misfits) is < MostSampled and var place)
            _sample[(int)place] = values;
    }
}
