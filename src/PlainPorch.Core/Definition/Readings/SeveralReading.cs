using System.Runtime.CompilerServices;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// Several values that are kept in one column. They are shown side by side; a condition, a search or a narrowing asks for one of them.
/// </summary>
public abstract record SeveralReading : Reading
{
    private static readonly ConditionalWeakTable<SeveralReading, ColumnType> _types = [];

    /// <summary>The values with their words, in the order in which they are offered.</summary>
    public IReadOnlyList<WordFor> Words { get; init; } = [];

    /// <summary>The type of one of the values.</summary>
    [JsonIgnore]
    public ColumnType One =>
        Words.Count == 0 ? new ColumnType { StoreType = "text", Kind = ValueKind.Text } : Known with { Kind = ValueKind.Enum };

    /// <inheritdoc/>
    public sealed override ColumnType As(ColumnType stored) => Known;

    /// <summary>The test that one value is among those that are stored.</summary>
    /// <param name="stored">The column's type in the database.</param>
    /// <param name="value">The value, as people read it.</param>
    public abstract FormulaTest Holding(ColumnType stored, string value);

    /// <summary>The tests that hold, all together, just where what is stored can be read; blanks and what means none left aside.</summary>
    private protected abstract FormulaTest Fits(ColumnType stored);

    /// <summary>Reads what is stored.</summary>
    /// <returns>The words of the values in it; null where it does not fit.</returns>
    private protected abstract IEnumerable<string>? Split(string stored);

    /// <summary>Writes values; each is one of <see cref="Words"/> where there are any.</summary>
    private protected abstract string Join(IReadOnlyList<string> values, ColumnType stored, out string? problem);

    /// <inheritdoc/>
    protected sealed override string? Decode(string stored, ColumnType type) =>
        Split(stored) is { } values ? ValueText.WriteArray(values.Distinct()) : null;

    /// <inheritdoc/>
    protected sealed override string? Encode(string value, ColumnType stored, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(value);
        ArgumentNullException.ThrowIfNull(stored);
        var text = Join([.. ValueText.ItemsOf(value)?.OfType<string>() ?? []], stored, out problem);
        return problem is null ? text : null;
    }

    /// <inheritdoc/>
    protected sealed override Formula Compute(ColumnType stored) =>
        new Formula.Chosen([new FormulaCase(Fits(stored), new Formula.Stored())]);

    /// <summary>What is wrong with the words.</summary>
    /// <returns>A sentence with the remedy; null where nothing is.</returns>
    private protected string? ProblemWithWords()
    {
        if (Words.Count > WordsReading.MostWords)
            return $"A list has at most {WordsReading.MostWords} values. Take some out.";
        if (Words.Any(word => string.IsNullOrWhiteSpace(word.Stored) || string.IsNullOrWhiteSpace(word.Word)))
            return "Each value needs its words. Fill both in, or take the line out.";
        if (Twice(word => AnyCase.Capitals(word.Stored)) is { } stored)
            return $"“{stored.Stored}” is there twice. Take one of them out.";
        return Twice(word => word.Word) is { } twice
            ? $"Two values are called “{twice.Word}”. Give one of them another name."
            : null;
    }

    /// <summary>The word of a stored value; the value itself where there are no words.</summary>
    /// <returns>The word; null for a value that is not known.</returns>
    private protected string? WordOf(string code) =>
        Words.Count == 0 ? code : Words.FirstOrDefault(word => AnyCase.Same(word.Stored, code))?.Word;

    /// <summary>The stored value of a word.</summary>
    private protected string CodeOf(string value) => Words.FirstOrDefault(word => word.Word == value)?.Stored ?? value;

    private WordFor? Twice(Func<WordFor, string> by) => Words.GroupBy(by).FirstOrDefault(group => group.Count() > 1)?.First();

    // Beside the record, so that a changed copy does not bear the old one.
    private ColumnType Known => _types.GetValue(this, static reading => new ColumnType
        {
            StoreType = "text",
            Kind = ValueKind.Several,
            EnumValues = [.. reading.Words.Select(word => word.Word)],
        });
}
