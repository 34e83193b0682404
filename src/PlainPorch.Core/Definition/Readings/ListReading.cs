using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// Several values one after the other in a text: with a sign between them, as in <c>DOG,SHORE</c>, or each as long as the others.
/// </summary>
public sealed record ListReading : SeveralReading
{
    private const int Longest = 100;

    /// <summary>The sign between two values, such as a comma; "" where each is <see cref="Width"/> characters long.</summary>
    public required string Sign { get; init; }

    /// <summary>How many characters each value takes, blanks behind it included; 0 where there is a sign between them.</summary>
    public int Width { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "several values in a text";

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.Kind is ValueKind.Text;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("texts", stored) is { } type)
            return type;
        if (ProblemWithWords() is { } words)
            return words;
        if (Sign.Length == 0 && Width is < 1 or > Longest)
            return $"Values without a sign between them are 1 to {Longest} characters long. Say how many, or choose a sign.";
        if (Sign.Length > 1)
            return "One sign stands between two values. Choose one.";
        if (Sign.Length == 1 && Words.FirstOrDefault(word => word.Stored.Contains(Sign, StringComparison.Ordinal)) is { } parted)
            return $"“{parted.Stored}” has the sign in it that parts the values. Correct one of them.";
        return Sign.Length == 0 && Words.FirstOrDefault(word => word.Stored.Length > Width) is { } wide
            ? $"“{wide.Stored}” is longer than {Width} characters. Correct one of them."
            : null;
    }

    /// <inheritdoc/>
    public override FormulaTest Holding(ColumnType stored, string value)
    {
        var code = CodePattern(CodeOf(value));
        return new FormulaTest.Matches(
            Text(stored),
            Sign.Length == 0
                ? $"^(?:.{{{Width}}})*{PiecePattern(CodeOf(value))}"
                : $"(?:^|{SignPattern}) *{code} *(?:{SignPattern}|$)"
        );
    }

    /// <inheritdoc/>
    private protected override FormulaTest Fits(ColumnType stored)
    {
        var text = Text(stored);
        var something = new FormulaTest.Matches(text, Sign.Length == 0 ? "[^ ]" : $"[^ {SignPattern}]");
        if (Words.Count == 0)
            return something;
        var codes = string.Join(
            '|',
            Words.Select(word => Sign.Length == 0 ? PiecePattern(word.Stored) : CodePattern(word.Stored))
        );
        return new FormulaTest.Both(
            something,
            new FormulaTest.Matches(
                text,
                Sign.Length == 0 ? $"^(?:{codes}| {{{Width}}})* *$" : $"^ *(?:{codes})? *(?:{SignPattern} *(?:{codes})? *)*$"
            )
        );
    }

    /// <inheritdoc/>
    private protected override IEnumerable<string>? Split(string stored)
    {
        var codes = Pieces(stored)
            .Select(piece => Sign.Length == 1 ? piece.Trim(' ') : piece.TrimEnd(' '))
            .Where(piece => piece.Length > 0)
            .ToList();
        var values = codes.Select(WordOf).OfType<string>().ToList();
        return values.Count == 0 || values.Count < codes.Count ? null : values;
    }

    /// <inheritdoc/>
    private protected override string Join(IReadOnlyList<string> values, ColumnType stored, out string? problem)
    {
        var codes = values.Select(CodeOf).ToList();
        problem =
            Sign.Length == 1 && codes.FirstOrDefault(code => code.Contains(Sign, StringComparison.Ordinal)) is { } parted
                ? $"“{parted}” has a “{Sign}” in it, which parts the values. Leave the sign out."
            : Sign.Length == 0 && codes.FirstOrDefault(code => code.Length > Width) is { } wide
                ? $"“{wide}” is longer than {Width} characters. Shorten it."
            : codes.FirstOrDefault(code => code.Trim(' ') != code) is { } blank
                ? $"“{blank}” begins or ends with a blank. Take it out."
            : null;
        return Sign.Length == 1
            ? string.Join(Sign, codes)
            : string.Concat(codes.Select(code => code.PadRight(Width))).TrimEnd(' ');
    }

    private string SignPattern => AnyCase.Literal(Sign);

    // Words are known whatever their capitals; texts without words as they stand.
    private string CodePattern(string code) => Words.Count == 0 ? AnyCase.Literal(code) : AnyCase.Pattern(code);

    private string PiecePattern(string code) =>
        code.Length >= Width ? CodePattern(code) : $"{CodePattern(code)}(?: {{{Width - code.Length}}}| *$)";

    private IEnumerable<string> Pieces(string stored) =>
        Sign.Length == 1
            ? stored.Split(Sign)
            : Enumerable
                .Range(0, (stored.Length + Width - 1) / Width)
                .Select(i => stored[(i * Width)..Math.Min((i + 1) * Width, stored.Length)]);
}
