using System.Globalization;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Records;

/// <summary>Records that somebody chose one by one, wherever in a list they stood.</summary>
public sealed class RecordSelection
{
    /// <summary>The greatest number of records in a selection.</summary>
    public const int MaxRecords = 10_000;

    /// <summary>The greatest number where a key has several parts, which a statement has to name one by one.</summary>
    public const int MaxWithLongKeys = 500;

    private readonly BoundPanel _panel;
    private readonly IReadOnlyList<IReadOnlyList<string>> _keys;
    private HashSet<string>? _known;

    private RecordSelection(BoundPanel panel, IReadOnlyList<IReadOnlyList<string>> keys)
    {
        _panel = panel;
        _keys = keys;
    }

    /// <summary>How many different records are meant, whether they are still there or not.</summary>
    public int Count => _keys.Count;

    /// <summary>The condition that a record is one of them, and may be seen.</summary>
    public Filter Filter =>
        _panel.Identity is { ByPlace: false, Columns: [var only] }
            ? _panel.Within(new Filter.OneOf(only, [.. _keys.Select(key => key[0])]))!
            : new Filter.Any([.. _keys.Select(key => RecordKey.Filter(_panel, key))]);

    /// <summary>The condition that a record is one of them, may be seen, and is the only one with its key.</summary>
    public Filter ToWrite => Filters.Filter.Join(Filter, RecordKey.Alone(_panel))!;

    /// <summary>Whether a record is one of them.</summary>
    /// <param name="values">The values of its identifying columns, in the one text form, or where it is.</param>
    public bool Has(IReadOnlyList<string> values) =>
        (_known ??= [.. _keys.Select(RecordKey.Write)]).Contains(RecordKey.Write(values));

    /// <summary>How many records of a panel can be chosen together.</summary>
    public static int MostOf(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return panel.Identity.Columns.Count switch
        {
            // Where a row is holds only until it is written to: no choice of several would last.
            0 => panel.Identity.ByPlace ? 1 : 0,
            1 => MaxRecords,
            _ => MaxWithLongKeys,
        };
    }

    /// <summary>Reads the keys of chosen records.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="keys">The keys as <see cref="RecordKey"/> writes them.</param>
    /// <param name="selection">The selection; null on failure.</param>
    /// <param name="problem">What is wrong; null on success.</param>
    /// <returns>Whether all of them are keys of the panel, and not too many.</returns>
    public static bool TryRead(
        BoundPanel panel,
        IReadOnlyList<string> keys,
        out RecordSelection? selection,
        out FieldProblem? problem
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(keys);
        (selection, problem) = (null, null);
        var most = MostOf(panel);
        if (keys.Count == 0 || keys.Count > most)
        {
            problem = new(
                "keys",
                most == 0 ? "The records of this panel have no key, so they cannot be selected."
                    : keys.Count == 0 ? "No records are selected. Select at least one."
                    : string.Create(
                        CultureInfo.InvariantCulture,
                        $"{keys.Count:N0} records are selected; at most {most:N0} can be selected at a time."
                    )
            );
            return false;
        }

        var read = new List<IReadOnlyList<string>>(keys.Count);
        foreach (var key in keys.Distinct())
        {
            if (RecordKey.ValuesOf(panel, key) is not { } values)
            {
                problem = new("keys", $"“{key}” is not a key of {panel.Definition.Label}. Select the records again.");
                return false;
            }

            read.Add(values);
        }

        selection = new RecordSelection(panel, read);
        return true;
    }

    /// <summary>The selection in parts of at most so many records.</summary>
    public IEnumerable<RecordSelection> InParts(int size) => _keys.Chunk(size).Select(part => new RecordSelection(_panel, part));
}
