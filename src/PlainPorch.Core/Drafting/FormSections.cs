using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Drafting;

/// <summary>Puts the columns of a form in order, and long forms under headings.</summary>
internal static class FormSections
{
    // A form that is seen at one glance needs no headings.
    private const int ShortForm = 10;
    private const int WorthAHeading = 2;

    // What is left without a heading after that many columns is put under the word that it begins with.
    private const int LongPart = 24;
    private const int WorthAWord = 3;

    private const int EnoughRows = 20;
    private const double Rare = 0.97;

    /// <summary>The heading of what hardly any record has.</summary>
    public const string RarelyUsed = "Rarely filled in";

    private static readonly string[] _last =
    [
        "Contact",
        "Notes",
        "Pictures and files",
        "Confidential",
        RarelyUsed,
        "Filled in automatically",
    ];

    private static readonly FrozenSet<string> _addressWords = new[]
    {
        "address",
        "addr",
        "street",
        "town",
        "city",
        "zip",
        "postcode",
        "pcode",
        "country",
        "ctry",
        "mail",
        "email",
        "fax",
        "tel",
        "phone",
        "web",
    }.ToFrozenSet();

    /// <summary>Key and title first, then the table's own order within each section.</summary>
    public static IEnumerable<PlacedColumn> Arrange(TableFindings table, DraftedTitle title)
    {
        TitleTemplate.TryRead(title.Template, out var template, out _);
        var ofTitle = template?.Columns.ToList() ?? [];
        var key = RecordIdentity.Of(table.Table).Columns;
        var sections = table.Table.Columns.ToDictionary(
            column => column.Name,
            column => Section(table, column, key.Contains(column.Name) || ofTitle.Contains(column.Name))
        );
        var hasHeadings = table.Table.Columns.Count > ShortForm;
        var worth = sections
            .Values.GroupBy(section => section)
            .Where(group => group.Count() >= WorthAHeading || group.Key is "Confidential" or "Notes")
            .Select(group => group.Key)
            .ToHashSet();
        if (hasHeadings)
            PutUnderWords(table, sections);
        else
            worth.Clear();
        var words = sections.Values.Except(_last).Distinct().ToList();
        return table
            .Table.Columns.Select(
                (column, i) =>
                    (
                        Placed: new PlacedColumn(
                            column,
                            worth.Contains(sections[column.Name]) || words.Contains(sections[column.Name])
                                ? sections[column.Name]
                                : ""
                        ),
                        i
                    )
            )
            .OrderBy(pair => PlaceOf(pair.Placed.Section))
            .ThenBy(pair => Rank(pair.Placed.Column.Name))
            .ThenBy(pair => pair.i)
            .Select(pair => pair.Placed);

        int PlaceOf(string section) =>
            section.Length == 0 ? -1
            : Array.IndexOf(_last, section) is >= 0 and var last ? words.Count + last
            : words.IndexOf(section);

        int Rank(string name) =>
            key.Contains(name) ? 0
            : ofTitle.Contains(name) ? 1
            : 2;
    }

    // A form of a hundred fields is read by its parts: those of one address, one contract, one engine begin alike.
    private static void PutUnderWords(TableFindings table, Dictionary<string, string> sections)
    {
        var plain = table
            .Table.Columns.Where(column => sections[column.Name].Length == 0)
            .Select(column => (column.Name, Words: table.Columns[column.Name].Label.Split(' ')))
            .ToList();
        if (plain.Count <= LongPart)
            return;
        foreach (
            var group in plain
                .Where(column => column.Words.Length > 1 && column.Words[0].Length > 2)
                .GroupBy(column => column.Words[0])
                .Where(group => group.Count() >= WorthAWord)
        )
        {
            foreach (var (name, _) in group)
                sections[name] = group.Key;
        }
    }

    private static bool IsRare(TableFindings table, Column column) =>
        column.IsNullable
        && (
            table.MeaningOf(column.Name) is Meaning.Empty
            || table.Columns[column.Name].Profile is { Seen: >= EnoughRows, EmptyShare: >= Rare }
        );

    private static string Section(TableFindings table, Column column, bool isHead) =>
        isHead
            ? ""
            : table.MeaningOf(column.Name) switch
            {
                Meaning.Sensitive or Meaning.Secret => "Confidential",
                Meaning.CreatedAt
                or Meaning.CreatedBy
                or Meaning.ChangedAt
                or Meaning.ChangedBy
                or Meaning.RemovedMarker
                or Meaning.Position => "Filled in automatically",
                _ when table.Table.Columns.Count > ShortForm && IsRare(table, column) => RarelyUsed,
                Meaning.LongText or Meaning.Html => "Notes",
                Meaning.File or Meaning.Picture => "Pictures and files",
                Meaning.Email or Meaning.Phone or Meaning.PostalCode or Meaning.Country or Meaning.Url => "Contact",
                _ => column.Type.Kind is ValueKind.Text && IdentifierWords.Split(column.Name).Any(_addressWords.Contains)
                    ? "Contact"
                    : "",
            };
}

/// <summary>A column with the heading that it stands under.</summary>
/// <param name="Column">The column.</param>
/// <param name="Section">The heading; empty for none.</param>
internal sealed record PlacedColumn(Column Column, string Section);
