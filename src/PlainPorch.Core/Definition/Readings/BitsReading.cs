using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// Several yes or no in a whole number, each a bit of it. The values of <see cref="SeveralReading.Words"/> are the bits: 1, 2, 4, 8.
/// </summary>
public sealed record BitsReading : SeveralReading
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "several yes or no in a number";

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.IsInteger;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("whole numbers", stored) is { } type)
            return type;
        if (Words.Count == 0)
            return "Say what the bits mean: 1 and a word, 2 and a word, 4 and a word, and so on.";
        if (ProblemWithWords() is { } words)
            return words;
        return Words.FirstOrDefault(word => BitOf(word) is not { } bit || IntegerRange.Within(stored, bit) is null) is { } wrong
            ? $"“{wrong.Stored}” is not a bit that the column can hold. Type 1, 2, 4, 8 and so on."
            : null;
    }

    /// <inheritdoc/>
    public override FormulaTest Holding(ColumnType stored, string value) =>
        Words.FirstOrDefault(word => word.Word == value) is { } word && BitOf(word) is { } bit
            ? new FormulaTest.HasBits(new Formula.StoredNumber(), bit, bit)
            : new FormulaTest.HasBits(new Formula.StoredNumber(), 0, 1);

    /// <inheritdoc/>
    private protected override FormulaTest Fits(ColumnType stored) =>
        new FormulaTest.HasBits(new Formula.StoredNumber(), ~All, 0);

    /// <inheritdoc/>
    private protected override IEnumerable<string>? Split(string stored) =>
        long.TryParse(stored, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number) && (number & ~All) == 0
            ? Words.Where(word => (number & BitOf(word)!.Value) != 0).Select(word => word.Word)
            : null;

    /// <inheritdoc/>
    private protected override string Join(IReadOnlyList<string> values, ColumnType stored, out string? problem)
    {
        problem = null;
        return Words
            .Where(word => values.Contains(word.Word))
            .Aggregate(0L, (number, word) => number | BitOf(word)!.Value)
            .ToString(CultureInfo.InvariantCulture);
    }

    private long All => Words.Aggregate(0L, (all, word) => all | (BitOf(word) ?? 0));

    private static long? BitOf(WordFor word) =>
        long.TryParse(word.Stored, NumberStyles.None, CultureInfo.InvariantCulture, out var bit) && long.IsPow2(bit) ? bit : null;
}
