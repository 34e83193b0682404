using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Drafting;

/// <summary>Drafts a panel from what was found about its table: a usable start for the developer to correct.</summary>
public static class PanelDraft
{
    /// <summary>How many columns a drafted list shows at the most.</summary>
    public const int MaxListColumns = 8;

    private const int MaxNarrowing = 6;
    private const int MaxNarrowingValues = 60;
    private const int LongText = 60;

    // More of them take longer to read than to find in a list.
    private const int MostSegments = 5;
    private const int FewColumns = 4;
    private const double SureOfPosition = 0.7;
    private const int MaxHandOrdered = 50_000;

    /// <summary>Drafts a panel over one table by itself.</summary>
    /// <param name="table">What was found of the table.</param>
    /// <param name="takenSlugs">The slugs of the porch's other panels.</param>
    public static DraftedPanel Make(TableFindings table, IReadOnlySet<string> takenSlugs)
    {
        ArgumentNullException.ThrowIfNull(table);
        var tables = new Dictionary<TableName, TableFindings> { [table.Table.Name] = table };
        return Make(table, tables, new TitleDraft(tables), Slug.Make(table.Label, takenSlugs));
    }

    /// <summary>Drafts a panel over one table from some of its rows, where no survey was made.</summary>
    /// <param name="table">The table or view.</param>
    /// <param name="sample">Some of its rows; may be empty.</param>
    /// <param name="takenSlugs">The slugs of the porch's other panels.</param>
    /// <param name="vocabulary">The words of the schema, for labels; null for those of this table alone.</param>
    public static PanelDefinition Make(
        Table table,
        TableSample sample,
        IReadOnlySet<string> takenSlugs,
        Vocabulary? vocabulary = null
    ) => Make(TableFindings.Of(TableRows.Of(table, sample), vocabulary ?? new Vocabulary([table])), takenSlugs).Panel;

    internal static DraftedPanel Make(
        TableFindings table,
        IReadOnlyDictionary<TableName, TableFindings> tables,
        TitleDraft titles,
        string slug
    )
    {
        var reasons = new List<DraftReason>();
        var title = titles.For(table.Table.Name) ?? new DraftedTitle("", "the table has no columns", false);
        reasons.Add(new("title", title.Reason));
        var listed = ListColumns(table, title, reasons);
        var narrowing = NarrowingColumns(table, tables, reasons);
        var columns = FormSections
            .Arrange(table, title)
            .Select(placed => DraftColumn(table, placed, listed, narrowing, tables, titles, reasons))
            .ToList();
        columns = columns.ConvertAll(column => CanReferTogether(column, columns) ? column : column with { Lookup = null });
        return new DraftedPanel(
            new PanelDefinition
            {
                Slug = slug,
                Label = table.Label,
                RecordLabel = Labels.ForRecord(table.Label),
                Table = table.Table.Name,
                Title = title.Template,
                Columns = columns,
                Marker = Marker(table, reasons),
                Order = Order(table, tables, reasons),
                Folded = columns.Exists(column => column.Section == FormSections.RarelyUsed) ? [FormSections.RarelyUsed] : [],
                EditsInList = table.Table.HasRowVersion && RecordIdentity.Of(table.Table).Exists,
            },
            reasons
        );
    }

    // Whoever chooses fills in all of the columns.
    private static bool CanReferTogether(PanelColumn column, List<PanelColumn> all) =>
        column.Lookup is not { } lookup
        || lookup.Also.All(pair => all.Find(other => other.Name == pair.From) is { InForm: true, Reading: null });

