namespace PlainPorch.Core.Query;

/// <summary>A condition on records, as a tree. What it says is data; carrying it out is the data layer's.</summary>
public abstract record Filter
{
    private protected Filter()
    {
    }

    /// <summary>True where every part is; true without parts.</summary>
    /// <param name="Parts">The parts.</param>
    public sealed record All(IReadOnlyList<Filter> Parts) : Filter;

    /// <summary>True where some part is; false without parts.</summary>
    /// <param name="Parts">The parts.</param>
    public sealed record Any(IReadOnlyList<Filter> Parts) : Filter;

    /// <summary>True where the column's text holds the given text somewhere, capitals or not.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Text">The text, taken literally.</param>
    public sealed record Contains(string Column, string Text) : Filter;

    /// <summary>True where the column's text begins with the given text, capitals or not.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Text">The text, taken literally.</param>
    public sealed record StartsWith(string Column, string Text) : Filter;

    /// <summary>True where the column has the given value.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Value">The value in its one text form.</param>
    public sealed record EqualTo(string Column, string Value) : Filter;

    /// <summary>True where the column has one of the given values; false without values.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Values">The values in their one text form.</param>
    public sealed record OneOf(string Column, IReadOnlyList<string> Values) : Filter;

    /// <summary>True where the column has no value, or a text of blanks.</summary>
    /// <param name="Column">The column's exact name.</param>
    public sealed record Empty(string Column) : Filter;

    /// <summary>True where the column's text, trimmed and in capitals, is one of the given values; false without values.</summary>
    /// <param name="Column">The exact name of a text column.</param>
    /// <param name="Values">The values, trimmed and in capitals.</param>
    public sealed record OneOfAlike(string Column, IReadOnlyList<string> Values) : Filter;
}
