using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A text that an old program filled up with blanks.</summary>
public sealed record PaddedReading : TextReading
{
    /// <summary>To which length it is filled up behind the text when it is written; 0 for not at all.</summary>
    public int Length { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "text without the blanks around it";

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Needs("texts", stored)
            ?? (Length is < 0 or > 1000 ? "A text is filled up to at most 1000 characters. Correct it." : null);
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.Trim(' ');
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(value);
        problem = null;
        return value.PadRight(Length);
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        var text = new Formula.Trimmed(new Formula.Stored());
        return new Formula.Chosen([new(new FormulaTest.Matches(new Formula.Stored(), "[^ \t\r\n]"), text)]);
    }
}
