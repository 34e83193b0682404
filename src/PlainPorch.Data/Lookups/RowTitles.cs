using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Lookups;

/// <summary>Tells how rows of any table are called.</summary>
/// <param name="reader">Reads the source, for what titles borrow from other records.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class RowTitles(SourceReader reader, PorchPanels porch)
{
    private const int ShownLength = 200;

    /// <summary>The columns that the titles and keys of a table's rows need.</summary>
    public IReadOnlyList<string> ColumnsOf(Table table) =>
        [
            .. RecordIdentity
                .Of(table)
                .Columns.Concat(TemplateOf(table)?.Columns ?? [table.Columns[0].Name])
                .Concat(porch.BoundOver(table.Name)?.ReferringBeside(TemplateOf(table)?.Columns ?? []) ?? [])
                .Distinct()
                .Where(column => table.Find(column) is not null),
        ];

    /// <summary>Names rows.</summary>
    /// <param name="table">Their table.</param>
    /// <param name="columns">The columns that their values are of, those of <see cref="ColumnsOf"/> among them.</param>
    /// <param name="rows">The values in the database's text form.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>For each row its key (null where nothing tells the table's rows apart) and its title.</returns>
    public async Task<IReadOnlyList<(string? Key, string Title)>> ReadAsync(
        Table table,
        IReadOnlyList<string> columns,
        IReadOnlyList<string?[]> rows,
        CancellationToken cancellationToken
    )
    {
        var places = ColumnsOf(table).ToDictionary(name => name, name => columns.ToList().IndexOf(name));
        string? ValueOf(string?[] row, string name) =>
            places.TryGetValue(name, out var place) ? ClrValue.ToText(table.Find(name)!.Type, row[place]) : null;
        var template = TemplateOf(table);
        var panel = porch.BoundOver(table.Name);
        var lookups = porch
            .Over(table.Name)
            ?.Columns.Where(column => column.Lookup is not null && template?.Columns.Contains(column.Name) == true)
            ?? [];
        var titles = await new LookupReader(porch).ReadAsync(
            reader,
            lookups.Select(column =>
                (
                    column.Name,
                    column.Lookup!,
                    rows.Select(row => BoundLookup.Referring(column.Lookup!, column.Name, name => ValueOf(row, name)))
                )
            ),
            cancellationToken
        );
        var identity = RecordIdentity.Of(table);
        return
        [
            .. rows.Select(row =>
            {
                var key = identity.Exists
                    ? RecordKey.Write([.. identity.Columns.Select(column => ValueOf(row, column) ?? "")])
                    : null;
                var first = template is null ? ValueOf(row, table.Columns[0].Name) ?? "" : null;
                return (
                    key,
                    Shown(
                        first
                            ?? template!.Render(
                                column =>
                                    LookupReader.Shown(
                                        table,
                                        panel?.Find(column),
                                        column,
                                        name => ValueOf(row, name),
                                        titles,
                                        porch.Notation
                                    ),
                                fallback: key ?? "(untitled)"
                            )
                    )
                );
            }),
        ];
    }

    /// <summary>A text as it is shown where many stand together: a long one is cut.</summary>
    public static string Shown(string text) => text.Length > ShownLength ? text[..ShownLength] + "…" : text;

    private TitleTemplate? TemplateOf(Table table) =>
        porch.BoundOver(table.Name) is { } panel
        && panel.Title.Without(column => table.Find(column) is null && panel.Table.Find(column) is { IsStored: false })
            is var title
        && title.Columns.Any()
        && title.Columns.All(column => table.Find(column) is not null)
            ? title
            : null;
}
