using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Panels;

/// <summary>Checks a changed panel before it is saved.</summary>
public static class PanelCheck
{
    /// <summary>The greatest length of a label or title.</summary>
    public const int MaxLabelLength = 200;

    /// <summary>The greatest number of days that records which are set aside stay before they are erased.</summary>
    public const int MaxDays = 36_500;

    /// <summary>Finds what is wrong with a panel.</summary>
    /// <param name="panel">The panel as it is to be saved.</param>
    /// <param name="table">Its table, with the columns that it computes.</param>
    /// <param name="snapshot">The schema, in which lookups are looked for; null to leave them unchecked.</param>
    /// <returns>Field (such as <c>columns.NAME.label</c>) and message; empty where all is well.</returns>
    public static IReadOnlyList<FieldProblem> Run(PanelDefinition panel, Table table, SchemaSnapshot? snapshot = null)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(table);
        var problems = new List<FieldProblem>();
        CheckLabel("label", panel.Label);
        CheckLabel("recordLabel", panel.RecordLabel);
        CheckTitle(panel, table, problems);
        CheckLength("group", panel.Group);
        if (
            panel.Order is { } order
            && new[] { order.Column, order.Group }.FirstOrDefault(column =>
                column is not null && table.Find(column) is not { IsStored: true }
            )
                is { } unordered
        )
            problems.Add(new("order", $"{table.Name} has no column {unordered}. Sort by one that it has."));
        if (panel.Sort.FirstOrDefault(part => table.Find(part.Column) is not { Type.IsOrderable: true }) is { } unsorted)
            problems.Add(new("sort", $"{table.Name} cannot be sorted by {unsorted.Column}. Choose another column."));
        if (panel.Related.FirstOrDefault(one => one.Sort.Count > OrderBy.MaxParts) is { } oversorted)
            problems.Add(new("related", $"{oversorted.Label}: a list is ordered by at most {OrderBy.MaxParts} columns."));
        if (
            panel.Related.FirstOrDefault(one => one.PageSize is { } size && !PanelDefinition.PageSizes.Contains(size)) is
            { } oversized
        )
            problems.Add(
                new(
                    "related",
                    $"{oversized.Label}: a page has {string.Join(", ", PanelDefinition.PageSizes)} records. Choose one of these."
                )
            );
        CheckRemoval(panel, table, problems);
        if (panel.Duplicates.FirstOrDefault(column => table.Find(column.Name) is not { IsStored: true }) is { } unmatched)
            problems.Add(new("duplicates", $"{table.Name} has no column {unmatched.Name}. Name one that it has."));
        foreach (var column in panel.Columns)
        {
            CheckLabel($"columns.{column.Name}.label", column.Label);
            CheckLength($"columns.{column.Name}.section", column.Section);
            CheckLength($"columns.{column.Name}.hint", column.Hint);
            if (table.Find(column.Name) is { } begun && StartValue.Problem(new BoundColumn(column, begun)) is { } unusable)
                problems.Add(new($"columns.{column.Name}.startValue", unusable));
            if (column.Lookup is { } lookup && snapshot is not null && Problem(lookup, snapshot) is { } problem)
                problems.Add(new($"columns.{column.Name}.lookup", problem));
            problems.AddRange(FormCheck.Run(column, panel, table, snapshot));
            if (column.Stamp is { } stamp && table.Find(column.Name) is { } stamped && !Stamps.Fits(stamp, stamped.Type))
                problems.Add(
                    new(
                        $"columns.{column.Name}.stamp",
                        $"{column.Name} cannot hold that: a time needs a date or date-and-time column, a person a text column. Choose another, or nothing."
                    )
                );
            if (column.Reading is { } reading && table.Find(column.Name) is { } read && reading.Problem(read.Type) is { } unread)
                problems.Add(new($"columns.{column.Name}.reading", unread));
            if (!column.IsComputed && table.Find(column.Name) is not { IsStored: true })
                problems.Add(
                    new($"columns.{column.Name}", $"{table.Name} has no column {column.Name}. Remove it from the panel.")
                );
        }

        foreach (var twice in panel.Columns.GroupBy(column => column.Name).Where(group => group.Count() > 1))
            problems.Add(new($"columns.{twice.Key}", $"{twice.Key} appears {twice.Count()} times. Keep one of them."));
        return problems;

        void CheckLength(string field, string text)
        {
            if (text.Length > MaxLabelLength)
                problems.Add(
                    new(field, $"At most {MaxLabelLength} characters are allowed. Shorten it by {text.Length - MaxLabelLength}.")
                );
        }

        void CheckLabel(string field, string label)
        {
            if (string.IsNullOrWhiteSpace(label))
                problems.Add(new(field, "Enter a label."));
            else if (label.Length > MaxLabelLength)
                problems.Add(
                    new(field, $"At most {MaxLabelLength} characters are allowed. Shorten it by {label.Length - MaxLabelLength}.")
                );
        }
    }

    private static void CheckRemoval(PanelDefinition panel, Table table, List<FieldProblem> problems)
    {
        if (panel.Marker is { } marker && RemovalMarkers.Problem(marker, table) is { } problem)
            problems.Add(new("marker", problem));
        if (panel.Removal.Manner is RemovalManner.Mark && panel.Marker is null)
            problems.Add(
                new(
                    "marker",
                    "Without a marker nothing shows which records are set aside. Choose its column, or have them set aside out of the table."
                )
            );
        if (panel.Removal.RecognizedBy.FirstOrDefault(column => table.Find(column) is null) is { } unknown)
            problems.Add(new("removal.recognizedBy", $"{table.Name} has no column {unknown}. Name one that it has."));
        if (panel.Removal.EraseAfterDays is < 1 or > MaxDays)
            problems.Add(
                new(
                    "removal.eraseAfterDays",
                    $"Records can be kept for 1 to {MaxDays} days, or forever. Correct it, or leave it blank."
                )
            );
    }

    private static string? Problem(Lookup lookup, SchemaSnapshot snapshot)
    {
        if (snapshot.Find(lookup.Table) is not { } target)
            return $"There is no table {lookup.Table}. Choose another, or none.";
        if (
            lookup
                .Also.Select(pair => pair.Column)
                .Prepend(lookup.Where?.Column)
                .Prepend(lookup.Key)
                .FirstOrDefault(column => column is not null && target.Find(column) is null) is
            { } unknown
        )
            return $"{lookup.Table} has no column {unknown}. Choose another, or none.";
        return string.IsNullOrEmpty(lookup.Title) || TitleTemplate.TryRead(lookup.Title, out _, out var problem) ? null : problem;
    }

    private static void CheckTitle(PanelDefinition panel, Table table, List<FieldProblem> problems)
    {
        if (panel.Title.Length > MaxLabelLength)
            problems.Add(new("title", $"At most {MaxLabelLength} characters are allowed. Shorten it."));
        else if (!TitleTemplate.TryRead(panel.Title, out var title, out var problem))
            problems.Add(new("title", problem!));
        else if (title!.Columns.FirstOrDefault(column => table.Find(column) is null) is { } unknown)
            problems.Add(new("title", $"{table.Name} has no column {unknown}. Name one that it has."));
        else if (!title.Columns.Any())
            problems.Add(new("title", "Every record would have the same title. Name a column in braces, such as {NAME}."));
    }
}
