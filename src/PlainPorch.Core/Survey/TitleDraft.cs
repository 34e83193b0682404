using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Drafts how records are called: by a text that tells them apart, else by a code that people know, else by the records that
/// they refer to, and by a number only where nothing else is there.
/// </summary>
/// <param name="tables">What was found of the tables, by their names.</param>
internal sealed class TitleDraft(IReadOnlyDictionary<TableName, TableFindings> tables)
{
    private const int LongText = 60;

    private static readonly string[] _namelessWords =
    [
        "checksum",
        "hash",
        "md5",
        "sha",
        "sha1",
        "digest",
        "fingerprint",
        "etag",
        "signature",
        "crc",
        "uuid",
        "guid",
        "token",
        "version",
        "path",
        "url",
        "uri",
        "ip",
        "mime",
        "extension",
        "lang",
        "language",
        "locale",
        "timezone",
        "color",
        "colour",
        "type",
        "status",
        "state",
        "kind",
        "level",
        "mode",
        "format",
    ];

    // Parts of a name, or names of something beside the record.
    private static readonly string[] _lesserWords =
    [
        "first",
        "middle",
        "maiden",
        "file",
        "short",
        "sort",
        "table",
        "column",
        "class",
        "old",
        "upper",
        "lower",
    ];

    private static readonly string[] _codeWords =
    [
        "code",
        "no",
        "nr",
        "number",
        "num",
        "nbr",
        "sku",
        "ref",
        "cd",
        "ean",
        "isbn",
        "serial",
    ];

    // Names repeat where fewer of the rows have one of their own.
    private const double RepeatingShare = 0.9;
    private const int EnoughRows = 10;

    // A code that most rows lack tells few of them apart.
    private const double MostlyEmpty = 0.5;

    private static readonly string[] _titleWords =
    [
        "title",
        "name",
        "label",
        "subject",
        "surname",
        "lastname",
        "caption",
        "descr",
        "desc",
        "description",
        "nm",
        "firm",
        "company",
        "username",
        "login",
        "hostname",
        "filename",
        "summary",
    ];

    private static readonly string[] _numberWords = ["no", "nr", "num", "number", "nbr", "serial"];

    private static readonly string[] _familyNames = ["surname", "lastname", "lname", "lastnm", "familyname", "surnm"];
    private static readonly string[] _firstNames = ["firstname", "fname", "firstnm", "forename", "givenname", "first"];

    private readonly Dictionary<TableName, DraftedTitle> _made = [];
    private readonly HashSet<TableName> _underway = [];

    /// <summary>The title of a table's records; null for a table that is not known here.</summary>
    public DraftedTitle? For(TableName name)
    {
        if (_made.TryGetValue(name, out var made))
            return made;
        // Who is asked again while looking is part of a circle, and no help to it.
        if (!tables.TryGetValue(name, out var table) || !_underway.Add(name))
            return null;
        var title = (table.Shape is TableShape.Join ? BothSides(table) : null)
            ?? OwnText(table)
            ?? OwnCode(table)
            ?? ThroughReferences(table)
            ?? AnyText(table)
            ?? Moment(table)
            ?? ByKey(table);
        _underway.Remove(name);
        return _made[name] = title;
    }

    private static DraftedTitle? OwnText(TableFindings table)
    {
        if (Person(table) is { } person)
            return person;
        var best = TitleTexts(table)
            .Select(column => (column.Name, Score: Score(table, column)))
            .Where(candidate => candidate.Score > 0.3)
            .OrderByDescending(candidate => candidate.Score)
            .FirstOrDefault();
        if (best.Name is null)
            return null;
        var label = table.Columns[best.Name].Label;
        var profile = table.Columns[best.Name].Profile;
        if (Repeats(profile) && CodeBeside(table, best.Name) is { } code)
            return new(
                $"{TitleTemplate.Of(best.Name)} ({TitleTemplate.Of(code)})",
                $"“{label}” repeats, and “{Label(table, code)}” tells apart those that have the same",
                true
            );
        return new(
            TitleTemplate.Of(best.Name),
            profile.Seen == 0
                ? $"“{label}” is named like a title"
                : $"“{label}” is text, with {profile.Distinct} distinct values in {profile.Seen} rows examined",
            true
        );
    }

