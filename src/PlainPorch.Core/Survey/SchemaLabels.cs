using System.Collections.Frozen;
using Humanizer;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Labels for the tables and columns of one schema: no two columns of a table share one, and what all tables or all of a module
/// begin with is left out where the rest tells them apart.
/// </summary>
public sealed class SchemaLabels
{
    private const int LongestComment = 40;
    private const int MostCommentWords = 5;

    // The plural of these is the word itself, or nobody uses one.
    private static readonly FrozenSet<string> _uncountable = new[]
    {
        "data",
        "info",
        "information",
        "history",
        "metadata",
        "staff",
        "stock",
        "inventory",
        "equipment",
        "software",
        "hardware",
        "media",
        "traffic",
        "feedback",
        "content",
        "access",
        "time",
        "money",
        "work",
        "mail",
        "payroll",
        "configuration",
        "all",
        "more",
        "other",
        "misc",
        "overdue",
        "new",
        "old",
    }.ToFrozenSet();

    private static readonly string[] _adjectives = ["ed", "ing", "al", "ary", "ive", "ous", "ful", "able", "less", "ic", "ly"];

    private readonly Vocabulary _words;
    private readonly SchemaCustoms _customs;
    private readonly RunTogether _runTogether;
    private readonly FrozenDictionary<TableName, string> _tables;
    private readonly FrozenDictionary<TableName, FrozenDictionary<string, string>> _columns;

    internal SchemaLabels(IReadOnlyList<Table> tables, Vocabulary words)
    {
        _words = words;
        _customs = words.Customs;
        _runTogether = new RunTogether(
            [.. tables.Select(table => table.Name.Name)],
            tables.SelectMany(table => table.Columns.Select(column => column.Name)),
            tables.SelectMany(table => table.Columns.Select(column => column.Comment).Append(table.Comment)).OfType<string>()
        );
        _tables = LabelsOf(tables);
        _columns = tables.ToFrozenDictionary(table => table.Name, table => Distinct(table).ToFrozenDictionary());
    }

    /// <summary>The label of a table's records taken together, in the plural: <c>tbl_boat</c> becomes "Boats".</summary>
    public string ForTable(TableName table) =>
        _tables.TryGetValue(table, out var label) ? label : Sentence(table.Name, WordsOf(table, leaveOut: 0));

    /// <summary>The label of a column.</summary>
    public string ForColumn(TableName table, Column column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return _columns.TryGetValue(table, out var labels) && labels.TryGetValue(column.Name, out var label)
            ? label
            : Make(table, column);
    }

    // A name is made without what others share, and where that is not its own any more, with it.
    private FrozenDictionary<TableName, string> LabelsOf(IReadOnlyList<Table> tables)
    {
        var names = tables.Select(table => table.Name).ToList();
        var shortest = names.ToDictionary(name => name, name => Sentence(name.Name, WordsOf(name, _customs.LeaveOut(name))));
        var uses = shortest.Values.CountBy(label => label).ToDictionary();
        return names.ToFrozenDictionary(
            name => name,
            name => uses[shortest[name]] == 1 ? shortest[name] : Sentence(name.Name, WordsOf(name, _customs.LeaveOutOfAll(name)))
        );
    }

    private IReadOnlyList<string> WordsOf(TableName table, int leaveOut)
    {
        var words = IdentifierWords.Split(table.Name).Skip(leaveOut).ToList();
        if (words.Count > 1 && words[0] is "tbl" or "t" or "v" or "vw")
            words.RemoveAt(0);
        if (words.Count > 2 && words[^1] is "rel" or "rels")
            words.RemoveAt(words.Count - 1);
        return Plural([.. words.SelectMany((word, i) => Written(word, i, words, null, isText: true))]);
    }

    private IReadOnlyList<string> Plural(IReadOnlyList<string> words)
    {
        if (words.Count == 0 || !_runTogether.IsEnglish)
            return words;
        var last = words[^1];
        if (!_runTogether.IsWhollyEnglish && !EnglishWords.Contains(last))
            return words;
        if (last.Length < 3 || _uncountable.Contains(last) || !last.All(char.IsAsciiLetterLower))
            return words;
        var plural = last.Pluralize(inputIsKnownToBeSingular: false);
        // What ends like an adjective and has no plural among the words people use is no name of things: "ignored".
        return
            plural == last
            || (_adjectives.Any(ending => last.EndsWith(ending, StringComparison.Ordinal)) && !EnglishWords.Contains(plural))
            ? words
            : [.. words.SkipLast(1), plural];
    }

