using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Panels;

/// <summary>
/// The value that a new record's form begins with, as the set-up writes it: a value in the one text form, or <c>today</c> or
/// <c>now</c>.
/// </summary>
public static class StartValue
{
    /// <summary>The day on which the form is opened.</summary>
    public const string Today = "today";

    /// <summary>The moment at which the form is opened.</summary>
    public const string Now = "now";

    /// <summary>The greatest length of a value.</summary>
    public const int MaxLength = 1_000;

    /// <summary>What is wrong with a column's start value; null where nothing is, or it has none.</summary>
    /// <param name="column">The column.</param>
    public static string? Problem(BoundColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (column.Decision.StartValue is not { Length: > 0 } text)
            return null;
        if (text.Length > MaxLength)
            return $"At most {MaxLength} characters are allowed. Shorten it.";
        if (column.Decision.Stamp is not null || column.Decision.IsSecret || column.Type.Kind is ValueKind.Binary)
            return "Nobody types into this column, so it needs no value to begin with. Leave it blank.";
        if (IsClock(text))
            return IsTime(column.Type.Kind) ? null : $"“{text}” is for dates and times. Give a value of the column’s own.";
        return ValueText.TryRead(column.Type, text, out _, out var problem) ? null : problem;
    }

    /// <summary>The value that a form begins with at a moment.</summary>
    /// <param name="column">The column.</param>
    /// <param name="now">The moment.</param>
    /// <returns>The value in the one text form of what the column means; null for none.</returns>
    public static string? At(BoundColumn column, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (column.Decision.StartValue is not { Length: > 0 } text || Problem(column) is not null)
            return null;
        if (IsClock(text))
            return Stamps.Write(column.Type.Kind, text == Today ? now - now.TimeOfDay : now);
        return ValueText.TryRead(column.Type, text, out var value, out _) ? value : null;
    }

    private static bool IsClock(string text) => text is Today or Now;

    private static bool IsTime(ValueKind kind) =>
        kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant or ValueKind.Time;
}
