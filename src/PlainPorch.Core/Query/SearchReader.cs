using System.Text;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>Goes through the text of a search from left to right.</summary>
/// <param name="text">What was typed.</param>
/// <param name="panel">The panel.</param>
/// <param name="fields">What values mean in columns.</param>
/// <param name="notation">How dates and numbers are written.</param>
internal sealed class SearchReader(string text, BoundPanel panel, FieldFilter fields, Notation notation)
{
    /// <summary>The word for columns without a value.</summary>
    public const string EmptyWord = "empty";

    /// <summary>The word for columns with a value.</summary>
    public const string FilledWord = "filled";

    // A day in words, such as "31 March 2019", has three.
    private const int WordsOfADate = 3;

    private readonly SearchFields _fields = SearchFields.Of(panel);
    private int _at;

    public IEnumerable<SearchPart> Read()
    {
        while (true)
        {
            SkipBlanks();
            if (_at >= text.Length)
                yield break;
            var start = _at;
            var isExcluded = text[_at] == '-' && _at + 1 < text.Length && !char.IsWhiteSpace(text[_at + 1]);
            if (isExcluded)
                _at++;
            var aimed = ReadAimed();
            var (says, filter) = aimed ?? ReadDate() ?? ReadPlain();
            var part = new SearchPart(start, _at - start, says, filter, aimed is not null)
            {
                UnknownField = aimed is null ? UnknownFieldIn(text[start.._at]) : null,
            };
            yield return isExcluded ? part with { Says = "not " + says, Filter = new Filter.Not(filter) } : part;
        }
    }

    /// <summary>
    /// The field whose value the text ends with, and where that value begins; null where it ends with a word of its own.
    /// </summary>
    public (BoundColumn Column, int Start)? ReadOpenField()
    {
        while (true)
        {
            SkipBlanks();
            if (_at >= text.Length)
                return null;
            if (text[_at] == '-' && _at + 1 < text.Length)
                _at++;
            var start = _at;
            if (ReadField() is { } column && ReadSign() is not null)
            {
                int value;
                do
                {
                    SkipBlanks();
                    value = _at;
                    if (_at < text.Length)
                        _ = text[_at] == '"' ? ReadQuoted() : ReadRun(endsAtComma: true);
                } while (_at < text.Length && text[_at] == ',' && ++_at > 0);

                if (_at >= text.Length)
                    return (column, value);
                continue;
            }

            _at = start;
            if (text[_at] != '"' || ReadQuoted().Length == 0)
                ReadRun(endsAtComma: false);
        }
    }

    // A word with a colon after it and a value after that; not 12:30, nor an address of the web.
    private string? UnknownFieldIn(string word) =>
        word.Length > 1
        && word[^1] == ':'
        && char.IsLetter(word[0])
        && word[..^1].All(c => char.IsLetterOrDigit(c) || c == '_')
        && _at < text.Length
        && !_fields.Has(word[..^1])
            ? word[..^1]
            : null;

    private (string Says, Filter Filter)? ReadAimed()
    {
        var start = _at;
        if (
            ReadField() is { } column
            && ReadSign() is { } sign
            && ReadValues() is { Count: > 0 } values
            && Aim(column, sign, values) is { } aimed
        )
            return aimed;
        _at = start;
        return null;
    }

    private BoundColumn? ReadField()
    {
        var start = _at;
        var isQuoted = text[_at] == '"';
        if (isQuoted)
            _at++;
        foreach (var (name, column) in _fields.Names)
        {
            if (string.Compare(text, _at, name, 0, name.Length, StringComparison.OrdinalIgnoreCase) != 0)
                continue;
            var end = _at + name.Length;
            if (isQuoted && (end >= text.Length || text[end++] != '"'))
                continue;
            var after = end;
            while (after < text.Length && char.IsWhiteSpace(text[after]))
                after++;
            if (after >= text.Length || !IsSign(text[after]))
                continue;
            _at = after;
            return column;
        }

        _at = start;
        return null;
    }

    private static bool IsSign(char c) => c is ':' or '=' or '<' or '>';

    private string? ReadSign()
    {
        // "length: > 12" means what "length > 12" means.
        var sign = "";
        while (_at < text.Length && (IsSign(text[_at]) || char.IsWhiteSpace(text[_at])))
        {
            if (IsSign(text[_at]))
                sign += text[_at];
            _at++;
        }

        sign = sign.TrimStart(':');
        return sign switch
        {
            "" => ":",
            "=" or "<" or "<=" or ">" or ">=" => sign,
            _ => null,
        };
    }

    private List<(string Text, bool IsQuoted)> ReadValues()
    {
        var values = new List<(string, bool)>();
        while (_at < text.Length)
        {
            var value = text[_at] == '"' ? (ReadQuoted(), true) : (ReadRun(endsAtComma: true), false);
            if (value.Item1.Length > 0)
                values.Add(value);
            var next = _at;
            while (next < text.Length && char.IsWhiteSpace(text[next]))
                next++;
            if (next >= text.Length || text[next] != ',')
                break;
            _at = next + 1;
            SkipBlanks();
        }

        return values;
    }

    private (string Says, Filter Filter)? Aim(BoundColumn column, string sign, List<(string Text, bool IsQuoted)> values)
    {
        if (sign is "<" or "<=" or ">" or ">=")
            return values is [var bound] ? Compare(column, sign, bound.Text) : null;
        var read = values.Select(value => AimOne(column, sign == "=", value.Text, value.IsQuoted)).ToList();
        if (read.Any(one => one is null))
            return null;
        var says = $"{column.Label} {string.Join(" or ", read.Select(one => one!.Value.Says))}";
        return (says, read is [var only] ? only!.Value.Filter : new Filter.Any([.. read.Select(one => one!.Value.Filter)]));
    }

