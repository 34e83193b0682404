using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Panels;

/// <summary>Checks whether a table can hold a marker of records that are set aside.</summary>
internal static class RemovalMarkers
{
    /// <summary>What is wrong with a marker.</summary>
    /// <returns>The problem, as a sentence with the remedy; null where the marker can be used.</returns>
    public static string? Problem(RemovalMarker marker, Table table)
    {
        if (table.Find(marker.Column) is not { } column)
            return $"{table.Name} has no column {marker.Column}. Name one that it has.";
        if (column.IsWrittenByDatabaseOnly)
            return $"{marker.Column} is written only by the database. Choose another column.";
        if (
            new[] { marker.At, marker.By }.FirstOrDefault(name =>
                name is not null && table.Find(name) is null or { IsWrittenByDatabaseOnly: true }
            ) is
            { } unusable
        )
            return $"{table.Name} has no writable column {unusable}. Choose another one.";
        if (marker.At is not null && !HoldsTime(table.Find(marker.At)!))
            return $"{marker.At} is not a date or time column. Choose one that is, or none.";
        if (marker.Kind is MarkerKind.Time)
        {
            return !HoldsTime(column) ? $"{marker.Column} is not a date or time column. Choose yes or no, or a state."
                : !column.IsNullable
                    ? $"{marker.Column} can never be empty, so it cannot tell records apart. Choose another column."
                : null;
        }

        if (marker.Removed is null || !ValueText.TryRead(column.Type, marker.Removed, out _, out _))
            return $"“{marker.Removed}” is not a value of {marker.Column}. Give the value that a record gets when it is set aside.";
        if (marker.InUse is null ? !column.IsNullable : !ValueText.TryRead(column.Type, marker.InUse, out _, out _))
            return $"“{marker.InUse}” is not a value of {marker.Column}. Give the value of a record that is in use.";
        return marker.InUse == marker.Removed
            ? $"A record in use and one that is set aside have the same {marker.Column}. Give two different values."
            : null;
    }

    private static bool HoldsTime(Column column) => column.Type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant;
}
