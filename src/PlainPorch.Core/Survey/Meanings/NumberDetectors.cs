using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds what numbers measure.</summary>
internal static class NumberDetectors
{
    public static ColumnMeaning? Money(ColumnFacts column)
    {
        if (
            column.Kind is not (ValueKind.Decimal or ValueKind.Double or ValueKind.Real)
            && column.Column.Type.StoreType != "money"
        )
            return null;
        if (column.Column.Type.StoreType == "money")
            return new(Meaning.Money, 0.99, "its type is money");
        var isNamed = column.Says(
            "price",
            "amount",
            "amt",
            "cost",
            "fee",
            "rate",
            "total",
            "sum",
            "net",
            "gross",
            "salary",
            "balance",
            "payment",
            "charge",
            "credit",
            "debit",
            "labour",
            "value"
        );
        return isNamed && column.Column.Type.Scale is null or 2 or 4
            ? new(
                Meaning.Money,
                column.Says("value", "rate", "total", "net") ? 0.7 : 0.85,
                "its name suggests money, and it has digits for cents"
            )
            : null;
    }

    public static ColumnMeaning? Percentage(ColumnFacts column) =>
        column.Column.Type.IsNumber && column.Says("pct", "percent", "percentage", "perc")
            ? new(Meaning.Percentage, 0.9, "its name suggests percent")
            : null;

    public static ColumnMeaning? Quantity(ColumnFacts column)
    {
        if (!column.Column.Type.IsNumber || column.IsKey || column.Words.Count == 0)
            return null;
        if (column.Words.Count > 1 && Labels.Units.TryGetValue(column.Words[^1], out var unit))
            return new(Meaning.Quantity, 0.85, $"its name ends in a unit, {unit}");
        if (column.Words is [var only] && only is "nights" or "hours" or "days" or "weeks" or "months")
            return new(Meaning.Quantity, 0.75, $"it counts {only}");
        return column.Says("qty", "quantity", "count", "cnt", "weight", "length", "width", "height", "depth", "stock")
            ? new(Meaning.Quantity, 0.7, "its name suggests a measure")
            : null;
    }

    public static ColumnMeaning? Identifier(ColumnFacts column) =>
        column.IsKey && (column.Column.Type.IsInteger || column.Kind is ValueKind.Uuid or ValueKind.Text or ValueKind.Decimal)
            ? new(Meaning.Identifier, 0.95, "a key of its table")
            : null;
}
