using System.Text;

namespace PlainPorch.Core.Definition;

/// <summary>
/// A short text with columns in braces, such as <c>{SURNAME}, {FIRST NAME}</c>. A backslash takes the meaning from the
/// brace or backslash after it, inside a column's name and outside.
/// </summary>
public sealed class TitleTemplate
{
    private static readonly char[] _around = [' ', ',', ';', '-', '·'];

    private readonly IReadOnlyList<(string Text, bool IsColumn)> _parts;

    private TitleTemplate(IReadOnlyList<(string Text, bool IsColumn)> parts) => _parts = parts;

    /// <summary>The columns that it names, each once, in their order.</summary>
    public IEnumerable<string> Columns => _parts.Where(part => part.IsColumn).Select(part => part.Text).Distinct();

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
                problem = @"A brace stands where none can. Write {COLUMN}, or \{ and \} for braces in the text.";
                return false;
            }
            else
            {
                part.Append(text[i]);
            }
        }

        if (inColumn)
        {
            problem = @"A brace is opened and not closed. Write {COLUMN}, or \{ for a brace in the text.";
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

    /// <summary>The title of a record.</summary>
    /// <param name="value">Gives the text of a column; null where it is empty.</param>
    /// <param name="fallback">The title where all the template's columns are empty.</param>
    public string Render(Func<string, string?> value, string fallback)
    {
        ArgumentNullException.ThrowIfNull(value);
        var text = _parts is [(var only, true)] ? value(only)?.Trim() : Join(value);
        // "Rossi, " where the first name is missing: trim what only joined the missing.
        return text?.Trim(_around) is { Length: > 0 } title ? title : fallback;
    }

    // Null where all columns are empty: what stands between them is no title.
    private string? Join(Func<string, string?> value)
    {
        var text = new StringBuilder();
        var anyValue = false;
        foreach (var (part, isColumn) in _parts)
        {
            var shown = isColumn ? value(part)?.Trim() : part;
            anyValue |= isColumn && !string.IsNullOrEmpty(shown);
            text.Append(shown);
        }

        return anyValue ? text.ToString() : null;
    }
}
