using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Removal;

/// <summary>
/// What a removal touches, and what becomes of it: computed before anything is done, and carried out only as it was seen.
/// </summary>
public sealed class RemovalPlan
{
    /// <summary>From so many erased rows on, the number has to be typed.</summary>
    public const int TypedFrom = 25;

    private RemovalPlan(BoundPanel panel, RowAct act, string tooMany)
    {
        (Panel, Act, TooManyOf, Taken, Touched, Order, Fingerprint) = (panel, act, tooMany, [], [], [], "");
    }

    internal RemovalPlan(BoundPanel panel, RowAct act, IReadOnlyList<TakenRows> taken, IReadOnlyList<TouchedRows> touched)
    {
        (Panel, Act, Taken, Touched) = (panel, act, taken, touched);
        Order = RemovalOrder.Of([.. taken.Select(one => one.Table)]);
        Fingerprint = MakeFingerprint();
    }

    /// <summary>The panel whose records are removed.</summary>
    public BoundPanel Panel { get; }

    /// <summary>What is done with them.</summary>
    public RowAct Act { get; }

    /// <summary>The rows that are removed, table by table; the chosen records come first.</summary>
    public IReadOnlyList<TakenRows> Taken { get; }

    /// <summary>The rows that refer to them and stay.</summary>
    public IReadOnlyList<TouchedRows> Touched { get; }

    /// <summary>
    /// In which order tables are emptied; those of one group only together, because they refer to each other in a circle.
    /// </summary>
    public IReadOnlyList<IReadOnlyList<TableName>> Order { get; }

    /// <summary>Tells this plan apart from one that touches anything else, or the same rows in another version.</summary>
    public string Fingerprint { get; }

    /// <summary>The label of the records of which there are too many; null where all can be removed together.</summary>
    public string? TooManyOf { get; }

    /// <summary>The rows that stand in the way.</summary>
    public IEnumerable<TouchedRows> Forbidding => Touched.Where(touched => touched.Effect is RemovalEffect.Forbids);

    /// <summary>Whether it cannot be carried out.</summary>
    public bool IsForbidden => TooManyOf is not null || Forbidding.Any();

    /// <summary>Whether what it removes can be brought back.</summary>
    public bool CanBeUndone => Act is not RowAct.Erase;

    /// <summary>How many rows are removed.</summary>
    public int Count => Taken.Sum(taken => taken.Rows.Count);

    /// <summary>Whether the number of rows has to be typed.</summary>
    public bool MustBeTyped => !CanBeUndone && Count >= TypedFrom;

    internal static RemovalPlan TooMany(BoundPanel panel, RowAct act, string label) => new(panel, act, label);

    private string MakeFingerprint()
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        Add($"{Act} {Panel.Table.Name}");
        foreach (var taken in Taken)
            AddRows($"{taken.Act} {taken.Table.Name}", taken.Rows);
        foreach (var touched in Touched)
            AddRows(
                $"{touched.Effect} {touched.Reference.Table.Name} {string.Join(',', touched.Reference.Columns)} {touched.Reference.Target}",
                touched.Rows
            );
        return Convert.ToHexStringLower(hash.GetHashAndReset());

        void AddRows(string head, IReadOnlyList<RemovalRow> rows)
        {
            Add(string.Create(CultureInfo.InvariantCulture, $"{head} {rows.Count}"));
            foreach (var row in rows.Select(row => $"{row.Place} {row.Version}").Order(StringComparer.Ordinal))
                Add(row);
        }

        void Add(string text) => hash.AppendData(Encoding.UTF8.GetBytes(text + "\n"));
    }
}

/// <summary>Rows of one table that are removed, each once.</summary>
/// <param name="table">The table.</param>
/// <param name="label">What they are called taken together.</param>
/// <param name="panel">The slug of the panel over the table; null where the porch has none.</param>
/// <param name="act">What is done with them.</param>
public sealed class TakenRows(Table table, string label, string? panel, RowAct act)
{
    private readonly List<RemovalRow> _rows = [];
    private readonly HashSet<string> _places = [];

    /// <summary>The table.</summary>
    public Table Table => table;

    /// <summary>What they are called taken together.</summary>
    public string Label => label;

    /// <summary>The slug of the panel over the table; null where the porch has none.</summary>
    public string? Panel => panel;

    /// <summary>What is done with them.</summary>
    public RowAct Act => act;

    /// <summary>The rows, in the order in which they were found.</summary>
    public IReadOnlyList<RemovalRow> Rows => _rows;

    /// <summary>Whether a row is among them.</summary>
    public bool Has(RemovalRow row) => _places.Contains(row.Place);

    internal List<RemovalRow> Add(IEnumerable<RemovalRow> rows)
    {
        var added = rows.Where(row => _places.Add(row.Place)).ToList();
        _rows.AddRange(added);
        return added;
    }
}

/// <summary>Rows that refer to removed ones and stay.</summary>
/// <param name="Reference">By which reference.</param>
/// <param name="Effect">What becomes of them; never that they go along.</param>
/// <param name="ByDatabase">Whether the database does it by itself.</param>
/// <param name="Rows">The rows.</param>
/// <param name="Example">One of the removed rows that they refer to, or none.</param>
public sealed record TouchedRows(
    RemovalReference Reference,
    RemovalEffect Effect,
    bool ByDatabase,
    IReadOnlyList<RemovalRow> Rows,
    IReadOnlyList<RemovalRow> Example
);
