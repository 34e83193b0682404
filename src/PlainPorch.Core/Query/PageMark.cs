using System.Globalization;
using System.Text.Json;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Query;

/// <summary>
/// Where a page begins or ends: by the values of a record, not by a number of rows, so that nothing is skipped or repeated
/// (keyset paging).
/// </summary>
/// <param name="Side">Which side of the record is meant.</param>
/// <param name="Values">The record's values in the columns of the order, in the one text form; null for empty ones. None for
/// <see cref="PageSide.Last"/>.</param>
public sealed record PageMark(PageSide Side, IReadOnlyList<string?> Values)
{
    /// <summary>The greatest length of a mark as it travels.</summary>
    public const int MaxLength = 4_000;

    private const string AfterWord = "after.";
    private const string BeforeWord = "before.";
    private const string LastWord = "last";

    /// <summary>The mark as it travels, bound to its order.</summary>
    public string Write(IReadOnlyList<OrderBy> order) =>
        Side is PageSide.Last
            ? LastWord
            : (Side is PageSide.After ? AfterWord : BeforeWord)
                + Encode(JsonSerializer.SerializeToUtf8Bytes<string?[]>([Sign(order), .. Values]));

    /// <summary>Reads a mark.</summary>
    /// <param name="text">The mark as it travels.</param>
    /// <param name="table">The table, with the columns that the order borrows.</param>
    /// <param name="order">The order that it has to belong to.</param>
    /// <returns>The mark; null where it is broken or of another order.</returns>
    public static PageMark? Read(string text, Table table, IReadOnlyList<OrderBy> order)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(order);
        if (text == LastWord)
            return new PageMark(PageSide.Last, []);
        var isAfter = text.StartsWith(AfterWord, StringComparison.Ordinal);
        if ((!isAfter && !text.StartsWith(BeforeWord, StringComparison.Ordinal)) || text.Length > MaxLength)
            return null;
        if (
            Decode(text[(isAfter ? AfterWord : BeforeWord).Length..]) is not [var sign, .. var values]
            || sign != Sign(order)
            || values.Length != order.Count
        )
            return null;
        var read = new List<string?>();
        foreach (var (part, value) in order.Zip(values))
        {
            // A blank stands for what is empty and means something all the same.
            if (value is null or "")
                read.Add(value);
            else if (ValueText.TryRead(table.Find(part.Column)!.Type, value, out var known, out _))
                read.Add(known);
            else
                return null;
        }

        return new PageMark(isAfter ? PageSide.After : PageSide.Before, read);
    }

    private static string?[]? Decode(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<string?[]>(
                Convert.FromBase64String(text.Replace('-', '+').Replace('_', '/').PadRight((text.Length + 3) / 4 * 4, '='))
            );
        }
        catch (Exception broken) when (broken is FormatException or JsonException)
        {
            return null;
        }
    }

    private static string Encode(byte[] bytes) => Convert.ToBase64String(bytes).TrimEnd('=').Replace('+', '-').Replace('/', '_');

    // Tells orders apart, no more: a mark that somebody makes up leads into a list that he may read anyway (FNV-1a).
    private static string Sign(IReadOnlyList<OrderBy> order)
    {
        const uint Basis = 2_166_136_261;
        const uint Prime = 16_777_619;
        var hash = Basis;
        foreach (var c in string.Join(',', order))
            hash = unchecked((hash ^ c) * Prime);
        return hash.ToString("x8", CultureInfo.InvariantCulture);
    }
}

/// <summary>Which side of a record a page lies on.</summary>
public enum PageSide
{
    /// <summary>After it.</summary>
    After,

    /// <summary>Before it.</summary>
    Before,

    /// <summary>At the end of the list.</summary>
    Last,
}
