using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds what programs write about a record: when, by whom, whether it is removed, at which place it stands.</summary>
internal static class StampDetectors
{
    private static readonly string[] _created =
    [
        "created",
        "create",
        "creation",
        "ent",
        "entered",
        "entry",
        "inserted",
        "insert",
        "ins",
        "added",
        "registered",
    ];
    private static readonly string[] _changed =
    [
        "updated",
        "update",
        "upd",
        "changed",
        "change",
        "modified",
        "modify",
        "mod",
        "edited",
        "touched",
        "write",
        "written",
    ];
    private static readonly string[] _removed =
    [
        "deleted",
        "delete",
        "del",
        "removed",
        "archived",
        "inactive",
        "trashed",
        "disabled",
        "cancelled",
    ];

    private static readonly string[] _goneStates =
    [
        "deleted",
        "removed",
        "archived",
        "gelöscht",
        "supprimé",
        "borrado",
        "eliminado",
    ];

    private static readonly string[] _whenOrWho =
    [
        "at",
        "on",
        "by",
        "date",
        "time",
        "timestamp",
        "stamp",
        "ts",
        "when",
        "user",
        "usr",
        "uid",
        "userid",
        "who",
        "id",
    ];

    /// <summary>Whether a name says that a program writes there who entered or changed a record, or when.</summary>
    public static bool IsNamedLikeAStamp(string column)
    {
        var words = IdentifierWords.Split(column);
        return words.Any(word => word is "write" or "timestamp" || _created.Contains(word) || _changed.Contains(word))
            && words.All(word =>
                word is "write" or "last" || _created.Contains(word) || _changed.Contains(word) || _whenOrWho.Contains(word)
            );
    }

    public static ColumnMeaning? At(ColumnFacts column)
    {
        if (column.Kind is not (ValueKind.Date or ValueKind.DateTime or ValueKind.Instant) || column.Says("birth"))
            return null;
        if (column.Says(_changed))
            return new(Meaning.ChangedAt, 0.88, "its name says when the record was changed");
        if (column.Says(_created))
            return new(Meaning.CreatedAt, 0.88, "its name says when the record was entered");
        return column.Column.DefaultSql is { } sql && sql.Contains("now()", StringComparison.OrdinalIgnoreCase)
            ? new(Meaning.CreatedAt, 0.7, "the database fills in the current time")
            : null;
    }

    public static ColumnMeaning? By(ColumnFacts column)
    {
        if (!column.Says("by", "user", "usr", "who") || column.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant)
            return null;
        if (column.Says(_changed))
            return new(Meaning.ChangedBy, 0.88, "its name says who changed the record");
        return column.Says(_created) ? new(Meaning.CreatedBy, 0.88, "its name says who entered the record") : null;
    }

    public static ColumnMeaning? Removed(ColumnFacts column)
    {
        if (!column.Says(_removed) || column.Says("by"))
            return RemovedState(column);
        var isMoment = column.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant;
        if (isMoment)
            return new(Meaning.RemovedMarker, 0.92, "a date and time, filled in when a record is removed");
        if (column.Kind is ValueKind.Boolean)
            return new(Meaning.RemovedMarker, 0.9, "true means removed");
        if (column.Distinct.Count > 3)
            return null;
        // A number is a marker where its values say so; without any it may be a count.
        if (column.Column.Type.IsNumber && column.Filled.Count == 0)
            return null;
        var empty = column.Rows == 0 ? 0 : 1 - ((double)column.Filled.Count / column.Rows);
        var marks = string.Join(
            ", ",
            column.Distinct.Where(value => value is not ("0" or "N" or "n" or "F")).Select(value => $"“{value}”")
        );
        return new(
            Meaning.RemovedMarker,
            0.9,
            marks.Length == 0
                ? "its name says so; no row is removed yet"
                : $"{marks} means removed; {ColumnFacts.Percent(empty)} of the rows are empty"
        );
    }

    // One of the states that a record can have says that it is gone.
    private static ColumnMeaning? RemovedState(ColumnFacts column)
    {
        if (!column.IsText || column.Distinct.Count is < 2 or > 8 || !column.Says("status", "state", "stat", "condition"))
            return null;
        var gone = column.Distinct.FirstOrDefault(value => _goneStates.Contains(value.ToLowerInvariant()));
        return gone is null
            ? null
            : new(
                Meaning.RemovedMarker,
                0.86,
                $"“{gone}” means removed; the other states are {string.Join(", ", column.Distinct.Where(value => value != gone).Select(value => $"“{value}”"))}"
            );
    }

    public static ColumnMeaning? Position(ColumnFacts column)
    {
        if (
            !column.Column.Type.IsInteger
            || !column.Says(
                "sort",
                "pos",
                "position",
                "seq",
                "rank",
                "rang",
                "ordinal",
                "sortorder",
                "sequence",
                "order",
                "ord",
                "ordering"
            )
        )
            return null;
        if (column.IsKey)
            return null;
        var sure = column.Says("sort", "pos", "position", "rank", "ordinal", "sortorder", "ordering") ? 0.88 : 0.6;
        var ties = column.Filled.Count - column.Distinct.Count;
        return new(
            Meaning.Position,
            sure,
            (column.Filled.Count, column.Distinct) switch
            {
                (0, _) => "its name suggests an order",
                (_, [var only]) => $"its name suggests an order, but every row has {only}",
                _ when ties > 0 => $"its name suggests an order; {ties} of {column.Filled.Count} values occur more than once",
                _ => "its name suggests an order, and no value occurs twice",
            }
        );
    }
}
