using System.Globalization;
using System.Text;

namespace PlainPorch.Core.Definition;

/// <summary>Makes the short names that stand in addresses.</summary>
public static class Slug
{
    /// <summary>The greatest length of a slug.</summary>
    public const int MaxLength = 60;

    /// <summary>Makes a slug of small ASCII letters, digits and single hyphens.</summary>
    /// <param name="text">Any text.</param>
    /// <param name="taken">The slugs that are in use; a number is added where the plain one is among them.</param>
    /// <returns>A slug that is not taken; <c>item</c> where the text has no usable letter.</returns>
    public static string Make(string text, IReadOnlySet<string> taken)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(taken);
        var slug = new StringBuilder();
        foreach (var c in text.Normalize(NormalizationForm.FormD))
        {
            if (char.IsAsciiLetterOrDigit(c))
                slug.Append(char.ToLowerInvariant(c));
            else if (
                CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark
                && slug.Length > 0
                && slug[^1] != '-'
            )
                slug.Append('-');
            if (slug.Length >= MaxLength)
                break;
        }

        var plain = slug.ToString().Trim('-') is { Length: > 0 } made ? made : "item";
        var candidate = plain;
        for (var n = 2; taken.Contains(candidate); n++)
            candidate = $"{plain}-{n}";
        return candidate;
    }
}
