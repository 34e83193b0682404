using System.Text.Json.Serialization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Filters;

/// <summary>A condition on records, as a tree. What it says is data; carrying it out is the data layer's.</summary>
public abstract record Filter
{
    private protected Filter() { }

    /// <summary>True where every part is; true without parts.</summary>
    /// <param name="Parts">The parts.</param>
    public sealed record All(IReadOnlyList<Filter> Parts) : Filter;

    /// <summary>True where some part is; false without parts.</summary>
    /// <param name="Parts">The parts.</param>
    public sealed record Any(IReadOnlyList<Filter> Parts) : Filter;

    /// <summary>True where the part is not: also where an empty value left it open.</summary>
    /// <param name="Part">The part.</param>
    public sealed record Not(Filter Part) : Filter;

    /// <summary>True where the column's text matches the given one.</summary>
    /// <param name="Column">The exact name of a text column.</param>
    /// <param name="Text">The text, taken literally.</param>
    /// <param name="How">Where it has to occur, and what is overlooked.</param>
    public sealed record Matches(string Column, string Text, TextMatch How) : Filter
    {
        /// <summary>How the column is read, where its text is not the one that is stored; null where it is.</summary>
        public Reading? Reading { get; init; }
    }

    /// <summary>
    /// True where the text occurs in one of several columns. They are looked at as one, so that one index serves them all.
    /// </summary>
    /// <param name="Columns">The exact names of two or more text columns, sorted.</param>
    /// <param name="Text">The text, taken literally.</param>
    /// <param name="CaseCounts">Whether capitals and small letters differ.</param>
    public sealed record OccursIn(IReadOnlyList<string> Columns, string Text, bool CaseCounts) : Filter;

    /// <summary>True where the column has the given value.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Value">The value in its one text form.</param>
    public sealed record EqualTo(string Column, string Value) : Filter;

    /// <summary>True where the column's value compares with the given one as told; never where it is empty.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="How">The comparison.</param>
    /// <param name="Value">The value in its one text form.</param>
    public sealed record Compared(string Column, Comparison How, string Value) : Filter;

    /// <summary>True where two columns' values compare as told; never where one is empty.</summary>
    /// <param name="Column">The first column's exact name.</param>
    /// <param name="How">The comparison.</param>
    /// <param name="Other">The second column's exact name; of the same kind of values.</param>
    public sealed record ComparedWith(string Column, Comparison How, string Other) : Filter;

    /// <summary>True where the column has one of the given values; false without values.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Values">The values in their one text form.</param>
    public sealed record OneOf(string Column, IReadOnlyList<string> Values) : Filter;

    /// <summary>True where the column has no value, or a text of blanks.</summary>
    /// <param name="Column">The column's exact name.</param>
    public sealed record Empty(string Column) : Filter;

    /// <summary>
    /// True where the column has a value that the panel fixes, not a reader: it is written into the statement, so that an index
    /// over
    /// just these records serves it.
    /// </summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Value">The value in the one text form.</param>
    public sealed record Marked(string Column, string Value) : Filter;

    /// <summary>
    /// True where the column's text, trimmed and in capitals, is one of the given values; false without values.
    /// </summary>
    /// <param name="Column">The exact name of a text column.</param>
    /// <param name="Values">The values, trimmed and in capitals.</param>
    public sealed record OneOfAlike(string Column, IReadOnlyList<string> Values) : Filter;

    /// <summary>True where what the column's stored value means compares with a value as told; never where it means none.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Reading">How it is read.</param>
    /// <param name="How">The comparison.</param>
    /// <param name="Value">The value in the one text form of the type that it is read as.</param>
    public sealed record ReadAs(string Column, Reading Reading, Comparison How, string Value) : Filter;

    /// <summary>True where the column's stored value means something by its reading: it is no misfit, and means not “none”.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Reading">How it is read.</param>
    public sealed record Fits(string Column, Reading Reading) : Filter;

    /// <summary>True where a column of several values holds one.</summary>
    /// <param name="Column">The column's exact name.</param>
    /// <param name="Reading">How it is read.</param>
    /// <param name="Value">The one value, as people read it.</param>
    public sealed record Holds(string Column, SeveralReading Reading, string Value) : Filter;

    /// <summary>True where the record that the column refers to fulfils a condition.</summary>
    /// <param name="Column">The lookup column's exact name.</param>
    /// <param name="Lookup">What it refers to.</param>
    /// <param name="Of">The condition on the record referred to.</param>
    public sealed record Refers(string Column, Lookup Lookup, Filter Of) : Filter
    {
        /// <summary>The table referred to, where its panel computes columns that the condition may be on; null where it computes none.</summary>
        public Table? Computing { get; init; }
    }