    private static PanelColumn DraftColumn(
        TableFindings table,
        PlacedColumn placed,
        HashSet<string> listed,
        HashSet<string> narrowing,
        IReadOnlyDictionary<TableName, TableFindings> tables,
        TitleDraft titles,
        List<DraftReason> reasons
    )
    {
        var column = placed.Column;
        var lookup = DraftLookup(table, column, tables, titles, reasons);
        return new PanelColumn
        {
            Name = column.Name,
            Label = lookup is null ? table.Columns[column.Name].Label : Labels.ForLookup(table.Columns[column.Name].Label),
            InList = listed.Contains(column.Name),
            // Who looks for a boat may know its owner's name only.
            Searched =
                IsSearched(table, column)
                || (lookup is not null && listed.Contains(column.Name) && SearchText.CanLookInto(column.Type)),
            // Whether a record is set aside is not typed, unless a new one could not do without.
            InForm =
                table.MeaningOf(column.Name) is not (Meaning.RemovedMarker or Meaning.Copy)
                || !(column.IsNullable || column.IsSuppliedByDatabase),
            ReadOnly = column.IsComputed,
            Narrows = narrowing.Contains(column.Name),
            IsSensitive = table.MeaningOf(column.Name) is Meaning.Sensitive,
            IsSecret =
                table.MeaningOf(column.Name) is Meaning.Secret && !RecordIdentity.Of(table.Table).Columns.Contains(column.Name),
            IsPicture = column.Type.Kind is ValueKind.Binary && table.MeaningOf(column.Name) is Meaning.Picture,
            Section = placed.Section,
            Stamp = DraftStamp(table, column, lookup, reasons),
            Input = lookup is null ? DraftInput(table, column) : null,
            Reading = DraftReading(table, column, lookup, reasons),
            Lookup = lookup,
        };
    }

    private static FieldInput? DraftInput(TableFindings table, Column column) =>
        column.Type switch
        {
            { EnumValues.Count: > 0 and <= MostSegments } => FieldInput.Segments,
            { Kind: ValueKind.Text } => table.MeaningOf(column.Name) switch
            {
                Meaning.Email => FieldInput.Email,
                Meaning.Phone => FieldInput.Telephone,
                Meaning.Url => FieldInput.WebAddress,
                Meaning.Html => FieldInput.Formatted,
                _ => null,
            },
            _ => null,
        };

    // What tells records apart stands in addresses as it is stored, and a marker is compared so.
    private static Reading? DraftReading(TableFindings table, Column column, Lookup? lookup, List<DraftReason> reasons)
    {
        var meaning = table.Columns[column.Name].Meaning;
        if (
            meaning.Reading is not { } reading
            || meaning.Meaning is Meaning.RemovedMarker or Meaning.Position
            || lookup is not null
            // What refers to other records is a value of theirs, though it look like yes and no.
            || table.References.Any(reference => reference.Columns.Contains(column.Name))
            || column.IsWrittenByDatabaseOnly
            || RecordIdentity.Of(table.Table).Columns.Contains(column.Name)
            || reading.Problem(column.Type) is not null
        )
            return null;
        reasons.Add(new($"columns.{column.Name}.reading", $"it is read as {reading.Says}: {meaning.Evidence}"));
        return reading;
    }

    // A number that refers to a table of users is left to people: which of them somebody is, is not known.
    private static Stamp? DraftStamp(TableFindings table, Column column, Lookup? lookup, List<DraftReason> reasons)
    {
        Stamp? stamp = table.MeaningOf(column.Name) switch
        {
            Meaning.CreatedAt => Stamp.EnteredAt,
            Meaning.CreatedBy => Stamp.EnteredBy,
            Meaning.ChangedAt => Stamp.ChangedAt,
            Meaning.ChangedBy => Stamp.ChangedBy,
            _ => null,
        };
        if (
            stamp is not { } found
            || lookup is not null
            || column.IsWrittenByDatabaseOnly
            || !Stamps.Fits(found, column.Type)
            || RecordIdentity.Of(table.Table).Columns.Contains(column.Name)
        )
            return null;
        reasons.Add(
            new($"columns.{column.Name}.stamp", $"it is filled in automatically: {table.Columns[column.Name].Meaning.Evidence}")
        );
        return found;
    }

    private static bool IsSearched(TableFindings table, Column column) =>
        table.MeaningOf(column.Name)
            is not (
                Meaning.Sensitive
                or Meaning.Secret
                or Meaning.File
                or Meaning.Picture
                or Meaning.YesNoInDisguise
                or Meaning.RemovedMarker
                or Meaning.Empty
                or Meaning.Document
                or Meaning.Copy
            )
        && (
            column.Type.Kind is ValueKind.Text
            || (RecordIdentity.Of(table.Table).Columns.Contains(column.Name) && SearchText.CanLookInto(column.Type))
        );