    private static bool Repeats(ColumnProfile profile) =>
        profile.Seen >= EnoughRows && profile.Distinct < RepeatingShare * profile.Seen * (1 - profile.EmptyShare);

    // A code that people use, no two records of which share one.
    private static string? CodeBeside(TableFindings table, string name) =>
        table
            .Table.Columns.FirstOrDefault(column =>
                column.Name != name
                // A number that the database gave out tells a person nothing.
                && (
                    column.Type.Kind is ValueKind.Text
                    || (column.Type.IsInteger && !RecordIdentity.Of(table.Table).Columns.Contains(column.Name))
                )
                && table.ReferenceOf(column.Name) is null
                && table.MeaningOf(column.Name) is not (Meaning.Sensitive or Meaning.Secret or Meaning.Position)
                && IdentifierWords.Split(column.Name) is { Count: > 0 } words
                && _codeWords.Contains(words[^1])
                && IsUnique(table, column.Name)
            )
            ?.Name;

    private static bool IsUnique(TableFindings table, string column) =>
        table.Table.Keys.Any(key => key.Columns is [var only] && only == column)
        // Where it is empty, its brackets go with it.
        || table.Columns[column].Profile is { Seen: >= EnoughRows, EmptyShare: < MostlyEmpty } profile
            && profile.Distinct == (int)Math.Round(profile.Seen * (1 - profile.EmptyShare));

    private static DraftedTitle? Person(TableFindings table)
    {
        var family = table.Table.Columns.FirstOrDefault(column =>
            Is(column.Name, _familyNames) && column.Type.Kind is ValueKind.Text && !table.IsUninformative(column.Name)
        );
        var first = table.Table.Columns.FirstOrDefault(column =>
            Is(column.Name, _firstNames) && column.Type.Kind is ValueKind.Text && !table.IsUninformative(column.Name)
        );
        return family is null || first is null
            ? null
            : new(
                $"{TitleTemplate.Of(family.Name)}, {TitleTemplate.Of(first.Name)}",
                $"“{Label(table, family.Name)}” and “{Label(table, first.Name)}” name a person",
                true
            );
    }

    // A word of the name that says "title" outweighs everything; else the text that differs most from row to row.
    private static double Score(TableFindings table, Column column)
    {
        var named = Named(table, column);
        var profile = table.Columns[column.Name].Profile;
        if (profile.Seen == 0)
            return named;
        // Names that most rows lack name nothing.
        var variety = Math.Min(1, (double)profile.Distinct / profile.Seen) * (1 - profile.EmptyShare);
        return profile.WordyShare < 0.5 || profile.EmptyShare > 0.6 ? 0 : named + (variety * profile.WordyShare);
    }

    private static double Named(TableFindings table, Column column)
    {
        var words = IdentifierWords.Split(column.Name);
        var own = IdentifierWords.Split(table.Table.Name.Name);
        if (words.Count == 0)
            return 0;
        // "macro" in "global_macro", "host" in "hosts"
        if (
            IsCalledLike(string.Concat(words), string.Concat(own))
            || IsCalledLike(words[^1], own.LastOrDefault("")) && words.Count == 1
        )
            return 1.9;
        // A paper bears a number: an invoice, an order.
        if (
            words.Count <= 2
            && words[^1] is "number" or "reference" or "code"
            && words.SkipLast(1).All(word => own.Contains(word) || own.Contains(word + "s"))
        )
            return 1.6;
        if (!_titleWords.Contains(words[^1]))
            return 0;
        if (words.Any(_lesserWords.Contains))
            return 1.5;
        var isDescription = words[^1] is "descr" or "desc" or "description" or "summary" or "subject" or "caption";
        // "name", "boat_name", "display_name"; the "ipmi_username" of a host is not its name.
        var isPlain =
            words.Count == 1
            || words
                .SkipLast(1)
                .All(word => own.Contains(word) || own.Contains(word + "s") || word is "display" or "full" or "legal");
        return (isDescription ? 1.2 : 2) + (isPlain ? 0.3 : 0);
    }

    private static bool IsCalledLike(string column, string table) =>
        column.Length >= 3 && (column == table || column + "s" == table || column + "es" == table);