    /// <summary>
    /// True where no other row of the table has the same values in some columns. What nothing else keeps unique is written to only
    /// so.
    /// </summary>
    /// <param name="Columns">The columns' exact names; at least one.</param>
    public sealed record Alone(IReadOnlyList<string> Columns) : Filter;

    /// <summary>True for the one row that is at a place, if it is still the version that was there.</summary>
    /// <param name="Place">Where it is.</param>
    public sealed record At(RowPlace Place) : Filter;

    /// <summary>True where an expression comes to true.</summary>
    /// <param name="Rule">The expression, with the moment and the person that ask.</param>
    public sealed record Fulfils(IAskedRule Rule) : Filter;

    /// <summary>True for the rows that a transaction wrote: of every table but foreign ones the database tells that.</summary>
    /// <param name="Version">The transaction's number, as rows bear it.</param>
    public sealed record WrittenBy(uint Version) : Filter;

    /// <summary>The columns of the record itself that it asks about, some perhaps several times.</summary>
    public IEnumerable<string> AskedColumns() =>
        this switch
        {
            All(var parts) => parts.SelectMany(part => part.AskedColumns()),
            Any(var parts) => parts.SelectMany(part => part.AskedColumns()),
            Not(var part) => part.AskedColumns(),
            Matches matches => [matches.Column],
            OccursIn occurs => occurs.Columns,
            EqualTo equal => [equal.Column],
            Compared compared => [compared.Column],
            ComparedWith compared => [compared.Column, compared.Other],
            OneOf one => [one.Column],
            OneOfAlike one => [one.Column],
            Empty empty => [empty.Column],
            Marked marked => [marked.Column],
            ReadAs read => [read.Column],
            Fits fits => [fits.Column],
            Holds holds => [holds.Column],
            Refers refers => [refers.Column, .. refers.Lookup.Also.Select(pair => pair.From)],
            Alone alone => alone.Columns,
            Fulfils fulfils => fulfils.Rule.AskedColumns(),
            At or WrittenBy => [],
            _ => throw new InvalidOperationException("A filter that is not known here."),
        };

    /// <summary>The conditions that all have to hold, none of them joined of others.</summary>
    public IEnumerable<Filter> Conjuncts() => this is All(var parts) ? parts.SelectMany(part => part.Conjuncts()) : [this];

    /// <summary>
    /// Whether it asks for several things at once, a part of a text among them. How many records fulfil each tells little about
    /// how many fulfil all, so that a database's guess at the best way to find them is often a bad one.
    /// </summary>
    public bool IsHardToGuess() =>
        this is All(var parts) && parts.Count(part => !part.IsFixed()) > 1 && parts.Any(part => part.AsksForText());

    // What a panel asks of all its lists alike leaves most of the records.
    private bool IsFixed() => this is Marked or Not(Marked) or Empty;

    private bool AsksForText() =>
        this switch
        {
            All(var parts) => parts.Any(part => part.AsksForText()),
            Any(var parts) => parts.Any(part => part.AsksForText()),
            Matches or OccursIn => true,
            _ => false,
        };

    /// <summary>Joins conditions that all have to hold.</summary>
    /// <param name="parts">The conditions; nulls are left out.</param>
    /// <returns>The condition; null where there is none.</returns>
    public static Filter? Join(params IEnumerable<Filter?> parts) =>
        parts.OfType<Filter>().ToList() switch
        {
            [] => null,
            [var only] => only,
            var several => new All(several),
        };
}

/// <summary>
/// An expression that comes to true or false, with the moment and the person that ask. Filters only know that it is one.
/// </summary>
public interface IAskedRule
{
    /// <summary>The columns of the record itself that it asks about, some perhaps several times.</summary>
    IEnumerable<string> AskedColumns();
}

/// <summary>How two values are compared.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Comparison>))]
public enum Comparison
{
    /// <summary>The same.</summary>
    Equal,

    /// <summary>Smaller or earlier.</summary>
    Less,

    /// <summary>Smaller, earlier or the same.</summary>
    AtMost,

    /// <summary>Greater or later.</summary>
    More,

    /// <summary>Greater, later or the same.</summary>
    AtLeast,
}

/// <summary>How a text is compared with a value.</summary>
/// <param name="Place">Where it has to occur.</param>
/// <param name="CaseCounts">Whether capitals and small letters differ.</param>
/// <param name="AccentsCount">Whether letters with and without accents differ.</param>
public sealed record TextMatch(TextPlace Place, bool CaseCounts = false, bool AccentsCount = true)
{
    /// <summary>Anywhere, capitals or not.</summary>
    public static TextMatch Anywhere { get; } = new(TextPlace.Contains);
}