    private static Lookup? DraftLookup(
        TableFindings table,
        Column column,
        IReadOnlyDictionary<TableName, TableFindings> tables,
        TitleDraft titles,
        List<DraftReason> reasons
    )
    {
        if (
            (table.ReferenceShownAt(column.Name) ?? Implied(table, column.Name, tables)) is not { } reference
            || !tables.TryGetValue(reference.Target, out var target)
            || !target.Table.Rights.Read
        )
            return null;
        reasons.Add(new($"columns.{column.Name}.lookup", $"it refers to {target.Table.Name}: {reference.Evidence}"));
        List<LookupPair> also =
        [
            .. reference
                .Columns.Zip(reference.TargetColumns, (own, target) => new LookupPair(target, own))
                .Where(pair => pair.From != column.Name),
        ];
        return new Lookup
        {
            Table = reference.Target,
            Key = reference.TargetColumns[reference.Columns.ToList().IndexOf(column.Name)],
            Also = also,
            // What is chosen by itself leaves fewer to choose among.
            Within =
            [
                .. also.Where(pair => (table.ReferenceOf(pair.From) ?? Implied(table, pair.From, tables)) is not null)
                    .Select(pair => new LookupRestriction(pair.Column, pair.From)),
            ],
            Conversion = reference.Conversion,
            Where = reference.Where,
            StandsAbove =
                reference.Target == table.Table.Name && IdentifierWords.Split(column.Name).Any(RoleWords.SuperiorWords.Contains),
            // In a table of lists the text beside the code is what people read, not the list's name.
            Title = reference.Where is null ? null : ListTitle(target, reference) ?? titles.For(reference.Target)?.Template,
        };
    }

    // What is one of the values of a reference refers to what that value refers to there.
    private static Reference? Implied(TableFindings table, string column, IReadOnlyDictionary<TableName, TableFindings> tables) =>
        (
            from reference in table.References
            where reference.Columns.Count > 1 && reference.Columns.Contains(column) && reference.Target != table.Table.Name
            let target = tables.GetValueOrDefault(reference.Target)
            let beyond = target?.ReferenceOf(reference.TargetColumns[reference.Columns.ToList().IndexOf(column)])
            where beyond is { Where: null, Conversion: ValueConversion.None }
            select beyond with
            {
                Table = table.Table.Name,
                Columns = [column],
                Evidence = $"as {reference.Target.Name} does, to which it refers together with others ({beyond.Evidence})",
            }
        ).FirstOrDefault();

    private static string? ListTitle(TableFindings target, Reference reference) =>
        target
            .Table.Columns.Where(column =>
                column.Type.Kind is ValueKind.Text
                && column.Name != reference.Where!.Column
                && column.Name != reference.TargetColumns[0]
            )
            .Where(column => target.Columns[column.Name].Profile is { WordyShare: >= 0.5 } or { Seen: 0 })
            .Select(column => TitleTemplate.Of(column.Name))
            .FirstOrDefault();

    private static HashSet<string> ListColumns(TableFindings table, DraftedTitle title, List<DraftReason> reasons)
    {
        TitleTemplate.TryRead(title.Template, out var template, out _);
        var ofTitle = template?.Columns.ToHashSet() ?? [];
        var identity = RecordIdentity.Of(table.Table).Columns;
        var scored = table
            .Table.Columns.Select(
                (column, position) => (column.Name, Judged: Usefulness(table, column, identity, ofTitle), Position: position)
            )
            .ToList();
        var useful = scored
            .Where(candidate => candidate.Judged.Score > double.NegativeInfinity)
            .OrderByDescending(candidate => candidate.Judged.Score - (0.1 * candidate.Position))
            .Where((candidate, rank) => candidate.Judged.Score >= 0 || rank < FewColumns)
            .Take(MaxListColumns)
            .ToList();
        var listed = useful.Select(candidate => candidate.Name).ToHashSet();
        reasons.AddRange(
            scored
                .Where(candidate => listed.Contains(candidate.Name) || candidate.Judged.Score < 0)
                .Select(candidate => new DraftReason(
                    $"columns.{candidate.Name}.inList",
                    (listed.Contains(candidate.Name) ? "in the list: " : "not in the list: ") + candidate.Judged.Why
                ))
        );
        return listed;
    }