    private static DraftedTitle? OwnCode(TableFindings table)
    {
        var key = RecordIdentity
            .Of(table.Table)
            .Columns.Where(column =>
                table.Table.Find(column)!.Type.Kind is ValueKind.Text
                && table.ReferenceOf(column) is null
                && table.MeaningOf(column) is not Meaning.Secret
            )
            .ToList();
        return key.Count == 0
            ? null
            : new(TitleTemplate.Of(key[^1]), $"“{Label(table, key[^1])}” is a code that people recognize records by", true);
    }

    private DraftedTitle? ThroughReferences(TableFindings table)
    {
        var key = RecordIdentity.Of(table.Table).Columns;
        var telling = table
            .References.Where(reference =>
                reference.Columns.Count == 1
                && reference.Target != table.Table.Name
                && table.Table.Find(reference.Columns[0]) is not null
            )
            .Where(reference =>
                table.MeaningOf(reference.Columns[0]) is not (Meaning.CreatedBy or Meaning.ChangedBy)
                && !IsMostlyEmpty(table, reference.Columns[0])
            )
            .Where(reference =>
                tables.TryGetValue(reference.Target, out var target)
                && (For(reference.Target)?.IsTelling ?? false)
                && target.Shape is not TableShape.Log
            )
            .OrderBy(reference => key.Contains(reference.Columns[0]) ? 0 : 1)
            .ThenBy(reference => tables[reference.Target].Shape is TableShape.CodeList or TableShape.Lookup ? 1 : 0)
            .ThenBy(reference => IndexOf(table, reference.Columns[0]))
            .ToList();
        if (telling.Count == 0)
            return null;
        var reference = telling[0];
        // Its title will stand within those of others, where a second day beside theirs would tell nothing.
        if (NumberOf(table, key) is { } number && number != reference.Columns[0] && IsReferredTo(table, number))
            return new(
                $"{TitleTemplate.Of(number)} · {TitleTemplate.Of(reference.Columns[0])}",
                $"others refer to it by “{Label(table, number)}”, and “{Label(table, reference.Columns[0])}” says whose it is",
                true
            );
        var (beside, kind) = Beside(table, key, reference);
        return new(
            beside is null
                ? TitleTemplate.Of(reference.Columns[0])
                : $"{TitleTemplate.Of(reference.Columns[0])} · {TitleTemplate.Of(beside)}",
            $"it has no name of its own: it is named after the record that “{Label(table, reference.Columns[0])}” refers to{kind}",
            true
        );
    }

    private static DraftedTitle? BothSides(TableFindings table)
    {
        var sides = table
            .References.Where(reference => reference.Columns.Count == 1 && table.Table.Find(reference.Columns[0]) is not null)
            .Where(reference => table.MeaningOf(reference.Columns[0]) is not (Meaning.CreatedBy or Meaning.ChangedBy))
            .Select(reference => reference.Columns[0])
            .Distinct()
            .OrderBy(column => IndexOf(table, column))
            .Take(2)
            .ToList();
        return sides.Count < 2
            ? null
            : new(
                $"{TitleTemplate.Of(sides[0])} · {TitleTemplate.Of(sides[1])}",
                "it joins two records, and is named after both",
                true
            );
    }

    // A number that people read off the thing, such as METER_NO, and not one that only the database knows, such as ID.
    private static string? NumberOf(TableFindings table, IReadOnlyList<string> key) =>
        key is [var only]
        && table.ReferenceOf(only) is null
        && IdentifierWords.Split(only) is [_, .., var last]
        && _numberWords.Contains(last)
            ? only
            : null;

    private bool IsReferredTo(TableFindings table, string column) =>
        tables.Values.Any(other =>
            other.Table.Name != table.Table.Name
            && other.References.Any(reference =>
                reference.Target == table.Table.Name && reference.TargetColumns.SequenceEqual([column])
            )
        );

    // What tells apart the records of one owner: a day, or a number in the key.
    private static (string? Column, string Kind) Beside(TableFindings table, IReadOnlyList<string> key, Reference reference)
    {
        var day = table.Table.Columns.FirstOrDefault(column => IsDay(table, column));
        if (day is not null)
            return (day.Name, $", and the day in “{Label(table, day.Name)}”");
        var rest = key.FirstOrDefault(column => !reference.Columns.Contains(column));
        return rest is null ? (null, "") : (rest, $", and “{Label(table, rest)}”");
    }

