using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>What findings say, in words for the middle of a sentence.</summary>
internal static class Words
{
    public static string Of(Meaning meaning) =>
        meaning switch
        {
            Meaning.Plain => "nothing beyond its type",
            Meaning.Empty => "empty",
            Meaning.Identifier => "an identifier",
            Meaning.Code => "a code",
            Meaning.Name => "a name",
            Meaning.LongText => "long text",
            Meaning.Html => "HTML",
            Meaning.Email => "an e-mail address",
            Meaning.Url => "a web address",
            Meaning.Phone => "a telephone number",
            Meaning.PostalCode => "a postal code",
            Meaning.Country => "a country",
            Meaning.Money => "an amount of money",
            Meaning.Percentage => "a percentage",
            Meaning.Quantity => "a measure",
            Meaning.Year => "a year",
            Meaning.DateInDisguise => "a date stored as something else",
            Meaning.TimeInDisguise => "a time of day stored as something else",
            Meaning.YesNoInDisguise => "yes or no stored as something else",
            Meaning.Choice => "one of a few values",
            Meaning.File => "a file",
            Meaning.Picture => "a picture",
            Meaning.Position => "a place in an order",
            Meaning.CreatedAt => "when a record was entered",
            Meaning.CreatedBy => "who entered a record",
            Meaning.ChangedAt => "when a record was changed",
            Meaning.ChangedBy => "who changed a record",
            Meaning.RemovedMarker => "the marker of a removed record",
            Meaning.Sensitive => "sensitive",
            Meaning.Secret => "a secret, set and never shown",
            Meaning.Several => "several values in one column",
            Meaning.Copy => "a copy of another column",
            Meaning.Document => "a document in a text",
            Meaning.IdList => "a list of numbers in one text",
            _ => meaning.ToString(),
        };

    public static string Of(TableShape shape) =>
        shape switch
        {
            TableShape.Main => "a main table",
            TableShape.Lookup => "a short table that others choose from",
            TableShape.CodeList => "a table of code lists",
            TableShape.Join => "a join table",
            TableShape.Detail => "a part of another table's records",
            TableShape.Extension => "more columns for another table's records",
            TableShape.Hierarchy => "a hierarchy",
            TableShape.Log => "a log",
            TableShape.Empty => "empty",
            TableShape.Copy => "a copy of another table",
            _ => shape.ToString(),
        };

    public static string Of(SurveyedCheck check) =>
        (check.Sort, check.Columns) switch
        {
            (LikelyCheckSort.InOrder, var columns) => $"{columns[0]} is at most {columns[1]}",
            (LikelyCheckSort.Product, var columns) => $"{columns[0]} is {columns[1]} times {columns[2]}",
            (LikelyCheckSort.Days, var columns) =>
                $"{columns[0]} is the days from {columns[1]} to {columns[2]}, times {columns[3]}",
            (LikelyCheckSort.Sum, var columns) => $"{columns[0]} is {columns[1]} and {columns[2]} taken together",
            (LikelyCheckSort.OneOpen, var columns) => $"at most one row for each {columns[1]} has no {columns[0]}",
            (LikelyCheckSort.Apart, var columns) =>
                $"rows with the same {columns[2]} do not overlap from {columns[0]} to {columns[1]}",
            _ => check.Sort.ToString(),
        };

    public static string WhyOf(SurveyedCheck check) =>
        string.Create(
            System.Globalization.CultureInfo.InvariantCulture,
            $"{(check.Broken == 0 ? "all" : $"all but {check.Broken:N0}")} of the {check.Rows:N0} rows {(check.IsCounted ? "that it says something of" : "looked at")} keep to it"
        );

    public static string WhyOf(SurveyedTable table) =>
        table.Shape switch
        {
            TableShape.Lookup => $"others refer to it, it refers to none, and it has {table.Rows} rows",
            TableShape.CodeList => "other tables refer to one list of it each",
            TableShape.Join => "its key is made of references to two tables",
            TableShape.Detail => "it refers to a table that its key or its name makes it a part of",
            TableShape.Extension => "its key is a reference",
            TableShape.Hierarchy => "it refers to itself",
            TableShape.Log => "its name says so",
            TableShape.Empty => "it has no rows",
            TableShape.Copy => "its name and its columns are those of another table, and more",
            _ => "",
        };
}