    private static (double Score, string Why) Usefulness(
        TableFindings table,
        Column column,
        IReadOnlyList<string> identity,
        HashSet<string> ofTitle
    )
    {
        var meaning = table.MeaningOf(column.Name);
        var profile = table.Columns[column.Name].Profile;
        // A national number splashed over a list is what nobody asked for, key or not.
        if (meaning is Meaning.Copy)
            return (double.NegativeInfinity, table.Columns[column.Name].Meaning.Evidence);
        if (meaning is Meaning.Secret)
            return (double.NegativeInfinity, $"it is a secret, {table.Columns[column.Name].Meaning.Evidence}");
        if (meaning is Meaning.Sensitive)
            return (double.NegativeInfinity, $"it is sensitive, {table.Columns[column.Name].Meaning.Evidence}");
        if (ofTitle.Contains(column.Name))
            return (110, "it is the record's title");
        if (column.Type.Kind is ValueKind.Binary or ValueKind.Json or ValueKind.Array or ValueKind.Other)
            return (double.NegativeInfinity, $"{column.Type.StoreType} does not fit on one line");
        if (identity.Contains(column.Name))
            return (100, "it identifies the record");
        if (meaning is Meaning.Empty)
            return (double.NegativeInfinity, "it is empty");
        if (profile.IsConstant)
            return (
                double.NegativeInfinity,
                $"every row examined has the same value{(profile.Samples is [var only] ? $", “{only}”" : "")}"
            );
        if (profile.AverageLength > LongText || meaning is Meaning.LongText or Meaning.Html)
            return (-50, "its texts are long");
        if (meaning is Meaning.Document)
            return (-50, "its values are documents");
        if (meaning is Meaning.CreatedAt or Meaning.CreatedBy or Meaning.ChangedAt or Meaning.ChangedBy)
            return (-20, "who entered or changed a record is rarely needed in a list");
        if (meaning is Meaning.RemovedMarker or Meaning.Position || column.Type.Kind is ValueKind.Uuid)
            return (-20, "programs read it, people do not");
        var bonus = table.ReferenceShownAt(column.Name) is not null
            ? 8
            : meaning switch
            {
                Meaning.Name => 7,
                Meaning.Phone or Meaning.Email or Meaning.DateInDisguise or Meaning.Money => 4,
                Meaning.Choice or Meaning.Code or Meaning.Year or Meaning.Quantity or Meaning.YesNoInDisguise => 2,
                _ => column.Type.Kind is ValueKind.Date or ValueKind.DateTime ? 4 : 0,
            };
        // What is mostly empty comes last, but still before what only programs read.
        return (
            Math.Max(0, 1 + bonus - (12 * profile.EmptyShare)),
            table.ReferenceShownAt(column.Name) is not null ? "it shows the record that it refers to"
            : profile.EmptyShare > 0.7 ? $"{ColumnFacts.Percent(profile.EmptyShare)} of the rows are empty"
            : "most rows have a value"
        );
    }

    private static HashSet<string> NarrowingColumns(
        TableFindings table,
        IReadOnlyDictionary<TableName, TableFindings> tables,
        List<DraftReason> reasons
    )
    {
        var identity = RecordIdentity.Of(table.Table).Columns;
        var fitting = table
            .Table.Columns.Where(column => !identity.Contains(column.Name) && !table.IsUninformative(column.Name))
            .Select(column => (column.Name, Why: WhyNarrowing(table, column, tables), table.Columns[column.Name].Profile))
            .Where(candidate => candidate.Why is not null)
            .OrderBy(candidate => candidate.Profile.EmptyShare)
            .ThenBy(candidate => candidate.Profile.Distinct)
            .Take(MaxNarrowing)
            .ToList();
        reasons.AddRange(fitting.Select(candidate => new DraftReason($"columns.{candidate.Name}.narrows", candidate.Why!)));
        return [.. fitting.Select(candidate => candidate.Name)];
    }