    private static DraftedTitle? AnyText(TableFindings table)
    {
        var text = TitleTexts(table)
            .FirstOrDefault(column => table.Columns[column.Name].Profile is { Seen: 0 } or { Distinct: > 1, EmptyShare: < 0.5 });
        return text is null ? null : new(TitleTemplate.Of(text.Name), $"“{Label(table, text.Name)}” is its first text", true);
    }

    private static DraftedTitle? Moment(TableFindings table) =>
        table.Table.Columns.FirstOrDefault(column => IsDay(table, column)) is { } day
            ? new(TitleTemplate.Of(day.Name), $"it has no text and no reference; “{Label(table, day.Name)}” says when", false)
            : null;

    private static DraftedTitle ByKey(TableFindings table)
    {
        IReadOnlyList<string> key = RecordIdentity.Of(table.Table) is { Exists: true } identity
            ? identity.Columns
            : [.. table.Table.Columns.Take(1).Select(column => column.Name)];
        return new(string.Join(' ', key.Select(TitleTemplate.Of)), "nothing in it is more informative than its key", false);
    }

    private static IEnumerable<Column> TitleTexts(TableFindings table) =>
        table.Table.Columns.Where(column =>
            column.Type.Kind is ValueKind.Text
            && table.ReferenceOf(column.Name) is null
            && !table.IsUninformative(column.Name)
            && table.Columns[column.Name].Profile is not { AverageLength: > LongText }
            && !IsNoName(table, column)
            && !LooksComputed(table.Columns[column.Name].Profile)
            && table.MeaningOf(column.Name)
                is not (
                    Meaning.Sensitive
                    or Meaning.Secret
                    or Meaning.CreatedBy
                    or Meaning.ChangedBy
                    or Meaning.Choice
                    or Meaning.Code
                    or Meaning.YesNoInDisguise
                    or Meaning.DateInDisguise
                    or Meaning.RemovedMarker
                    or Meaning.IdList
                    or Meaning.Several
                    or Meaning.Document
                    or Meaning.Copy
                    or Meaning.Html
                    or Meaning.LongText
                    or Meaning.Country
                    or Meaning.PostalCode
                    or Meaning.Phone
                )
        );

    private static bool IsNoName(TableFindings table, Column column) =>
        IdentifierWords.Split(column.Name) is { Count: > 0 } words
        && _namelessWords.Contains(words[^1])
        && !IsCalledLike(words[^1], IdentifierWords.Split(table.Table.Name.Name).LastOrDefault(""));

    // Checksums and identifiers of programs: long, of one length, of hexadecimal digits.
    private static bool LooksComputed(ColumnProfile profile) =>
        profile.Samples.Count > 0
        && profile.Samples.All(sample => sample.Length >= 16 && sample.All(c => char.IsAsciiHexDigit(c) || c == '-'));

    private static bool IsDay(TableFindings table, Column column) =>
        (
            column.Type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant
            || table.MeaningOf(column.Name) is Meaning.DateInDisguise && column.Type.Kind is ValueKind.Text
        )
        && table.ReferenceOf(column.Name) is null
        && table.MeaningOf(column.Name)
            is not (Meaning.CreatedAt or Meaning.ChangedAt or Meaning.RemovedMarker or Meaning.Sensitive or Meaning.Secret)
        && !IsMostlyEmpty(table, column.Name);

    private static bool IsMostlyEmpty(TableFindings table, string column) =>
        table.Columns.TryGetValue(column, out var found) && found.Profile.EmptyShare > 0.5;

    private static bool Is(string column, string[] names) => names.Contains(string.Concat(IdentifierWords.Split(column)));

    private static int IndexOf(TableFindings table, string name) =>
        table.Table.Columns.Select((column, i) => (column.Name, i)).First(pair => pair.Name == name).i;

    private static string Label(TableFindings table, string column) =>
        table.Columns.TryGetValue(column, out var found) ? found.Label : column;
}

/// <summary>A drafted title.</summary>
/// <param name="Template">A <see cref="TitleTemplate"/>.</param>
/// <param name="Reason">Why, for people.</param>
/// <param name="IsTelling">Whether a person knows a record by it.</param>
internal sealed record DraftedTitle(string Template, string Reason, bool IsTelling);
