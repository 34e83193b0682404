using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>Yes or no kept as one of two values, such as <c>Y</c> and <c>N</c>, or <c>-1</c> and <c>0</c>.</summary>
public sealed record YesNoReading : Reading
{
    /// <summary>The one text form of yes.</summary>
    public const string True = "true";
    private const string False = "false";

    private static readonly ColumnType _boolean = new() { StoreType = "boolean", Kind = ValueKind.Boolean };

    /// <summary>The value that means yes, whatever its capitals.</summary>
    public required string Yes { get; init; }

    /// <summary>The value that means no, whatever its capitals; "" where whatever is blank means no.</summary>
    public required string No { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "yes or no";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => _boolean;

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.Kind is ValueKind.Text or ValueKind.Decimal || stored.IsInteger;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("texts and whole numbers", stored) is { } type)
            return type;
        if (string.IsNullOrWhiteSpace(Yes))
            return "Type the value that means yes.";
        if (AnyCase.Same(Yes, No))
            return "Yes and no cannot be the same value. Correct one of them.";
        if (None.FirstOrDefault(none => AnyCase.Same(none, Yes) || AnyCase.Same(none, No)) is { } both)
            return $"“{both}” cannot mean two things. Take it out in one place.";
        return
            stored.Kind is ValueKind.Text
            || (
                Values.ValueText.TryRead(stored, Yes, out _, out _)
                && (No.Length == 0 || Values.ValueText.TryRead(stored, No, out _, out _))
            )
            ? null
            : $"The column is {stored.StoreType}. Type numbers for yes and no.";
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string>? StoredFor(string value, ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var code = value == True ? Yes : No;
        // Blanks are as many values as there are blanks, and null.
        if (code.Length == 0 || (IsPadded && stored.Kind is ValueKind.Text) || stored.Kind is ValueKind.Decimal)
            return null;
        return stored.Kind is ValueKind.Text ? AnyCase.Spellings(code) : [code];
    }

    /// <inheritdoc/>
    protected override ReadValue OfEmpty() => No.Length == 0 ? new ReadValue(ReadSort.Value, False) : ReadValue.Empty;

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        var text = type.Kind is ValueKind.Decimal ? WholeNumber.WithoutZeros(stored) : stored;
        return AnyCase.Same(text, Yes) ? True
            : AnyCase.Same(text, No) ? False
            : null;
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(stored);
        problem = null;
        var code = value == True ? Yes : No;
        return code.Length == 0 && stored.Kind is not ValueKind.Text ? null : code;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var text = stored.Kind is ValueKind.Decimal ? WholeNumber.SignedFormula : Text(stored);
        var yes = new FormulaCase(new FormulaTest.Matches(text, $"^{AnyCase.Pattern(Yes)}$"), new Formula.Literal(True));
        return new Formula.Chosen([
            yes,
            new(
                No.Length == 0
                    ? new FormulaTest.IsBlank(new Formula.Stored())
                    : new FormulaTest.Matches(text, $"^{AnyCase.Pattern(No)}$"),
                new Formula.Literal(False)
            ),
        ]);
    }
}
