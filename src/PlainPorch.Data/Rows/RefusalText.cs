using Npgsql;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Values;

namespace PlainPorch.Data.Rows;

/// <summary>Says in plain words why the database refused a record, and at which field.</summary>
public static class RefusalText
{
    /// <summary>What is said where the database gave it up for somebody else's sake.</summary>
    public const string Collided = "Somebody else was saving at the same moment. Save again.";

    /// <summary>Why an index could not be made for a trial.</summary>
    /// <returns>The reason; null where it is none that is known.</returns>
    public static Refusal? OfTrial(PostgresException answer, Table table) =>
        answer.SqlState switch
        {
            PostgresErrorCodes.InsufficientPrivilege => new(
                $"The database user does not own {table.Name}, and only the owner can create indexes.",
                "Copy the statement and have the owner run it."
            ),
            PostgresErrorCodes.ReadOnlySqlTransaction => new(
                "The source was added as read-only.",
                "Copy the statement, or allow writing in the source's settings."
            ),
            PostgresErrorCodes.LockNotAvailable => new($"Somebody is writing to {table.Name}.", "Try again when nobody is."),
            PostgresErrorCodes.UndefinedObject => new(
                "The extension pg_trgm is not installed.",
                "Run CREATE EXTENSION pg_trgm in the database."
            ),
            _ => null,
        };

    /// <summary>Whether the database could not read a value's text.</summary>
    public static bool IsAboutValueText(PostgresException answer) =>
        answer.SqlState
            is PostgresErrorCodes.InvalidTextRepresentation
                or PostgresErrorCodes.InvalidDatetimeFormat
                or PostgresErrorCodes.DatetimeFieldOverflow
                or PostgresErrorCodes.NumericValueOutOfRange
                or PostgresErrorCodes.InvalidParameterValue
                or PostgresErrorCodes.IntervalFieldOverflow
                or "22000"
        // Types of extensions refuse a text under any code, internal errors and errors of syntax included.
        || IsOfParameter(answer);

    /// <summary>Whether the database failed at reading a parameter, before it carried anything out.</summary>
    public static bool IsOfParameter(PostgresException answer) =>
        answer.Where?.StartsWith("unnamed portal parameter", StringComparison.Ordinal) == true;

    /// <summary>Explains a refusal.</summary>
    /// <returns>The problem; null where the database failed rather than refused.</returns>
    public static FieldProblem? Explain(PostgresException answer, BoundPanel panel) =>
        answer.SqlState switch
        {
            PostgresErrorCodes.NotNullViolation => NotNull(answer, panel),
            PostgresErrorCodes.UniqueViolation => Unique(answer, panel),
            PostgresErrorCodes.ForeignKeyViolation => Reference(answer, panel),
            PostgresErrorCodes.CheckViolation => Check(answer, panel),
            PostgresErrorCodes.ExclusionViolation => new(
                "",
                $"It conflicts with another record (constraint {answer.ConstraintName} of the database). Change one of the two."
            ),
            PostgresErrorCodes.StringDataRightTruncation => new(
                "",
                $"A text is too long for its column ({answer.MessageText}). Shorten it."
            ),
            PostgresErrorCodes.InsufficientPrivilege => new(
                "",
                $"The database user is not allowed to do this ({answer.MessageText}). Have the privilege granted."
            ),
            PostgresErrorCodes.ReadOnlySqlTransaction => new("", "The source is read-only. Allow writing in its settings."),
            PostgresErrorCodes.RaiseException => new(
                "",
                Sentence(answer.MessageText) + (answer.Hint is null ? "" : " " + Sentence(answer.Hint))
            ),
            PostgresErrorCodes.DeadlockDetected
            or PostgresErrorCodes.SerializationFailure
            or PostgresErrorCodes.LockNotAvailable => new("", Collided),
            PostgresErrorCodes.ObjectNotInPrerequisiteState or "428C9" or PostgresErrorCodes.WrongObjectType => new(
                "",
                $"The database rejects it: {answer.MessageText}."
            ),
            PostgresErrorCodes.UndefinedColumn or PostgresErrorCodes.UndefinedTable => new(
                "",
                "The table has changed since its schema was read. Read the schema again."
            ),
            _ when IsAboutValueText(answer) => new("", $"The database cannot read a value: {answer.MessageText}. Correct it."),
            // What a trigger says, under whatever code, is meant for whoever saves.
            _ when IsFromFunction(answer) => new(
                "",
                Sentence(answer.MessageText) + (answer.Hint is null ? "" : " " + Sentence(answer.Hint))
            ),
            _ when IsRefusal(answer) => new("", $"The database rejects it: {Sentence(answer.MessageText)}"),
            _ => null,
        };

