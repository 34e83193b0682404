using System.Globalization;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Tidying;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Tidying;

/// <summary>Reads how the values of a column are spelled, of the records that a panel shows.</summary>
/// <param name="seen">The panel.</param>
public sealed class SpellingReader(SeenPanel seen)
{
    /// <summary>So many spellings are looked at; rarer ones are left out.</summary>
    public const int MostSpellings = 20_000;

    /// <summary>So many of those that look like nothing else are told.</summary>
    public const int MostOthers = 2_000;

    /// <summary>The columns whose values can be tidied.</summary>
    public static IReadOnlyList<TidyColumn> ColumnsOf(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return
        [
            .. panel
                .Columns.Where(column =>
                    column.IsWritable
                    && panel.IsVisible(column)
                    && !panel.IsIdentifying(column.Name)
                    && column.Decision.Lookup is null
                    && column.Type.Kind is not ValueKind.Binary
                    && (IsSpelled(column) || column.Reading is not null)
                )
                .Select(column => new TidyColumn(column.Name, column.Label, !IsSpelled(column))),
        ];
    }

    /// <summary>Reads the spellings of a column's values, in groups of those that look alike.</summary>
    /// <param name="column">The column; null is answered for one whose values cannot be tidied.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<ColumnSpellings?> ReadAsync(string column, CancellationToken cancellationToken)
    {
        var panel = seen.Panel;
        if (ColumnsOf(panel).FirstOrDefault(one => one.Name == column) is not { } tidied)
            return null;
        var bound = panel.Find(column)!;
        var wanted = Filter.Join(
            seen.Plan(new ListRequest()).Filter,
            tidied.UnfitOnly ? ReadFilter.Misfit(bound.Schema, bound.Reading!) : new Filter.Not(new Filter.Empty(column))
        );
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var rows = await new SourceReader(seen.Model, connection).AskAsync(
            panel.Table,
            wanted,
            $"spellings {column}",
            (query, matching) => RecordQuery.TakeFixed(query.CountValues(matching, column), MostSpellings + 1),
            cancellationToken
        );
        var spellings = rows.Where(row => row[0] is not null)
            .Take(MostSpellings)
            .Select(row => new Spelling(
                ClrValue.ToText(bound.Schema.Type, row[0])!,
                long.Parse(row[1]!, CultureInfo.InvariantCulture)
            ))
            .ToList();
        var groups = SpellingGroups.Find(spellings);
        var grouped = groups.SelectMany(group => group.Spellings).ToHashSet();
        var others = spellings.FindAll(spelling => !grouped.Contains(spelling));
        return new ColumnSpellings(
            tidied,
            groups,
            [.. others.Take(MostOthers)],
            HasMore: rows.Count > MostSpellings || others.Count > MostOthers
        );
    }

    // What people type letter for letter.
    private static bool IsSpelled(BoundColumn column) =>
        column.Schema.Type.Kind is ValueKind.Text
        && column.Type.Kind is ValueKind.Text
        && column.Reading is null or PaddedReading or CapitalsReading or ContactReading;
}
