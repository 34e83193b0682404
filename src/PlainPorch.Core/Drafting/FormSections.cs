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

    private static readonly string[] _order =
    [
        "",
        "Contact",
        "Notes",
        "Pictures and files",
        "Confidential",
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
        return table
            .Table.Columns.Select(
                (column, i) =>
                    (
                        Placed: new PlacedColumn(
                            column,
                            hasHeadings && worth.Contains(sections[column.Name]) ? sections[column.Name] : ""
                        ),
                        i
                    )
            )
            .OrderBy(pair => Array.IndexOf(_order, pair.Placed.Section))
            .ThenBy(pair => Rank(pair.Placed.Column.Name))
            .ThenBy(pair => pair.i)
            .Select(pair => pair.Placed);

        int Rank(string name) =>
            key.Contains(name) ? 0
            : ofTitle.Contains(name) ? 1
            : 2;
    }

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
