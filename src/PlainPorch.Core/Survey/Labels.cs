using System.Collections.Frozen;
using Humanizer;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>Makes labels that people can read from the identifiers of a schema.</summary>
public static class Labels
{
    // Abbreviations that mean the same in nearly every office. What only one schema means is for its own word list.
    private const string Abbreviations = """
        addr=address; amt=amount; arr=arrival; blt=built; cat=category; cd=code; cnt=count;
        ctry=country; cust=customer; del=deleted; dep=departure; dept=department; desc=description;
        descr=description; dob=date of birth; dt=date; ent=entered; flg=flag; fname=first name;
        hist=history; ins=inserted; len=length; lname=last name; loc=location; max=maximum; min=minimum;
        mod=modified; msg=message; nm=name; no=number; num=number; ord=order; pct=percent; qty=quantity;
        ref=reference; seq=sequence; stat=status; tel=telephone; ts=time; txt=text; typ=type;
        upd=updated; usr=user; val=value; yr=year
        """;

    private static readonly FrozenDictionary<string, string> _words = Abbreviations
        .Split(';', StringSplitOptions.TrimEntries)
        .Select(pair => pair.Split('='))
        .ToFrozenDictionary(pair => pair[0], pair => pair[1]);

    private static readonly FrozenSet<string> _capitals = new[]
    {
        "id",
        "iban",
        "url",
        "vat",
        "isbn",
        "ip",
        "pdf",
        "html",
        "json",
        "xml",
        "uuid",
        "sku",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _typePrefixes = new[]
    {
        "str",
        "int",
        "lng",
        "dbl",
        "sng",
        "dtm",
        "bln",
        "bol",
        "cur",
        "byt",
        "chr",
        "vch",
        "fld",
        "col",
    }.ToFrozenSet();

    private static readonly string[] _keyEndings = [" number", " ID", " code", " key"];

    // "Power yn" helps nobody: the tick says it.
    private static readonly FrozenSet<string> _silentEndings = new[] { "yn" }.ToFrozenSet();

    /// <summary>The label of a column: <c>OWNR_NO</c> becomes "Ownr number".</summary>
    /// <returns>A label in sentence case; the identifier itself where it has no letters or digits.</returns>
    public static string ForColumn(string identifier) => Sentence(identifier, WithoutType(IdentifierWords.Split(identifier)));

    /// <summary>
    /// The label of a column, with the words of its schema at hand: <c>OWNR_NO</c> beside a table <c>OWNERS</c> becomes "Owner
    /// number", and a unit at the end of a number's name stands in brackets.
    /// </summary>
    public static string ForColumn(Column column, Vocabulary vocabulary)
    {
        ArgumentNullException.ThrowIfNull(column);
        ArgumentNullException.ThrowIfNull(vocabulary);
        var words = WithoutType(IdentifierWords.Split(column.Name)).Select(word => Expand(word, column, vocabulary)).ToList();
        if (words.Count < 2 || !column.Type.IsNumber || !Units.TryGetValue(words[^1], out var unit))
            return Sentence(column.Name, words);
        // What is measured in metres and written with three letters is an abbreviation of the trade: LOA.
        var measure =
            words is [{ Length: <= 3 } only, _] && !_words.ContainsKey(only) && !vocabulary.Own.ContainsKey(only)
                ? only.ToUpperInvariant()
                : Sentence(column.Name, [.. words.SkipLast(1)]);
        return $"{measure} ({unit})";
    }

    /// <summary>
    /// The label of a column that shows the record it refers to: "Owner number" shows an owner's name, so "Owner" says what is
    /// there.
    /// </summary>
    /// <param name="label">The label of the column as a value.</param>
    public static string ForLookup(string label)
    {
        ArgumentNullException.ThrowIfNull(label);
        var ending = _keyEndings.FirstOrDefault(ending =>
            label.Length > ending.Length && label.EndsWith(ending, StringComparison.Ordinal)
        );
        return ending is null ? label : label[..^ending.Length];
    }

    // What the developer says goes before what most offices mean, and that before what the schema's tables suggest.
    private static string Expand(string word, Column column, Vocabulary vocabulary) =>
        vocabulary.Own.TryGetValue(word, out var means) ? means
        : _words.ContainsKey(word) ? word
        : vocabulary.Expand(word, column.Comment);

    // "strName", "dtm_start": programs of a time wrote the type in front.
    private static IReadOnlyList<string> WithoutType(IReadOnlyList<string> words) =>
        words.Count > 1 && _typePrefixes.Contains(words[0]) ? [.. words.Skip(1)] : words;

    /// <summary>The units that stand at the end of a number's name, as they are written for people.</summary>
    internal static FrozenDictionary<string, string> Units { get; } =
        new Dictionary<string, string>
        {
            ["m"] = "m",
            ["mm"] = "mm",
            ["cm"] = "cm",
            ["km"] = "km",
            ["kg"] = "kg",
            ["g"] = "g",
            ["t"] = "t",
            ["l"] = "l",
            ["kwh"] = "kWh",
            ["kw"] = "kW",
            ["hrs"] = "h",
            ["hours"] = "hours",
            ["min"] = "min",
            ["sec"] = "s",
            ["days"] = "days",
            ["yrs"] = "years",
            ["years"] = "years",
            ["ft"] = "ft",
            ["lb"] = "lb",
            ["mb"] = "MB",
            ["gb"] = "GB",
            ["bytes"] = "bytes",
        }.ToFrozenDictionary();

    /// <summary>The label of a table's records taken together: <c>BoatKit</c> becomes "Boat kit".</summary>
    /// <param name="identifier">The table's name.</param>
    /// <param name="vocabulary">The words of the schema, of which the developer's own are used; null for none.</param>
    public static string ForTable(string identifier, Vocabulary? vocabulary = null)
    {
        IReadOnlyList<string> words =
        [
            .. IdentifierWords.Split(identifier).Select(word => vocabulary?.Own.GetValueOrDefault(word) ?? word),
        ];
        return Sentence(identifier, words.Count > 1 && words[0] is "tbl" or "t" or "v" or "vw" ? [.. words.Skip(1)] : words);
    }

    /// <summary>What one record of a table is called in the middle of a sentence: "Boats" becomes "boat".</summary>
    /// <param name="label">The label of the records taken together.</param>
    public static string ForRecord(string label)
    {
        ArgumentNullException.ThrowIfNull(label);
        var words = label.Split(' ');
        words[^1] = words[^1].Singularize(inputIsKnownToBePlural: false);
        words[0] = _capitals.Contains(words[0].ToLowerInvariant()) ? words[0] : words[0].ToLowerInvariant();
        return string.Join(' ', words);
    }

    private static string Sentence(string identifier, IReadOnlyList<string> words)
    {
        if (words.Count > 1 && _silentEndings.Contains(words[^1]))
            words = [.. words.SkipLast(1)];
        if (words.Count == 0)
            return string.IsNullOrWhiteSpace(identifier) ? "(blank)" : identifier;
        var text = string.Join(' ', words.Select(Word));
        return char.ToUpperInvariant(text[0]) + text[1..];
    }

    private static string Word(string word) =>
        _capitals.Contains(word) ? word.ToUpperInvariant() : _words.GetValueOrDefault(word, word);
}
