using System.Text;

namespace PlainPorch.Core.Definition;

/// <summary>
/// A short text with columns in braces, such as <c>{SURNAME}, {FIRST NAME}</c>. A backslash takes the meaning from the
/// brace or backslash after it, inside a column's name and outside.
/// </summary>
public sealed class TitleTemplate
{
    private static readonly char[] _around = [' ', ',', ';', '-', '·'];

    private static readonly string[] _brackets = ["()", "[]", "{}", "<>", "\"\"", "“”"];

    private readonly IReadOnlyList<(string Text, bool IsColumn)> _parts;

    private TitleTemplate(IReadOnlyList<(string Text, bool IsColumn)> parts) => _parts = parts;

    /// <summary>The columns that it names, each once, in their order.</summary>
    public IEnumerable<string> Columns =>
        _parts.Where(part => part is { IsColumn: true, Text.Length: > 0 }).Select(part => part.Text).Distinct();

    /// <summary>Writes a template that shows one column.</summary>
    public static string Of(string column)
    {
        ArgumentNullException.ThrowIfNull(column);
        var escaped = column
            .Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("{", "\\{", StringComparison.Ordinal)
            .Replace("}", "\\}", StringComparison.Ordinal);
        return "{" + escaped + "}";
    }

    /// <summary>Reads a template.</summary>
    /// <param name="text">The template.</param>
    /// <param name="template">The template read; null on failure.</param>
    /// <param name="problem">What is wrong, as a sentence; null on success.</param>
    /// <returns>Whether it could be read.</returns>
    public static bool TryRead(string text, out TitleTemplate? template, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(text);
        template = null;
        var parts = new List<(string, bool)>();
        var part = new StringBuilder();
        var inColumn = false;
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == '\\' && i + 1 < text.Length)
            {
                part.Append(text[++i]);
            }
            else if (text[i] == '{' && !inColumn)
            {
                Finish(isColumn: false);
                inColumn = true;
            }
            else if (text[i] == '}' && inColumn && part.Length > 0)
            {
                Finish(isColumn: true);
                inColumn = false;
            }
            else if (text[i] is '{' or '}')
            {
                problem = @"A brace is not allowed here. Write {COLUMN}, or \{ and \} for braces in the text.";
                return false;
            }
            else
            {
                part.Append(text[i]);
            }
        }

        if (inColumn)
        {
            problem = @"An opening brace is not closed. Write {COLUMN}, or \{ for a brace in the text.";
            return false;
        }

        Finish(isColumn: false);
        template = new TitleTemplate(parts);
        problem = null;
        return true;

        void Finish(bool isColumn)
        {
            if (part.Length > 0)
                parts.Add((part.ToString(), isColumn));
            part.Clear();
        }
    }

    /// <summary>The title without some of its columns, as if they were empty in every record.</summary>
    public TitleTemplate Without(Func<string, bool> isLeftOut) =>
        _parts.Any(part => part.IsColumn && isLeftOut(part.Text))
            ? new([.. _parts.Select(part => part.IsColumn && isLeftOut(part.Text) ? ("", true) : part)])
            : this;

    /// <summary>The title of a record.</summary>
    /// <param name="value">Gives the text of a column; null where it is empty.</param>
    /// <param name="fallback">The title where all the template's columns are empty.</param>
    public string Render(Func<string, string?> value, string fallback)
    {
        ArgumentNullException.ThrowIfNull(value);
        var title = _parts is [{ IsColumn: true } only] ? Shown(only, value) : Join(value)?.Trim();
        // Signs alone tell nothing.
        return title is not null && title.AsSpan().ContainsAnyExcept(_around) ? title : fallback;
    }

    private static string? Shown((string Text, bool IsColumn) part, Func<string, string?> value) =>
        part is { IsColumn: true, Text.Length: > 0 } ? value(part.Text)?.Trim() : part.Text;

    // Null where all columns are empty: what stands between them is no title. "Rossi, " where the first name is missing: what
    // only joined the missing is taken off, and never a sign of a value, such as a minus.
    private string? Join(Func<string, string?> value)
    {
        var shown = new string?[_parts.Count];
        for (var i = 0; i < shown.Length; i++)
            shown[i] = Shown(_parts[i], value);
        TakeAlong(shown);
        var (first, last) = (-1, -1);
        for (var i = 0; i < shown.Length; i++)
        {
            if (_parts[i].IsColumn && !string.IsNullOrEmpty(shown[i]))
                (first, last) = (first < 0 ? i : first, i);
        }

        return first < 0
            ? null
            : string.Concat(shown.AsSpan(0, first)).TrimStart(_around)
                + string.Concat(shown.AsSpan(first, last - first + 1))
                + string.Concat(shown.AsSpan(last + 1)).TrimEnd(_around);
    }

    // An empty part takes its brackets along, "Kittiwake ()", and one of the two signs that join it, "A · · C".
    private void TakeAlong(string?[] shown)
    {
        for (var i = 1; i < shown.Length - 1; i++)
        {
            if (!_parts[i].IsColumn || !string.IsNullOrEmpty(shown[i]) || _parts[i - 1].IsColumn || _parts[i + 1].IsColumn)
                continue;
            var (before, after) = (shown[i - 1]!, shown[i + 1]!);
            if (before.Length > 0 && after.Length > 0 && _brackets.Contains($"{before[^1]}{after[0]}"))
                (shown[i - 1], shown[i + 1]) = (before[..^1].TrimEnd(), after[1..]);
            else if (before.Trim(_around).Length == 0 && after.Trim(_around).Length == 0)
                shown[i - 1] = "";
        }
    }
}
