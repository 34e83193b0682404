using System.Text;
using AngleSharp.Dom;
using AngleSharp.Html.Parser;
using Ganss.Xss;

namespace PlainPorch.Core.Values;

/// <summary>
/// Texts with emphasis, headings and lists, stored as HTML. Whatever a column holds, only what is known to be harmless is shown or
/// written: no script, no style, nothing that is fetched from elsewhere.
/// </summary>
public static class FormattedText
{
    private static readonly string[] _tags =
    [
        "p",
        "br",
        "hr",
        "strong",
        "b",
        "em",
        "i",
        "u",
        "s",
        "sub",
        "sup",
        "h1",
        "h2",
        "h3",
        "h4",
        "ul",
        "ol",
        "li",
        "blockquote",
        "pre",
        "code",
        "a",
        "table",
        "thead",
        "tbody",
        "tr",
        "th",
        "td",
    ];

    private static readonly string[] _ending =
    [
        "p",
        "br",
        "hr",
        "h1",
        "h2",
        "h3",
        "h4",
        "ul",
        "ol",
        "li",
        "blockquote",
        "pre",
        "tr",
        "div",
    ];

    // Made once: it is safe to use from several threads as long as nothing about it is changed.
    private static readonly HtmlSanitizer _sanitizer = Make();

    /// <summary>Leaves of a text what is harmless.</summary>
    /// <param name="html">The text, as HTML.</param>
    /// <returns>The text without the rest; what the tags that go were about stays, unless it was script or style.</returns>
    public static string Sanitize(string html)
    {
        ArgumentNullException.ThrowIfNull(html);
        return HasTags(html) ? _sanitizer.Sanitize(html) : html;
    }

    /// <summary>What is shown of a stored text.</summary>
    /// <param name="text">The text as it is stored: HTML, or without any tag as it was typed.</param>
    /// <returns>Harmless HTML.</returns>
    public static string ToHtml(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return HasTags(text)
            ? _sanitizer.Sanitize(text)
            : string.Concat(
                text.ReplaceLineEndings("\n")
                    .Split("\n\n")
                    .Select(part =>
                        $"<p>{System.Net.WebUtility.HtmlEncode(part).Replace("\n", "<br>", StringComparison.Ordinal)}</p>"
                    )
            );
    }

    /// <summary>What a text says without its formatting, on one line.</summary>
    /// <param name="text">The text as it is stored; it may break off within a tag.</param>
    public static string ToPlain(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (!HasTags(text))
            return text;
        var plain = new StringBuilder();
        Collect(new HtmlParser().ParseDocument(_sanitizer.Sanitize(text)).Body!, plain);
        return string.Join(' ', plain.ToString().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
    }

    // "a < b" is no tag, and "<b" begins one.
    private static bool HasTags(string text)
    {
        for (var at = text.IndexOf('<', StringComparison.Ordinal); at >= 0; at = text.IndexOf('<', at + 1))
        {
            if (at + 1 < text.Length && (char.IsAsciiLetter(text[at + 1]) || text[at + 1] is '/' or '!'))
                return true;
        }

        return false;
    }

    private static void Collect(INode node, StringBuilder plain)
    {
        foreach (var child in node.ChildNodes)
        {
            if (child is IText text)
                plain.Append(text.Data);
            else
                Collect(child, plain);
            if (child is IElement element && _ending.Contains(element.LocalName))
                plain.Append(' ');
        }
    }

    private static HtmlSanitizer Make()
    {
        var options = new HtmlSanitizerOptions
        {
            AllowedTags = new HashSet<string>(_tags, StringComparer.OrdinalIgnoreCase),
            AllowedAttributes = new HashSet<string>(["href", "start", "colspan", "rowspan"], StringComparer.OrdinalIgnoreCase),
            AllowedSchemes = new HashSet<string>(["http", "https", "mailto", "tel"], StringComparer.OrdinalIgnoreCase),
            UriAttributes = new HashSet<string>(["href"], StringComparer.OrdinalIgnoreCase),
            AllowedCssProperties = new HashSet<string>(),
            AllowedAtRules = new HashSet<AngleSharp.Css.Dom.CssRuleType>(),
        };
        // The words of a tag that is not known stay, and with a script nobody wants them.
        var sanitizer = new HtmlSanitizer(options) { KeepChildNodes = true };
        sanitizer.RemovingTag += (_, removing) =>
        {
            if (removing.Tag.LocalName is "script" or "style" or "template" or "noscript" or "iframe" or "svg" or "math")
                removing.Tag.InnerHtml = "";
        };
        return sanitizer;
    }
}
