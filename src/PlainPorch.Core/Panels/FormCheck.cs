using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Panels;

/// <summary>Checks what a panel decided about the fields of its form.</summary>
internal static class FormCheck
{
    /// <summary>Finds what is wrong with one field.</summary>
    /// <param name="column">The decisions about it.</param>
    /// <param name="panel">The panel.</param>
    /// <param name="table">Its table.</param>
    /// <param name="snapshot">The schema, in which lookups are looked for; null to leave them unchecked.</param>
    public static IEnumerable<FieldProblem> Run(PanelColumn column, PanelDefinition panel, Table table, SchemaSnapshot? snapshot)
    {
        var field = $"columns.{column.Name}.";
        if (ShownProblem(column, panel) is { } shown)
            yield return new(field + "shownWhen", shown);
        if (column.MostMegabytes is < 1 or > FormField.GreatestMegabytes)
            yield return new(field + "mostMegabytes", $"Enter a whole number from 1 to {FormField.GreatestMegabytes}.");
        if (column.Files is { } files && FilesProblem(files, column, table) is { } unfiled)
            yield return new(field + "files", unfiled);
        if (
            column.Input is { } input
            && table.Find(column.Name) is { } typed
            && InputProblem(input, new BoundColumn(column, typed)) is { } unfit
        )
            yield return new(field + "input", unfit);
        if (
            column.Lookup is { } lookup
            && snapshot?.Find(lookup.Table) is { } target
            && (LookupProblem(lookup, column.Name, table, target) ?? TogetherProblem(lookup, column.Name, panel, table, target))
                is { } problem
        )
            yield return new(field + "lookup", problem);
    }

    private static string? FilesProblem(FilesInFolder files, PanelColumn column, Table table) =>
        table.Find(column.Name) is { } typed && new BoundColumn(column, typed).Files is null
            ? "Paths are text, or lists of texts, and neither secret nor a lookup. Choose that it holds no paths."
            : files.Problem();

    private static string? ShownProblem(PanelColumn column, PanelDefinition panel)
    {
        if (column.ShownWhen is not { } when)
            return null;
        if (when.OneOf.Count > FormField.MostValues)
            return $"At most {FormField.MostValues} values can be named. Leave some out.";
        var seen = new HashSet<string> { column.Name };
        for (var next = when; next is not null; next = Of(next.Column)?.ShownWhen)
        {
            if (Of(next.Column) is not { InForm: true })
                return $"{next.Column} is not in the form, so nobody could fill it in. Choose another column.";
            if (!seen.Add(next.Column))
                return $"Whether {column.Label} is shown would hang on itself. Choose another column.";
        }

        return null;

        PanelColumn? Of(string name) => panel.Columns.FirstOrDefault(other => other.Name == name);
    }

    private static string? InputProblem(FieldInput input, BoundColumn column) =>
        input switch
        {
            FieldInput.Rating when !column.Type.IsInteger =>
                "Marks in a row stand for whole numbers. Choose another way of typing, or nothing.",
            FieldInput.Segments when column.Type is { EnumValues.Count: 0, Kind: not ValueKind.Boolean } =>
                "Its values are not a list to choose from. Choose another way of typing, or nothing.",
            FieldInput.Rating or FieldInput.Segments => null,
            _ when column.Type.Kind is not ValueKind.Text || column.Decision.Lookup is not null =>
                "That is for text. Choose another way of typing, or nothing.",
            FieldInput.Colour when column.Type.MaxLength is < 6 =>
                "A colour takes six characters, and the column holds fewer. Choose another way of typing, or nothing.",
            _ => null,
        };

    private static bool IsAlike(ColumnType? one, ColumnType? other) =>
        one is null || other is null || one.Kind == other.Kind || (one.IsInteger && other.IsInteger);

    private static string? TogetherProblem(Lookup lookup, string column, PanelDefinition panel, Table table, Table target)
    {
        if (lookup.Also.Count == 0)
            return null;
        if (lookup.Also.Count > FormField.MostRestrictions)
            return $"At most {FormField.MostRestrictions + 1} columns refer together. Leave some out.";
        if (
            lookup.Also.FirstOrDefault(pair =>
                pair.From == column
                || table.Find(pair.From) is not { IsStored: true }
                || panel.Columns.FirstOrDefault(other => other.Name == pair.From) is not { Reading: null, InForm: true }
            ) is
            { } stray
        )
            return $"{stray.From} cannot refer together with {column}. Choose another column that its form shows, without a reading.";
        var unlike = lookup
            .Also.Prepend(new LookupPair(lookup.Key, column))
            .FirstOrDefault(pair => !IsAlike(table.Find(pair.From)?.Type, target.Find(pair.Column)?.Type));
        if (unlike is not null)
            return $"{unlike.From} holds values of another type than {unlike.Column} of {target.Name}. Choose columns whose values are the same.";
        return lookup.Conversion is not ValueConversion.None || lookup.Where is not null || lookup.StandsAbove
            ? "Columns that refer together do so by their values as they are. Leave out the conversion, the list, and that the record stands above."
            : null;
    }

    private static string? LookupProblem(Lookup lookup, string column, Table table, Table target)
    {
        if (lookup.Within.Count > FormField.MostRestrictions)
            return $"A lookup can be restricted by at most {FormField.MostRestrictions} columns. Leave some out.";
        if (lookup.StandsAbove && lookup.Table != table.Name)
            return "Only a record of the same table can stand above another. Choose that it does not.";
        if (
            lookup
                .Within.Select(restriction => restriction.Column)
                .Concat(lookup.Details)
                .FirstOrDefault(name => target.Find(name) is null) is
            { } unknown
        )
            return $"{target.Name} has no column {unknown}. Choose another.";
        if (
            lookup.Within.FirstOrDefault(restriction =>
                restriction.From is { } own && (own == column || table.Find(own) is null)
            ) is
            { } odd
        )
            return $"{odd.From} cannot say which records to offer. Choose another column of {table.Name}.";
        return null;
    }
}