    private static bool IsFromFunction(PostgresException answer) =>
        answer.InvariantSeverity == "ERROR"
        && answer.SqlState != PostgresErrorCodes.QueryCanceled
        && answer.Where?.Contains("function", StringComparison.Ordinal) == true;

    /// <summary>
    /// Whether the database refused what was asked, rather than failed, was stopped, or found a fault in how we asked.
    /// </summary>
    public static bool IsRefusal(PostgresException answer) =>
        answer.InvariantSeverity == "ERROR"
        && answer.SqlState[..2] is not ("08" or "25" or "26" or "34" or "42" or "53" or "54" or "57" or "58" or "XX");

    private static FieldProblem NotNull(PostgresException answer, BoundPanel panel) =>
        panel.FindToWrite(answer.ColumnName ?? "") is { Decision.InForm: true } column
            ? new(column.Name, $"{column.Label} must not be empty. Fill it in.")
            : new(
                "",
                $"The database requires a value for {answer.ColumnName}, which is not in the form. Add it to the panel's form."
            );

    private static FieldProblem Unique(PostgresException answer, BoundPanel panel)
    {
        var columns = panel.Table.Keys.FirstOrDefault(key => key.Name == answer.ConstraintName)?.Columns ?? [];
        var labels = columns.Select(name => panel.Find(name)?.Label ?? name).ToList();
        return columns switch
        {
            [] => new(
                "",
                $"Another record already has the same values (constraint {answer.ConstraintName} of the database). Change one of the two."
            ),
            [var only] => new(Field(only, panel), $"Another record already has this {labels[0]}. Enter a different one."),
            _ => new(
                Field(columns[0], panel),
                $"Another record has the same {string.Join(" and ", labels)} already. Change one of them."
            ),
        };
    }

    private static FieldProblem Reference(PostgresException answer, BoundPanel panel)
    {
        var reference = panel.Table.ForeignKeys.FirstOrDefault(key => key.Name == answer.ConstraintName);
        if (reference is not null && answer.TableName == panel.Table.Name.Name)
        {
            var referred = Labels.ForTable(reference.ReferredTable.Name);
            var shown = reference.Columns.FirstOrDefault(name =>
                panel.Find(name)?.Decision.Lookup is { Also.Count: > 0 } lookup && lookup.Table == reference.ReferredTable
            );
            return new(
                Field(shown ?? reference.Columns[0], panel),
                reference.Columns.Count == 1
                    ? $"There is no record with this value in {referred}. Enter an existing one."
                    : $"There is no record with these values of {string.Join(" and ", reference.Columns.Select(name => panel.Find(name)?.Label ?? name))} in {referred}. Enter an existing one."
            );
        }

        return new(
            "",
            $"Records in {Labels.ForTable(answer.TableName ?? "another table")} refer to this one, so the database does not allow it. Change or delete those first."
        );
    }

    private static FieldProblem Check(PostgresException answer, BoundPanel panel)
    {
        var check = panel.Table.Checks.FirstOrDefault(rule => rule.Name == answer.ConstraintName);
        if (check is not null)
        {
            var field = check.Columns.FirstOrDefault(name => panel.Find(name) is { IsWritable: true });
            return new(field ?? "", $"The database's check {check.Name} does not allow this: {check.Sql}. Correct it.");
        }

        // A domain's rule names the domain, not the column.
        var ofDomain = panel
            .Columns.Where(column => column.Type.Domain?.Split('.', ' ', '(', ')').Contains(answer.DataTypeName) == true)
            .ToList();
        return new(
            ofDomain is [var only] ? only.Name : "",
            $"The database's constraint {answer.ConstraintName} does not allow this. Correct it."
        );
    }

    private static string Field(string column, BoundPanel panel) =>
        panel.FindToWrite(column) is { Decision.InForm: true } ? column : "";

    private static string Sentence(string text) =>
        text.Length > 0 && ".!?".Contains(text[^1], StringComparison.Ordinal) ? text : text + ".";
}
