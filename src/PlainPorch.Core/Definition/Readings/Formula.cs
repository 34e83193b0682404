namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// How the database computes what a stored value means: a text that sorts as the value does, or a number. It is data; the data
/// layer makes the expression. Whatever cannot be computed is null.
/// </summary>
public abstract record Formula
{
    private protected Formula() { }

    /// <summary>A regular expression of texts without a sign to be seen.</summary>
    public const string Blank = AnyCase.Blank;

    /// <summary>Whether it gives a number; else a text.</summary>
    public virtual bool IsNumber => false;

    /// <summary>The stored value in the database's text form.</summary>
    public sealed record Stored : Formula;

    /// <summary>The stored value of a number column.</summary>
    public sealed record StoredNumber : Formula
    {
        /// <inheritdoc/>
        public override bool IsNumber => true;
    }

    /// <summary>No value.</summary>
    /// <param name="OfNumber">Whether it stands where there is a number else.</param>
    public sealed record Nothing(bool OfNumber) : Formula
    {
        /// <inheritdoc/>
        public override bool IsNumber => OfNumber;
    }

    /// <summary>A fixed text.</summary>
    /// <param name="Text">The text.</param>
    public sealed record Literal(string Text) : Formula;

    /// <summary>A fixed number.</summary>
    /// <param name="Value">The number.</param>
    public sealed record LiteralNumber(decimal Value) : Formula
    {
        /// <inheritdoc/>
        public override bool IsNumber => true;
    }

    /// <summary>A text without the blanks around it.</summary>
    /// <param name="Of">The text.</param>
    public sealed record Trimmed(Formula Of) : Formula;

    /// <summary>What the first group of a pattern matches; null where it does not match.</summary>
    /// <param name="Of">The text.</param>
    /// <param name="Pattern">A regular expression of those that .NET and PostgreSQL read alike.</param>
    public sealed record Found(Formula Of, string Pattern) : Formula;

    /// <summary>What a text stands for; null where it is none of those that are known.</summary>
    /// <param name="Of">The text.</param>
    /// <param name="Pairs">Texts with what they stand for; where capitals do not count, in capitals.</param>
    /// <param name="CaseCounts">Whether capitals and small letters, of A to Z, differ.</param>
    public sealed record Mapped(Formula Of, IReadOnlyList<(string From, string To)> Pairs, bool CaseCounts) : Formula;

    /// <summary>Texts one after the other.</summary>
    /// <param name="Parts">The texts.</param>
    public sealed record Joined(IReadOnlyList<Formula> Parts) : Formula;

    /// <summary>A text with a part of it replaced wherever it occurs.</summary>
    /// <param name="Of">The text.</param>
    /// <param name="What">The part.</param>
    /// <param name="With">What takes its place.</param>
    public sealed record Replaced(Formula Of, string What, string With) : Formula;

    /// <summary>A part of a text, by its place.</summary>
    /// <param name="Of">The text.</param>
    /// <param name="Start">The place of its first character, from 1.</param>
    /// <param name="Length">Its length.</param>
    public sealed record Slice(Formula Of, int Start, int Length) : Formula;

    /// <summary>A part of a text, by the signs that part it.</summary>
    /// <param name="Of">The text.</param>
    /// <param name="Sign">The sign.</param>
    /// <param name="Place">The place of the part, from 1.</param>
    public sealed record Field(Formula Of, string Sign, int Place) : Formula;

    /// <summary>
    /// What base64 holds, as hexadecimal digits, in whose order the bytes stand. To be asked of base64 alone.
    /// </summary>
    /// <param name="Of">The base64.</param>
    public sealed record FromBase64(Formula Of) : Formula;

    /// <summary>The text in UTF-8 that base64 holds. To be asked of such base64 alone.</summary>
    /// <param name="Of">The base64.</param>
    public sealed record TextFromBase64(Formula Of) : Formula;

    /// <summary>A text with zeros before it, up to a length.</summary>
    /// <param name="Of">The text, which is not longer.</param>
    /// <param name="Length">The length.</param>
    public sealed record ZerosBefore(Formula Of, int Length) : Formula;

    /// <summary>A text of digits, perhaps with a sign and a point, as a number.</summary>
    /// <param name="Of">The text.</param>
    public sealed record ToNumber(Formula Of) : Formula
    {
        /// <inheritdoc/>
        public override bool IsNumber => true;
    }

    /// <summary>A number times another.</summary>
    /// <param name="Of">The number.</param>
    /// <param name="Factor">The other one.</param>
    public sealed record Times(Formula Of, decimal Factor) : Formula
    {
        /// <inheritdoc/>
        public override bool IsNumber => true;
    }

    /// <summary>The sum of two numbers.</summary>
    /// <param name="One">The first.</param>
    /// <param name="Other">The second.</param>
    public sealed record Sum(Formula One, Formula Other) : Formula
    {
        /// <inheritdoc/>
        public override bool IsNumber => true;
    }

    /// <summary>The first case that holds.</summary>
    /// <param name="Cases">The cases, in order; at least one.</param>
    /// <param name="Otherwise">What it is in no case; null for nothing.</param>
    public sealed record Chosen(IReadOnlyList<FormulaCase> Cases, Formula? Otherwise = null) : Formula
    {
        /// <inheritdoc/>
        public override bool IsNumber => Cases[0].Then.IsNumber;
    }
}

/// <summary>A case of a <see cref="Formula.Chosen"/>.</summary>
/// <param name="If">When it holds.</param>
/// <param name="Then">What it gives.</param>
public sealed record FormulaCase(FormulaTest If, Formula Then);

/// <summary>A test within a formula; never true of what is null.</summary>
public abstract record FormulaTest
{
    private protected FormulaTest() { }

    /// <summary>Whether a text matches a pattern.</summary>
    /// <param name="Of">The text.</param>
    /// <param name="Pattern">A regular expression of those that .NET and PostgreSQL read alike.</param>
    public sealed record Matches(Formula Of, string Pattern) : FormulaTest;

    /// <summary>Whether a text is one of several.</summary>
    /// <param name="Of">The text.</param>
    /// <param name="Texts">The texts; at least one.</param>
    public sealed record IsOneOf(Formula Of, IReadOnlyList<string> Texts) : FormulaTest;

    /// <summary>Whether a number lies between two others, both included.</summary>
    /// <param name="Of">The number.</param>
    /// <param name="Least">The least.</param>
    /// <param name="Greatest">The greatest.</param>
    public sealed record IsBetween(Formula Of, decimal Least, decimal Greatest) : FormulaTest;

    /// <summary>Whether some bits of a whole number are as told.</summary>
    /// <param name="Of">The number.</param>
    /// <param name="Bits">The bits that are looked at.</param>
    /// <param name="Set">Those of them that must be set; the others must not.</param>
    public sealed record HasBits(Formula Of, long Bits, long Set) : FormulaTest;

    /// <summary>Whether a value is null or a text of blanks.</summary>
    /// <param name="Of">The value.</param>
    public sealed record IsBlank(Formula Of) : FormulaTest;

    /// <summary>Whether both hold.</summary>
    /// <param name="One">The first.</param>
    /// <param name="Other">The second.</param>
    public sealed record Both(FormulaTest One, FormulaTest Other) : FormulaTest;
}
