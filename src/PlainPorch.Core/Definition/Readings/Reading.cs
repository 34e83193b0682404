using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// What a column's stored values mean, where the database's type does not say it: a day kept as <c>20111001</c>, yes as <c>Y</c>.
/// A reading alters nothing in the source; it only tells how a stored value is read, and how one that was typed is stored.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(DayReading), "day")]
[JsonDerivedType(typeof(MonthReading), "month")]
[JsonDerivedType(typeof(TimeReading), "time")]
[JsonDerivedType(typeof(MomentReading), "moment")]
[JsonDerivedType(typeof(SinceReading), "since")]
[JsonDerivedType(typeof(YesNoReading), "yesNo")]
[JsonDerivedType(typeof(NumberReading), "number")]
[JsonDerivedType(typeof(TextNumberReading), "textNumber")]
[JsonDerivedType(typeof(DurationReading), "duration")]
[JsonDerivedType(typeof(WordsReading), "words")]
[JsonDerivedType(typeof(ListReading), "list")]
[JsonDerivedType(typeof(PlacesReading), "places")]
[JsonDerivedType(typeof(BitsReading), "bits")]
[JsonDerivedType(typeof(PaddedReading), "padded")]
[JsonDerivedType(typeof(CapitalsReading), "capitals")]
[JsonDerivedType(typeof(ContactReading), "contact")]
[JsonDerivedType(typeof(DocumentReading), "document")]
[JsonDerivedType(typeof(Base64Reading), "base64")]
public abstract record Reading : DefinitionPart
{
    // Beside the record, so that a changed copy does not bear the old one.
    private static readonly ConditionalWeakTable<Reading, string> _signatures = [];

    /// <summary>Stored values that mean “none”, such as <c>0</c> or <c>00000000</c>; blanks and null do in any case.</summary>
    public IReadOnlyList<string> None { get; init; } = [];

    /// <summary>
    /// Whether blanks around a stored text are overlooked. Without it an ordinary index serves more conditions.
    /// </summary>
    public bool IsPadded { get; init; }

    /// <summary>What it is called where one is chosen, and in what the set-up says of it.</summary>
    [JsonIgnore]
    public abstract string Says { get; }

    /// <summary>How the client shows and takes in values, beyond their type; null where the type says it all.</summary>
    [JsonIgnore]
    public virtual ValueLook? Look => null;

    /// <summary>Whether what is read is what is stored, so that conditions ask for the stored value as if there were no reading.</summary>
    [JsonIgnore]
    public virtual bool LeavesValues => false;

    /// <summary>What tells two readings apart, for statements that are kept.</summary>
    [JsonIgnore]
    public string Signature =>
        _signatures.GetValue(this, static reading => JsonSerializer.Serialize(reading, DefinitionJson.Options));

    /// <summary>Whether columns of a type can be read so at all.</summary>
    /// <param name="stored">The column's type in the database.</param>
    public abstract bool Suits(ColumnType stored);

    /// <summary>The type that values are read as.</summary>
    /// <param name="stored">The column's type in the database.</param>
    public abstract ColumnType As(ColumnType stored);

    /// <summary>What keeps a column from being read so.</summary>
    /// <param name="stored">The column's type in the database.</param>
    /// <returns>A sentence with the remedy; null where it can be.</returns>
    public abstract string? ProblemWith(ColumnType stored);

    /// <summary>What keeps a column from being read so, the values that mean none included.</summary>
    /// <param name="stored">The column's type in the database.</param>
    /// <returns>A sentence with the remedy; null where it can be.</returns>
    public string? Problem(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return ProblemWith(stored)
            ?? (
                stored.Kind is not ValueKind.Text
                && None.FirstOrDefault(none => !Values.ValueText.TryRead(stored, none, out _, out _)) is { } wrong
                    ? $"The column, {stored.StoreType}, cannot hold “{wrong}”, which is to mean none. Correct it."
                    : null
            );
    }