    private static string? WhyNarrowing(TableFindings table, Column column, IReadOnlyDictionary<TableName, TableFindings> tables)
    {
        var distinct = table.Columns[column.Name].Profile.Distinct;
        if (table.ReferenceOf(column.Name) is { } reference)
            return
                tables.TryGetValue(reference.Target, out var target)
                && (target.Shape is TableShape.CodeList or TableShape.Lookup || target.Rows <= MaxNarrowingValues)
                ? $"it refers to a short list, {reference.Target.Name}"
                : null;
        if (column.Type.Kind is ValueKind.Boolean or ValueKind.Enum)
            return "its type has few values";
        if (table.Columns[column.Name].Meaning is { Reading: SeveralReading, Meaning: Meaning.Several })
            return "its values are several of a few";
        return
            table.MeaningOf(column.Name) is Meaning.Choice or Meaning.Code or Meaning.YesNoInDisguise or Meaning.Country
            && distinct is > 1 and <= MaxNarrowingValues
            ? $"it has {distinct} different values"
            : null;
    }

    private static RemovalMarker? Marker(TableFindings table, List<DraftReason> reasons)
    {
        var column = table.Table.Columns.FirstOrDefault(column =>
            table.MeaningOf(column.Name) is Meaning.RemovedMarker && !column.IsWrittenByDatabaseOnly
        );
        if (column is null)
            return null;
        var marker = RemovalValues.Of(column, table.Columns[column.Name].Profile);
        if (marker is not null)
            reasons.Add(
                new(
                    "marker",
                    $"“{table.Columns[column.Name].Label}” marks records as set aside: {table.Columns[column.Name].Meaning.Evidence}"
                )
            );
        return marker;
    }

    private static RunningOrder? Order(
        TableFindings table,
        IReadOnlyDictionary<TableName, TableFindings> tables,
        List<DraftReason> reasons
    )
    {
        var position = table
            .Table.Columns.Where(column =>
                table.MeaningOf(column.Name) is Meaning.Position
                && !column.IsWrittenByDatabaseOnly
                // Whatever moved a record would make another one of it, or have it refer elsewhere.
                && !RecordIdentity.Of(table.Table).Columns.Contains(column.Name)
                && table.Columns[column.Name].Meaning.Confidence >= SureOfPosition
            )
            .MaxBy(column => table.Columns[column.Name].Meaning.Confidence);
        // What people put in order by hand is short.
        if (position is null || table.Rows > MaxHandOrdered)
            return null;
        // Where many records stand under few of another table, each of those has an order of its own.
        var group = table
            .References.Where(reference =>
                reference.Columns.Count == 1 && reference.Where is null && reference.Target != table.Table.Name
            )
            .Where(reference =>
                tables.TryGetValue(reference.Target, out var target)
                && target.Rows > 0
                && table.Rows >= 5 * target.Rows
                && target.Shape is not TableShape.CodeList
            )
            .OrderBy(reference => tables[reference.Target].Rows)
            .Select(reference => reference.Columns[0])
            .FirstOrDefault();
        reasons.Add(
            new(
                "order",
                table.Columns[position.Name].Meaning.Evidence
                    + (
                        group is null
                            ? ""
                            : $"; each “{table.Columns[group].Label}” has a running order of its own, as many records share one"
                    )
            )
        );
        return new RunningOrder { Column = position.Name, Group = group };
    }
}

/// <summary>A drafted panel with the reasons for what was decided.</summary>
/// <param name="Panel">The panel.</param>
/// <param name="Reasons">Why, part by part.</param>
public sealed record DraftedPanel(PanelDefinition Panel, IReadOnlyList<DraftReason> Reasons);

/// <summary>Why a draft decided something.</summary>
/// <param name="Part">What was decided, such as <c>title</c> or <c>columns.NAME.inList</c>.</param>
/// <param name="Why">The reason, for people.</param>
public sealed record DraftReason(string Part, string Why);
