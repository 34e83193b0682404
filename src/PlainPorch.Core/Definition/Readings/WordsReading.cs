using System.Runtime.CompilerServices;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>One of a list of values, each of which stands for words that people read.</summary>
public sealed record WordsReading : Reading
{
    /// <summary>The greatest number of values in a list.</summary>
    public const int MostWords = 500;

    private static readonly ConditionalWeakTable<WordsReading, Facts> _facts = [];

    /// <summary>The values with their words, in the order in which they are offered and sorted.</summary>
    public required IReadOnlyList<WordFor> Words { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "list of values";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => Known.Type;

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.Kind is ValueKind.Text or ValueKind.Enum || stored.IsInteger;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("texts, enumerations and whole numbers", stored) is { } type)
            return type;
        if (Words.Count is 0 or > MostWords)
            return $"A list has 1 to {MostWords} values. Type them.";
        if (Words.Any(word => string.IsNullOrWhiteSpace(word.Stored) || string.IsNullOrWhiteSpace(word.Word)))
            return "Each value needs its words. Fill both in, or take the line out.";
        if (Words.GroupBy(word => word.Stored).FirstOrDefault(group => group.Count() > 1) is { } twice)
            return $"“{twice.Key}” is there twice. Take one of them out.";
        if (None.FirstOrDefault(none => Words.Any(word => word.Stored == none)) is { } both)
            return $"“{both}” cannot mean two things. Take it out in one place.";
        return Words.FirstOrDefault(word => !Values.ValueText.TryRead(stored, word.Stored, out _, out _)) is { } wrong
            ? $"The column, {stored.StoreType}, cannot hold “{wrong.Stored}”. Correct it."
            : null;
    }

    /// <inheritdoc/>
    public override IReadOnlyList<string>? StoredFor(string value, ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var codes = Words.Where(word => word.Word == value).Select(word => word.Stored);
        if (stored.Kind is not ValueKind.Text)
            return [.. codes];
        if (IsPadded)
            return null;
        var all = codes.Select(code => FoldsCase ? AnyCase.Spellings(code) : [code]).ToList();
        return all.Contains(null) ? null : [.. all.SelectMany(spellings => spellings!)];
    }

    /// <inheritdoc/>
    public override string InFormula(string value)
    {
        for (var i = 0; i < Words.Count; i++)
        {
            if (Words[i].Word == value)
                return i.ToString(System.Globalization.CultureInfo.InvariantCulture);
        }

        return "-1";
    }

    /// <inheritdoc/>
    public override string FromFormula(string made)
    {
        return Words[int.Parse(made, System.Globalization.CultureInfo.InvariantCulture)].Word;
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type) =>
        Words.FirstOrDefault(word => word.Stored == stored || (FoldsCase && AnyCase.Same(word.Stored, stored)))?.Word;

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        problem = null;
        if (Words.FirstOrDefault(word => word.Word == value) is { } word)
            return word.Stored;
        problem =
            $"“{value}” is not one of the allowed values. Choose one of: {string.Join(", ", As(stored).EnumValues.Take(20))}.";
        return null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var fold = FoldsCase && stored.Kind is ValueKind.Text;
        return new Formula.ToNumber(
            new Formula.Mapped(
                Text(stored),
                [.. Words.Select(word => (fold ? AnyCase.Capitals(word.Stored) : word.Stored, InFormula(word.Word)))],
                CaseCounts: !fold
            )
        );
    }

    private Facts Known => _facts.GetValue(this, static reading => new Facts(reading));

    private bool FoldsCase => Known.FoldsCase;

    // What follows of the words, beside the record, so that a changed copy does not bear it.
    private sealed class Facts(WordsReading reading)
    {
        public ColumnType Type { get; } =
            new()
            {
                StoreType = "text",
                Kind = ValueKind.Enum,
                EnumValues = [.. reading.Words.Select(word => word.Word).Distinct()],
            };

        // Where two codes differ by their capitals alone, capitals count.
        public bool FoldsCase { get; } =
            reading.Words.Select(word => word.Stored.ToUpperInvariant()).Distinct().Count() == reading.Words.Count;
    }
}

/// <summary>A value of a list with what people read.</summary>
/// <param name="Stored">The value.</param>
/// <param name="Word">What people read.</param>
public sealed record WordFor(string Stored, string Word);
