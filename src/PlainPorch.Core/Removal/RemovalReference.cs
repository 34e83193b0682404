using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Removal;

/// <summary>A reference by which the removal of a record touches records of another table, or of the same.</summary>
public sealed record RemovalReference
{
    // Each combination of values is named one by one in the condition.
    private const int MaxCombinations = 500;

    /// <summary>The referring table.</summary>
    public required Table Table { get; init; }

    /// <summary>The referring columns.</summary>
    public required IReadOnlyList<string> Columns { get; init; }

    /// <summary>The table referred to.</summary>
    public required TableName Target { get; init; }

    /// <summary>The columns referred to, in the order of <see cref="Columns"/>.</summary>
    public required IReadOnlyList<string> TargetColumns { get; init; }

    /// <summary>The foreign key that declares it; null where the database knows nothing of it.</summary>
    public ForeignKey? Declared { get; init; }

    /// <summary>The lookup that says so; null where only the database does.</summary>
    public BoundLookup? Lookup { get; init; }

    /// <summary>What the developer decided about it; null for nothing.</summary>
    public RemovalEffect? Decided { get; init; }

    /// <summary>What the referring records are called taken together.</summary>
    public required string Label { get; init; }

    /// <summary>The slug of the panel over the referring table; null where the porch has none.</summary>
    public string? Panel { get; init; }

    /// <summary>The value of a referring column that refers to nothing; null where it is left empty.</summary>
    /// <param name="column">The column's exact name.</param>
    public string? NoneOf(string column) =>
        Table.Find(column) switch
        {
            { IsNullable: true } => null,
            { Type.IsInteger: true } => "0",
            _ => "",
        };

    /// <summary>Whether the referring columns can be made to refer to nothing.</summary>
    public bool CanBeDetached =>
        Columns.Any(column => Table.Find(column) is { IsNullable: true, IsGenerated: false })
        || (
            Declared is null
            && Columns.All(column =>
                Table.Find(column) is { IsGenerated: false } found && (found.Type.IsInteger || found.Type.Kind is ValueKind.Text)
            )
        );

    /// <summary>The columns that detaching empties: those that may be empty, or else all.</summary>
    public IReadOnlyList<string> Detaches
    {
        get
        {
            var nullable = Columns.Where(column => Table.Find(column) is { IsNullable: true, IsGenerated: false }).ToList();
            return nullable.Count > 0 ? nullable : Columns;
        }
    }

    /// <summary>What becomes of the referring records.</summary>
    /// <param name="act">What is done with the record referred to.</param>
    public (RemovalEffect Effect, bool ByDatabase) EffectOf(RowAct act)
    {
        // A record that stays in its table goes on being referred to; the database has nothing to do.
        if (act is RowAct.Mark)
            return (Decided ?? RemovalEffect.Left, false);
        return Declared?.OnDelete switch
        {
            DeleteRule.Cascade => (RemovalEffect.GoesAlong, true),
            DeleteRule.SetNull or DeleteRule.SetDefault => Decided is RemovalEffect.GoesAlong or RemovalEffect.Forbids
                ? (Decided.Value, false)
                : (RemovalEffect.Detached, true),
            DeleteRule.Forbid => (
                Decided is RemovalEffect.GoesAlong ? RemovalEffect.GoesAlong
                : Decided is RemovalEffect.Detached && CanBeDetached ? RemovalEffect.Detached
                : RemovalEffect.Forbids,
                false
            ),
            _ => (
                Decided is null or RemovalEffect.Hidden || (Decided is RemovalEffect.Detached && !CanBeDetached)
                    ? RemovalEffect.Forbids
                    : Decided.Value,
                false
            ),
        };
    }

    /// <summary>What values refer to, as one text that is the same for all ways in which they can be written.</summary>
    /// <param name="values">The values of <see cref="Columns"/> or of <see cref="TargetColumns"/>, in the one text form.</param>
    /// <returns>The text; null where a value is missing, so that nothing is referred to.</returns>
    public string? MeaningOf(IReadOnlyList<string?> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        return values.Contains(null) ? null : string.Join('\u001f', values.Select(value => Lookup?.KeyOf(value!) ?? value));
    }

