using System.Collections.Frozen;
using Humanizer;

namespace PlainPorch.Core.Survey;

/// <summary>Makes labels that people can read from the identifiers of a schema.</summary>
public static class Labels
{
    // Abbreviations that mean one thing in nearly every office. What only one schema means is for its own word list.
    private const string Abbreviations = """
        addr=address; amt=amount; blt=built; cd=code; cnt=count; ctry=country; cust=customer; dept=department;
        desc=description; descr=description; dob=date of birth; dt=date; flg=flag; fname=first name; hist=history;
        lname=last name; max=maximum; min=minimum; msg=message; nm=name; pct=percent; qty=quantity; seq=sequence;
        tel=telephone; txt=text; typ=type; upd=updated; usr=user; yr=year; nr=number; nbr=number; pwd=password;
        passwd=password; lang=language; org=organization; mgr=manager; emp=employee; acct=account;
        num=number; ref=reference; grp=group; pos=position; prio=priority; tmpl=template; perm=permission;
        attr=attribute; param=parameter; params=parameters; conf=configuration; config=configuration; info=information;
        img=image; pic=picture; docs=documents; stmt=statement; qtr=quarter; mth=month; wk=week; hrs=hours; mins=minutes;
        secs=seconds; freq=frequency; recv=received; rcvd=received; req=request; resp=response; src=source; dst=destination;
        dest=destination; prev=previous; orig=original; temp=temporary; tmp=temporary; intl=international; govt=government;
        mfr=manufacturer; mfg=manufacturing; svc=service; srv=server; stats=statistics; cfg=configuration; cmd=command;
        expr=expression; calc=calculation; avg=average; diff=difference; bal=balance; pymt=payment; pmt=payment;
        shpmt=shipment; whse=warehouse; uom=unit of measure; dob=date of birth; memb=member; fk=reference
        """;

    // Abbreviations that mean one thing beside a day, a time or a person: "ENT_BY", "MOD_DT".
    private static readonly FrozenDictionary<string, string> _stamped = new Dictionary<string, string>
    {
        ["ent"] = "entered",
        ["ins"] = "inserted",
        ["mod"] = "modified",
        ["del"] = "deleted",
        ["cre"] = "created",
        ["chg"] = "changed",
        ["arr"] = "arrival",
        ["dep"] = "departure",
        ["exp"] = "expiry",
        ["ord"] = "order",
    }.ToFrozenDictionary();

    private static readonly FrozenSet<string> _stampWords = new[]
    {
        "by",
        "at",
        "on",
        "dt",
        "date",
        "tm",
        "time",
        "ts",
        "usr",
        "user",
        "who",
        "yn",
        "flg",
        "flag",
    }.ToFrozenSet();

    private static readonly FrozenDictionary<string, string> _words = Abbreviations
        .Split(';', StringSplitOptions.TrimEntries)
        .Select(pair => pair.Split('='))
        .DistinctBy(pair => pair[0])
        .ToFrozenDictionary(pair => pair[0], pair => pair[1]);

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

    /// <summary>The label of a column: <c>BOAT_NO</c> becomes "Boat number".</summary>
    /// <returns>A label in sentence case; the identifier itself where it has no letters or digits.</returns>
    public static string ForColumn(string identifier) => Sentence(identifier, WithoutType(IdentifierWords.Split(identifier)));

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

    // "strName", "dtm_start": programs of a time wrote the type in front.
    internal static IReadOnlyList<string> WithoutType(IReadOnlyList<string> words) =>
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

    /// <summary>The label of a table's records taken together, where nothing is known of its schema: <c>BoatKit</c> becomes "Boat
    /// kit".</summary>
    /// <param name="identifier">The table's name.</param>
    public static string ForTable(string identifier)
    {
        var words = IdentifierWords.Split(identifier);
        return Sentence(identifier, words.Count > 1 && words[0] is "tbl" or "t" or "v" or "vw" ? [.. words.Skip(1)] : words);
    }

    /// <summary>What one record of a table is called in the middle of a sentence: "Boats" becomes "boat".</summary>
    /// <param name="label">The label of the records taken together.</param>
    public static string ForRecord(string label)
    {
        ArgumentNullException.ThrowIfNull(label);
        var words = label.Split(' ');
        words[^1] = words[^1].Singularize(inputIsKnownToBePlural: false);
        words[0] =
            Acronyms.Contains(words[0].ToLowerInvariant()) || words[0].Skip(1).Any(char.IsUpper)
                ? words[0]
                : words[0].ToLowerInvariant();
        return string.Join(' ', words);
    }

    /// <summary>Words as a label in sentence case; the identifier itself where there are none.</summary>
    internal static string Sentence(string identifier, IReadOnlyList<string> words)
    {
        if (words.Count > 1 && _silentEndings.Contains(words[^1]))
            words = [.. words.SkipLast(1)];
        if (words.Count == 0)
            return string.IsNullOrWhiteSpace(identifier) ? "(blank)" : identifier;
        var text = string.Join(' ', Acronyms.Join(words).Select((word, i) => Word(word, i, words)));
        return char.ToUpperInvariant(text[0]) + text[1..];
    }

    /// <summary>What a word abbreviates in nearly every office; null where it is none of these.</summary>
    /// <param name="word">The word in small letters.</param>
    /// <param name="place">Its place among the words of the name.</param>
    /// <param name="words">The words of the name.</param>
    internal static string? Abbreviated(string word, int place, IReadOnlyList<string> words) =>
        _words.TryGetValue(word, out var means) ? means
        // In front "no" denies, at the end it numbers.
        : word == "no" && place > 0 && place == words.Count - 1 ? "number"
        : word == "id" ? "ID"
        : _stamped.TryGetValue(word, out var stamped) && words.Any(_stampWords.Contains) ? stamped
        : null;

    private static string Word(string word, int place, IReadOnlyList<string> words) =>
        Abbreviated(word, place, words) ?? Acronyms.Written(word);
}
