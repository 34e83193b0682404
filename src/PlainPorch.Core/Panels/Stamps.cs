using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Panels;

/// <summary>What the program writes about a record into the record itself: when and by whom it was entered and changed.</summary>
public static class Stamps
{
    /// <summary>Whether a column can hold a stamp.</summary>
    /// <param name="stamp">The stamp.</param>
    /// <param name="type">The column's type: a date or moment for when, a text for who.</param>
    public static bool Fits(Stamp stamp, ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(type);
        return IsTime(stamp)
            ? type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant
            : type.Kind is ValueKind.Text;
    }

    /// <summary>The values to write beside those that were given.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="isNew">Whether the record is being entered.</param>
    /// <param name="who">What whoever does it is called.</param>
    /// <param name="now">The moment, by the clock of the place.</param>
    /// <returns>
    /// A value for each column with a stamp, in the one text form. When entering, what the database supplies itself is left to
    /// it, and
    /// what tells of changes is filled in only where it must not be empty.
    /// </returns>
    public static IReadOnlyDictionary<string, string?> For(BoundPanel panel, bool isNew, string who, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(who);
        return panel
            .Columns.Where(column =>
                column.Decision.Stamp is { } stamp
                && !column.Schema.IsWrittenByDatabaseOnly
                && Fits(stamp, column.Type)
                && IsDue(column, stamp, isNew)
            )
            .ToDictionary(
                column => column.Name,
                column => IsTime(column.Decision.Stamp!.Value) ? Write(column.Type.Kind, now) : Named(column.Schema, who)
            );
    }

    private static bool IsDue(BoundColumn column, Stamp stamp, bool isNew) =>
        stamp switch
        {
            Stamp.EnteredAt or Stamp.EnteredBy => isNew && !column.Schema.IsSuppliedByDatabase,
            _ => !isNew || (!column.Schema.IsNullable && !column.Schema.IsSuppliedByDatabase),
        };

    private static bool IsTime(Stamp stamp) => stamp is Stamp.EnteredAt or Stamp.ChangedAt;

    /// <summary>A moment as a value of a kind, in the one text form.</summary>
    internal static string Write(ValueKind kind, DateTimeOffset now) =>
        kind switch
        {
            ValueKind.Date => now.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            ValueKind.DateTime => now.ToString("yyyy-MM-ddTHH:mm:ss", CultureInfo.InvariantCulture),
            ValueKind.Time => now.ToString("HH:mm", CultureInfo.InvariantCulture),
            _ => now.UtcDateTime.ToString("yyyy-MM-ddTHH:mm:ss'Z'", CultureInfo.InvariantCulture),
        };

    // Half a name would be another's; but a column that must not be empty gets as much of it as it holds.
    private static string? Named(Column column, string who) =>
        !(column.Type.MaxLength < who.Length) ? who
        : column.IsNullable ? null
        : who[..column.Type.MaxLength!.Value];
}
