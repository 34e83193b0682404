using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Drafting;

/// <summary>Works out which value of a marker column means that a record is set aside.</summary>
internal static class RemovalValues
{
    private static readonly FrozenSet<string> _yes = new[]
    {
        "Y",
        "YES",
        "J",
        "JA",
        "S",
        "SI",
        "O",
        "OUI",
        "T",
        "TRUE",
        "1",
        "-1",
        "X",
        "D",
        "DEL",
        "DELETED",
        "REMOVED",
        "INACTIVE",
        "ARCHIVED",
        "GELÖSCHT",
        "SUPPRIMÉ",
        "BORRADO",
        "ELIMINADO",
    }.ToFrozenSet();
    private static readonly FrozenSet<string> _no = new[]
    {
        "N",
        "NO",
        "NEIN",
        "NON",
        "F",
        "FALSE",
        "0",
        "A",
        "ACTIVE",
        "OK",
    }.ToFrozenSet();

    /// <summary>The marker that a column makes.</summary>
    /// <returns>The marker; null where the values do not tell which of them means what.</returns>
    public static RemovalMarker? Of(Column column, ColumnProfile profile)
    {
        if (column.Type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant)
            return new RemovalMarker { Column = column.Name, Kind = MarkerKind.Time };
        if (column.Type.Kind is ValueKind.Boolean)
            return new RemovalMarker
            {
                Column = column.Name,
                Kind = MarkerKind.Flag,
                Removed = "true",
                InUse = "false",
            };
        var values = profile.Commonest.Select(value => value.Value).Union(profile.Samples).ToList();
        var removed = values.Find(value => _yes.Contains(value.Trim().ToUpperInvariant()));
        var inUse = values.Find(value => _no.Contains(value.Trim().ToUpperInvariant()));
        // No row is removed yet: the other half of the pair that is in use.
        removed ??= inUse?.Trim().ToUpperInvariant() switch
        {
            "N" or "NO" => "Y",
            "F" or "FALSE" => inUse!.Trim().Length == 1 ? "T" : "true",
            "0" => "1",
            _ => column.Type.IsInteger ? "1"
            : column.Type.Kind is ValueKind.Text && values.Count == 0 ? "Y"
            : null,
        };
        var isFlag = values.Count <= 2;
        // Of several states a record that is brought back gets the one that most have.
        if (!isFlag)
            inUse ??= values.Find(value => value != removed);
        return removed is null || (inUse is null && !column.IsNullable)
            ? null
            : new RemovalMarker
            {
                Column = column.Name,
                Kind = isFlag ? MarkerKind.Flag : MarkerKind.Status,
                Removed = removed,
                InUse = inUse,
            };
    }
}