    /// <summary>Reads a stored value.</summary>
    /// <param name="stored">The value in the one text form of its own type; null where the column is empty.</param>
    /// <param name="type">The column's type in the database.</param>
    public ReadValue Read(string? stored, ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        if (stored is null)
            return OfEmpty();
        var text = IsPadded && type.Kind is ValueKind.Text ? stored.Trim(' ') : stored;
        if (IsNone(text, type))
            return ReadValue.Empty;
        if (AnyCase.IsBlank(text))
            return OfEmpty();
        return Decode(text, type) is { } value ? new ReadValue(ReadSort.Value, value) : new ReadValue(ReadSort.Misfit, stored);
    }

    /// <summary>Writes a value as the column stores it.</summary>
    /// <param name="value">The value in the one text form of the type that it is read as; null for none.</param>
    /// <param name="column">The column.</param>
    /// <param name="before">
    /// What is stored so far; it stays, letter for letter, where it already means the value. Null for nothing.
    /// </param>
    /// <param name="problem">What keeps it from being stored, as a sentence with the remedy; null on success.</param>
    /// <returns>The stored value; null for an empty column, or where there is a problem.</returns>
    public string? Write(string? value, Column column, string? before, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(column);
        problem = null;
        if (before is not null && Read(before, column.Type) is var was && was.Text == value)
            return before;
        if (value is null)
        {
            return None is [var none, ..] ? none
                : column.IsNullable || column.Type.Kind is not ValueKind.Text ? null
                : "";
        }

        return Encode(value, column.Type, out problem);
    }

    /// <summary>The value as the database computes it; null where the stored one is empty, means none, or does not fit.</summary>
    /// <param name="stored">The column's type in the database.</param>
    public Formula ToFormula(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        var value = Compute(stored);
        return None.Count == 0 ? value : new Formula.Chosen(WithoutNone(stored, value.IsNumber), value);
    }

    /// <summary>
    /// The text that a value means, where what is stored is another text, so that a part of it can be looked for; null where the
    /// stored one does.
    /// </summary>
    /// <param name="stored">The column's type in the database.</param>
    public virtual Formula? ToText(ColumnType stored) => null;

    /// <summary>A formula that is null just where <see cref="ToFormula"/> is, and may be computed in less time.</summary>
    /// <param name="stored">The column's type in the database.</param>
    public Formula ToFitting(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Fitting(stored) is not { } fitting
            ? ToFormula(stored)
            : new Formula.Chosen([
                .. WithoutNone(stored, ofNumber: false),
                .. fitting.Select(test => new FormulaCase(test, new Formula.Literal("+"))),
            ]);
    }

    /// <summary>
    /// Whether stored values that fit stand in the order of what they mean, so that order and bounds can be asked of the column
    /// itself and an ordinary index serves them.
    /// </summary>
    /// <param name="stored">The column's type in the database.</param>
    public virtual bool KeepsOrder(ColumnType stored) => false;

    /// <summary>The first stored value that means a given one or more.</summary>
    /// <param name="value">The value in the one text form of the type that it is read as.</param>
    /// <param name="isAfter">Whether only more is wanted, not the value itself.</param>
    /// <param name="stored">The column's type; asked only where <see cref="KeepsOrder"/> holds for it.</param>
    /// <returns>The stored value; null where none means as much.</returns>
    public virtual string? FirstFrom(string value, bool isAfter, ColumnType stored) => null;

    /// <summary>
    /// Between which stored values all lie that mean something, so that an index is not searched through what means none; asked only
    /// where <see cref="KeepsOrder"/> holds.
    /// </summary>
    /// <param name="stored">The column's type in the database.</param>
    /// <returns>The least and the greatest, which belong to them; null where they are not known.</returns>
    public virtual (string Least, string Greatest)? Ends(ColumnType stored) => null;

    /// <summary>All stored values that mean a given one, where they can be listed.</summary>
    /// <param name="value">The value in the one text form of the type that it is read as.</param>
    /// <param name="stored">The column's type in the database.</param>
    /// <returns>The stored values, perhaps none; null where they cannot be listed.</returns>
    public virtual IReadOnlyList<string>? StoredFor(string value, ColumnType stored) => null;

    /// <summary>What <see cref="ToFormula"/> makes of a value: the text or number by which it is compared.</summary>
    public virtual string InFormula(string value) => value;

