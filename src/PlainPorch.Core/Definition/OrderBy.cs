namespace PlainPorch.Core.Definition;

/// <summary>
/// One part of an order. It travels as <c>COLUMN</c>, percent-encoded, with <c>-</c> before it for descending, <c>:natural</c>
/// and <c>:emptyfirst</c> after it.
/// </summary>
/// <param name="Column">The column's exact name.</param>
/// <param name="Descending">Whether the greatest comes first.</param>
/// <param name="EmptyFirst">Whether records without a value come first; else they come last, whatever the direction.</param>
/// <param name="Natural">Whether figures within a text count as numbers, so that C-2 comes before C-10.</param>
public sealed record OrderBy(string Column, bool Descending, bool EmptyFirst = false, bool Natural = false)
{
    /// <summary>The greatest number of columns that a reader can order by.</summary>
    public const int MaxParts = 6;

    /// <summary>How an order by the numbers in a text travels.</summary>
    public const string NaturalWord = "natural";

    /// <summary>How it travels that records without a value come first.</summary>
    public const string EmptyFirstWord = "emptyfirst";

    /// <summary>The same part read from the end.</summary>
    public OrderBy Reversed() => this with { Descending = !Descending, EmptyFirst = !EmptyFirst };

    /// <summary>The part as it travels.</summary>
    public override string ToString() =>
        (Descending ? "-" : "")
        + NameText(Column)
        + (Natural ? ":" + NaturalWord : "")
        + (EmptyFirst ? ":" + EmptyFirstWord : "");

    // A column that begins with "-" would be taken for descending.
    private static string NameText(string column) =>
        column is ['-', ..] ? "%2D" + Uri.EscapeDataString(column[1..]) : Uri.EscapeDataString(column);
}