    /// <summary>How a row refers once the row that it refers to has another key.</summary>
    /// <param name="referring">The values of <see cref="Columns"/> so far, in the one text form.</param>
    /// <param name="target">The values of <see cref="TargetColumns"/> from now on.</param>
    /// <returns>The values of <see cref="Columns"/> from now on, written as the old ones are.</returns>
    public IReadOnlyList<string?> Rewritten(IReadOnlyList<string?> referring, IReadOnlyList<string?> target)
    {
        ArgumentNullException.ThrowIfNull(referring);
        ArgumentNullException.ThrowIfNull(target);
        return [.. target.Zip(referring, (value, old) => value is null ? null : Lookup?.WrittenAs(value, old) ?? value)];
    }

    /// <summary>The conditions under which records refer to some rows; none where nothing can.</summary>
    /// <param name="rows">The rows referred to, with the values of <see cref="TargetColumns"/> and of the lookup's list.</param>
    public IEnumerable<Filter> To(IEnumerable<RemovalRow> rows)
    {
        ArgumentNullException.ThrowIfNull(rows);
        var referred = rows.Where(row =>
                Lookup?.Lookup.Where is not { } list || row.Values.GetValueOrDefault(list.Column) == list.Value
            )
            .Select(row => TargetColumns.Select(column => row.Values.GetValueOrDefault(column)).ToList())
            .Where(values => values.TrueForAll(value => value is not null))
            .ToList();
        if (referred.Count == 0)
            yield break;
        if (Columns is [var column])
        {
            var type = Table.Find(column)!.Type;
            var keys = referred.Select(values => values[0]!).Distinct();
            // A column that cannot hold a key's value does not refer by it.
            var referring = (Lookup is null ? keys : keys.SelectMany(key => Lookup.ReferringValues(Table.Find(column)!, key)))
                .Select(text => ValueText.TryRead(type, text, out var value, out _) ? value : null)
                .OfType<string>()
                .Distinct()
                .ToList();
            if (referring.Count > 0)
                yield return Lookup?.OneOf(column, referring) ?? new Filter.OneOf(column, referring);
            yield break;
        }

        // A column that cannot hold a key's value does not refer by it.
        var held = referred.Where(values =>
            Columns.Zip(values).All(pair => ValueText.TryRead(Table.Find(pair.First)!.Type, pair.Second!, out _, out _))
        );
        foreach (var part in held.Chunk(MaxCombinations))
            yield return new Filter.Any([
                .. part.Select(values => new Filter.All([
                    .. Columns.Zip(values, (name, value) => new Filter.EqualTo(name, value!)),
                ])),
            ]);
    }
}

/// <summary>What is done with a row when it is removed, from the gentlest on.</summary>
public enum RowAct
{
    /// <summary>It stays and is marked.</summary>
    Mark,

    /// <summary>It moves into our keep.</summary>
    Move,

    /// <summary>It is deleted for good.</summary>
    Erase,
}

/// <summary>A row as a removal sees it.</summary>
/// <param name="Place">Where it is in its table, as long as nobody writes to it.</param>
/// <param name="Version">Its version, which changes with every change.</param>
/// <param name="Values">The values of the columns that were asked for, in the one text form.</param>
public sealed record RemovalRow(string Place, string Version, IReadOnlyDictionary<string, string?> Values)
{
    /// <summary>The values of its key in a panel, in the one text form; or where it is.</summary>
    /// <param name="panel">The panel; the columns of its key must have been asked for.</param>
    public IReadOnlyList<string> KeyIn(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return panel.Identity.ByPlace
            ? [.. Place.Split('/'), Version]
            : [.. panel.Identity.Columns.Select(column => Values[column] ?? "")];
    }
}