    /// <summary>The value that <see cref="ToFormula"/> made something of.</summary>
    /// <param name="made">What it made, as the database writes it.</param>
    public virtual string FromFormula(string made) => made;

    /// <summary>Reads a stored text that is neither blank nor means none.</summary>
    /// <returns>The value in the one text form; null where it does not fit.</returns>
    protected abstract string? Decode(string stored, ColumnType type);

    /// <summary>Writes a value.</summary>
    protected abstract string? Encode(string value, ColumnType stored, out string? problem);

    /// <summary>The value as the database computes it, <see cref="None"/> left aside.</summary>
    protected abstract Formula Compute(ColumnType stored);

    /// <summary>Tests one of which holds just where there is a value, <see cref="None"/> left aside; null for none that is quicker.</summary>
    private protected virtual IReadOnlyList<FormulaTest>? Fitting(ColumnType stored) => null;

    /// <summary>What null and blanks mean.</summary>
    protected virtual ReadValue OfEmpty() => ReadValue.Empty;

    // A number is the same however many zeros it ends in.
    private bool IsNone(string text, ColumnType type) =>
        type.IsNumber && Number(text) is { } number ? None.Any(none => Number(none) == number) : None.Contains(text);

    private IReadOnlyList<FormulaCase> WithoutNone(ColumnType stored, bool ofNumber)
    {
        var nothing = new Formula.Nothing(ofNumber);
        if (None.Count == 0)
            return [];
        return stored.IsNumber
            ?
            [
                .. None.Select(Number)
                    .OfType<decimal>()
                    .Select(number => new FormulaCase(
                        new FormulaTest.IsBetween(new Formula.StoredNumber(), number, number),
                        nothing
                    )),
            ]
            : [new(new FormulaTest.IsOneOf(Text(stored), None), nothing)];
    }

    private static decimal? Number(string text) =>
        decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) ? number : null;

    /// <summary>The stored value as text, without the blanks around it where they are overlooked.</summary>
    protected Formula Text(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return IsPadded && stored.Kind is ValueKind.Text ? new Formula.Trimmed(new Formula.Stored()) : new Formula.Stored();
    }

    /// <summary>Says that a column is of no type that can be read so.</summary>
    /// <param name="types">What can be, in words.</param>
    /// <param name="stored">The column's type in the database.</param>
    protected string? Needs(string types, ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return Suits(stored)
            ? null
            : $"Only {types} can be read as {Says}; this column is {stored.StoreType}. Choose another meaning.";
    }
}

/// <summary>What a stored value turned out to be.</summary>
public enum ReadSort
{
    /// <summary>Empty, or a value that means none.</summary>
    Empty,

    /// <summary>A value.</summary>
    Value,

    /// <summary>Something that the reading does not know.</summary>
    Misfit,
}

/// <summary>A stored value as it is read.</summary>
/// <param name="Sort">What it turned out to be.</param>
/// <param name="Text">The value in the one text form; what does not fit, as it is stored; null for an empty one.</param>
public readonly record struct ReadValue(ReadSort Sort, string? Text)
{
    /// <summary>No value.</summary>
    public static ReadValue Empty => new(ReadSort.Empty, null);
}

/// <summary>How values are shown and taken in, beyond their type.</summary>
/// <param name="As">What they are.</param>
/// <param name="Unit">What stands beside a number, such as <c>m</c>, <c>%</c> or <c>€</c>; null for nothing.</param>
/// <param name="UnitFirst">Whether it stands before the number.</param>
public sealed record ValueLook(LookSort As, string? Unit = null, bool UnitFirst = false);

/// <summary>What a value is where it is shown.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<LookSort>))]
public enum LookSort
{
    /// <summary>What its type says.</summary>
    Plain,

    /// <summary>A month: a day whose own number means nothing.</summary>
    Month,

    /// <summary>A number with a unit.</summary>
    Amount,

    /// <summary>An e-mail address.</summary>
    Email,

    /// <summary>An address of the web.</summary>
    Web,

    /// <summary>A telephone number.</summary>
    Phone,

    /// <summary>A JSON document.</summary>
    Json,

    /// <summary>An XML document.</summary>
    Xml,
}