    private IEnumerable<KeyValuePair<string, string>> Distinct(Table table)
    {
        var labels = table.Columns.Select(column => (column.Name, Label: Make(table.Name, column))).ToList();
        var taken = new HashSet<string>();
        foreach (var (name, label) in labels)
        {
            var isShared = labels.Count(other => other.Label == label) > 1;
            var own = isShared ? Sentence(name, IdentifierWords.Split(name)) : label;
            yield return new(name, taken.Add(own) ? own : Unused($"{own} ({name})", taken));
        }
    }

    private static string Unused(string label, HashSet<string> taken) => taken.Add(label) ? label : label + " ";

    private string Make(TableName table, Column column)
    {
        var words = Labels.WithoutType(_customs.WithoutPrefix(table, IdentifierWords.Split(column.Name)));
        if (FromComment(words, column.Comment) is { } said)
            return said;
        var count = words.Count > 1 && words[0] is "num" or "nr" or "cnt" or "no" && IsPlural(words[^1]);
        var written = words.SelectMany((word, i) => Written(word, i, words, column.Comment, isText: false)).ToList();
        if (count)
            return Sentence(column.Name, ["number", "of", .. written.Skip(1)]);
        if (written.Count < 2 || !column.Type.IsNumber || !Labels.Units.TryGetValue(words[^1], out var unit))
            return Sentence(column.Name, written);
        // What is measured in metres and written with three letters is an abbreviation of the trade: LOA.
        var measure =
            words is [{ Length: <= 3 } only, _] && Labels.Abbreviated(only, 0, words) is null && !_words.Own.ContainsKey(only)
                ? only.ToUpperInvariant()
                : Sentence(column.Name, [.. written.SkipLast(1)]);
        return $"{measure} ({unit})";
    }

    private static bool IsPlural(string word) =>
        word.Length > 3 && word.EndsWith('s') && !word.EndsWith("ss", StringComparison.Ordinal) && EnglishWords.Contains(word);

    // What the developer says goes before what most offices mean, and that before what the schema suggests.
    private IReadOnlyList<string> Written(string word, int place, IReadOnlyList<string> words, string? comment, bool isText)
    {
        if (_words.Own.TryGetValue(word, out var means))
            return [means];
        if (Labels.Abbreviated(word, place, words) is { } usual)
            return [isText && word == "fk" ? word : usual];
        if (Acronyms.Contains(word))
            return [word];
        if (_words.Explained(word, comment) is { } explained)
            return explained.Split(' ');
        var parts = _runTogether.Part(word);
        return parts.Count == 1 ? parts : [.. parts.Select((part, i) => Labels.Abbreviated(part, i, parts) ?? part)];
    }

    // A short comment that says the name in full is the label: "HLL_MAT", "Hull material".
    private static string? FromComment(IReadOnlyList<string> words, string? comment)
    {
        if (comment is null || comment.Length > LongestComment || words.Count == 0)
            return null;
        var said = IdentifierWords.Split(comment);
        if (said.Count != words.Count || said.Count > MostCommentWords || comment.Any(c => c is ':' or ';' or '=' or ',' or '('))
            return null;
        for (var i = 0; i < words.Count; i++)
        {
            if (!IsShortFor(words[i], said[i]))
                return null;
        }

        var text = comment.Trim().TrimEnd('.');
        return char.ToUpperInvariant(text[0]) + text[1..];
    }

    private static bool IsShortFor(string word, string full)
    {
        if (word.Length == 0 || word[0] != full[0] || word.Length > full.Length)
            return word is "no" or "nr" && full == "number";
        return Vocabulary.IsWithin(word, full);
    }

    private static string Sentence(string identifier, IReadOnlyList<string> words) => Labels.Sentence(identifier, words);
}