    private (string Says, Filter Filter)? AimOne(BoundColumn column, bool isWhole, string value, bool isQuoted)
    {
        if (!isQuoted && value.Equals(EmptyWord, StringComparison.OrdinalIgnoreCase))
            return ("is empty", column.Empty());
        if (!isQuoted && value.Equals(FilledWord, StringComparison.OrdinalIgnoreCase))
            return ("is filled", new Filter.Not(column.Empty()));
        if (
            !isQuoted
            && value.IndexOf("..", StringComparison.Ordinal) is >= 0 and var dots
            && ReadRange(column, value[..dots], value[(dots + 2)..]) is { } range
        )
            return range;
        if ((isWhole ? fields.Is(column, value) : fields.Holds(column, value)) is not { } filter)
            return null;
        return (Verb(column, isWhole, value), filter);
    }

    private string Verb(BoundColumn column, bool isWhole, string value)
    {
        if (
            column.Type.Kind is not (ValueKind.Text or ValueKind.Enum or ValueKind.Several)
            && TypedValue.Read(column.Type, value, notation) is { } typed
        )
            return typed.End is null ? $"is {typed.Says}" : $"in {typed.Says}";
        if (isWhole)
            return $"is “{value}”";
        return column.Decision.Match switch
        {
            TextPlace.StartsWith => $"begins with “{value}”",
            TextPlace.Whole => $"is “{value}”",
            TextPlace.Alike => $"is like “{value}”",
            _ => $"has “{value}”",
        };
    }

    private (string Says, Filter Filter)? ReadRange(BoundColumn column, string from, string to)
    {
        var (least, greatest) = (ReadTyped(column, from), ReadTyped(column, to));
        if ((from.Length > 0 && least is null) || (to.Length > 0 && greatest is null) || (least is null && greatest is null))
            return null;
        var parts = new List<Filter>();
        if (least is not null)
            parts.Add(least.ComparedTo(column, Comparison.AtLeast));
        if (greatest is not null)
            parts.Add(greatest.ComparedTo(column, Comparison.AtMost));
        var says = (least, greatest) switch
        {
            (not null, not null) => $"from {least.Says} to {greatest.Says}",
            (not null, _) => $"from {least.Says} on",
            _ => $"up to {greatest!.Says}",
        };
        return (says, Filter.Join(parts)!);
    }

    private (string Says, Filter Filter)? Compare(BoundColumn column, string sign, string value)
    {
        if (ReadTyped(column, value) is not { } typed)
            return null;
        var how = sign switch
        {
            "<" => Comparison.Less,
            "<=" => Comparison.AtMost,
            ">" => Comparison.More,
            _ => Comparison.AtLeast,
        };
        return ($"{column.Label} {ConditionReader.WordOf(how, column.Type)} {typed.Says}", typed.ComparedTo(column, how));
    }

    private TypedValue? ReadTyped(BoundColumn column, string value) =>
        column.Type.IsOrderable && column.Type.Kind is not ValueKind.Boolean && value.Length > 0
            ? TypedValue.Read(column.Type, value, notation)
            : null;

    // Days in words are several words, which no column holds one by one.
    private (string Says, Filter Filter)? ReadDate()
    {
        var start = _at;
        for (var count = WordsOfADate; count > 1; count--)
        {
            _at = start;
            var words = Enumerable.Range(0, count).Select(_ => NextWord()).ToList();
            if (words[^1].Length == 0)
                continue;
            var phrase = string.Join(' ', words);
            if (phrase.Any(char.IsLetter) && TypedValue.ReadPeriod(phrase, notation.Dates) is not null)
                return Anywhere(phrase, $"“{phrase}”");
        }

        _at = start;
        return null;

        string NextWord()
        {
            SkipBlanks();
            return ReadRun(endsAtComma: false);
        }
    }

    private (string Says, Filter Filter) ReadPlain()
    {
        var start = _at;
        var word = text[_at] == '"' ? ReadQuoted() : "";
        if (word.Length == 0)
        {
            _at = start;
            word = ReadRun(endsAtComma: false);
        }

        return Anywhere(word, $"“{word}”");
    }

    private (string Says, Filter Filter) Anywhere(string word, string says) => (says, fields.HeldBySome(_fields.Searched, word));

    private string ReadQuoted()
    {
        var content = new StringBuilder();
        for (_at++; _at < text.Length; _at++)
        {
            // A quotation mark within quotation marks is written twice.
            if (text[_at] == '"' && (_at + 1 >= text.Length || text[_at + 1] != '"'))
            {
                _at++;
                break;
            }

            if (text[_at] == '"')
                _at++;
            content.Append(text[_at]);
        }

        return content.ToString().Trim();
    }

    private string ReadRun(bool endsAtComma)
    {
        var start = _at;
        while (_at < text.Length && !char.IsWhiteSpace(text[_at]) && !(endsAtComma && IsSeparator()))
            _at++;
        return text[start.._at];
    }

    // A comma between digits belongs to the number.
    private bool IsSeparator() =>
        text[_at] == ','
        && !(_at > 0 && char.IsAsciiDigit(text[_at - 1]) && _at + 1 < text.Length && char.IsAsciiDigit(text[_at + 1]));

    private void SkipBlanks()
    {
        while (_at < text.Length && char.IsWhiteSpace(text[_at]))
            _at++;
    }
}
