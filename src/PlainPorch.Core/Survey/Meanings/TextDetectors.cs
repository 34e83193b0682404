using System.Collections.Frozen;
using System.Globalization;
using System.Text.RegularExpressions;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds what texts are about.</summary>
internal static partial class TextDetectors
{
    private const int FewValues = 30;

    private static readonly FrozenSet<string> _countries = CultureInfo
        .GetCultures(CultureTypes.SpecificCultures)
        .Select(culture => new RegionInfo(culture.Name))
        .Where(region => region.TwoLetterISORegionName.Length == 2)
        .SelectMany(region =>
            new[] { region.TwoLetterISORegionName, region.ThreeLetterISORegionName, region.EnglishName.ToUpperInvariant() }
        )
        .Where(name => name.Length > 0)
        .ToFrozenSet();

    public static ColumnMeaning? Html(ColumnFacts column)
    {
        var share = column.IsText ? column.Share(text => Tag().IsMatch(text)) : 0;
        return share > 0.5 ? new(Meaning.Html, 0.96, $"{ColumnFacts.Percent(share)} of the texts contain HTML markup") : null;
    }

    public static ColumnMeaning? Email(ColumnFacts column)
    {
        var share = column.IsText ? column.Share(text => Mail().IsMatch(text)) : 0;
        if (share > 0.8)
            return new(Meaning.Email, 0.98, $"{ColumnFacts.Percent(share)} of the texts are e-mail addresses")
            {
                Reading = new ContactReading { Means = ContactMeans.Email },
            };
        return column.IsText && column.Filled.Count == 0 && column.Says("email", "mail")
            ? new(Meaning.Email, 0.7, "its name says so")
            : null;
    }

    public static ColumnMeaning? Url(ColumnFacts column)
    {
        var share = column.IsText
            ? column.Share(text => Uri.TryCreate(text, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https" or "ftp")
            : 0;
        return share > 0.8
            ? new(Meaning.Url, 0.98, $"{ColumnFacts.Percent(share)} of the texts are web addresses")
            {
                Reading = new ContactReading { Means = ContactMeans.Web },
            }
            : null;
    }

    public static ColumnMeaning? Phone(ColumnFacts column)
    {
        if (!column.IsText || !column.Says("tel", "phone", "telephone", "fax", "mobile", "cell", "telefon"))
            return null;
        var share = column.Share(text => text.Count(char.IsDigit) >= 5 && Digits().IsMatch(text));
        return column.Filled.Count == 0 || share > 0.7
            ? new(Meaning.Phone, 0.94, $"its name says so, and {ColumnFacts.Percent(share)} of the texts have the shape")
            {
                Reading = new ContactReading { Means = ContactMeans.Phone },
            }
            : null;
    }

    public static ColumnMeaning? PostalCode(ColumnFacts column) =>
        column.IsText
        && (column.Says("pcode", "postcode", "zip", "zipcode", "plz", "postal") || (column.Says("post") && column.Says("code")))
            ? new(Meaning.PostalCode, 0.92, "its name says so")
            : null;

    public static ColumnMeaning? Country(ColumnFacts column)
    {
        if (!column.IsText || column.Distinct.Count == 0)
            return null;
        var share = column.Share(text => _countries.Contains(text.ToUpperInvariant()));
        return share > 0.95 && column.Says("ctry", "country", "land", "nation", "nationality", "pays", "pais")
            ? new(Meaning.Country, 0.95, $"its name says so, and {ColumnFacts.Percent(share)} of the texts are countries")
            : null;
    }

    public static ColumnMeaning? File(ColumnFacts column)
    {
        if (column.Kind is ValueKind.Binary)
            return column.Says("photo", "image", "picture", "pic", "img", "logo", "icon", "thumbnail")
                ? new(Meaning.Picture, 0.95, "bytes, and its name suggests a picture")
                : new(Meaning.File, 0.7, "bytes");
        var share = column.IsText ? column.Share(text => FilePath().IsMatch(text)) : 0;
        return share > 0.8 ? new(Meaning.File, 0.85, $"{ColumnFacts.Percent(share)} of the texts end like file names") : null;
    }

    public static ColumnMeaning? IdList(ColumnFacts column)
    {
        var share = column.IsText ? column.Share(text => Ids().IsMatch(text)) : 0;
        return
            share > 0.5
            && column.Share(text => text.Contains(',', StringComparison.Ordinal) || text.Contains(';', StringComparison.Ordinal))
                > 0.3
            ? new(Meaning.IdList, 0.8, $"{ColumnFacts.Percent(share)} of the texts are numbers separated by commas")
            {
                Reading = new ListReading
                {
                    Sign = column.Filled.Any(text => text.Contains(';', StringComparison.Ordinal)) ? ";" : ",",
                },
            }
            : null;
    }

    public static ColumnMeaning? LongText(ColumnFacts column)
    {
        if (!column.IsText)
            return null;
        if (column.AverageLength > 60 || column.Share(text => text.Contains('\n', StringComparison.Ordinal)) > 0.1)
            return new(
                Meaning.LongText,
                0.85,
                string.Create(CultureInfo.InvariantCulture, $"{column.AverageLength:0} characters on average")
            );
        return
            column.Says("notes", "note", "remarks", "remark", "comment", "comments", "body", "memo", "bemerkung")
            && column.Column.Type.MaxLength is null or > 100
            ? new(Meaning.LongText, 0.75, "its name suggests remarks, and it has room for them")
            : null;
    }

    public static ColumnMeaning? Name(ColumnFacts column)
    {
        if (
            !column.IsText
            || column.IsKey
            || !column.Says(
                "name",
                "nm",
                "surname",
                "lastname",
                "firstname",
                "fname",
                "lname",
                "title",
                "firm",
                "company",
                "town",
                "city",
                "label",
                "descr",
                "description",
                "caption"
            )
        )
            return null;
        var wordy = column.Share(text => text.Any(char.IsLetter) && text.Length >= 2);
        return column.Filled.Count == 0 || wordy > 0.9
            ? new(
                Meaning.Name,
                0.8,
                $"its name says so, and {ColumnFacts.Percent(wordy)} of the texts are words{InCapitals(column)}"
            )
            : null;
    }

    public static ColumnMeaning? Code(ColumnFacts column)
    {
        if (!column.IsText || column.IsKey)
            return null;
        var isNamed = column.Says("cd", "code", "typ", "type", "status", "stat", "state", "kind", "cat");
        var isShort = column.Filled.Count > 0 && column.AverageLength <= 5 && column.Distinct.Count <= FewValues;
        return isNamed && isShort
            ? new(Meaning.Code, 0.84, $"{column.Distinct.Count} short values, and its name suggests a code")
            : null;
    }

    public static ColumnMeaning? Choice(ColumnFacts column)
    {
        if (column.Kind is ValueKind.Enum)
            return new(Meaning.Choice, 0.95, $"one of {column.Column.Type.EnumValues.Count} labels defined in the database");
        if (
            column.Table.Checks.FirstOrDefault(check =>
                check.Columns is [var only] && only == column.Column.Name && ValueList().IsMatch(check.Sql)
            ) is
            { } list
        )
            return new(
                Meaning.Choice,
                0.93,
                $"the check {list.Name} allows only {string.Join(", ", Literal().Matches(list.Sql).Select(match => match.Groups[1].Value).Take(8))}"
            );
        var mayBe = column.IsText || column.Column.Type.IsInteger;
        if (!mayBe || column.IsKey || column.Filled.Count < 30 || column.Distinct.Count is < 2 or > FewValues)
            return null;
        return column.Filled.Count / column.Distinct.Count >= 10
            ? new(
                Meaning.Choice,
                column.IsText ? 0.72 : 0.55,
                $"only {column.Distinct.Count} different values in {column.Filled.Count} rows: {string.Join(", ", column.Distinct.Order(StringComparer.Ordinal).Take(8))}{Variants(column)}"
            )
            : null;
    }

    private static string InCapitals(ColumnFacts column)
    {
        var share = column.Share(text => text.Any(char.IsLetter) && !text.Any(char.IsLower));
        return share > 0.8 ? $", {ColumnFacts.Percent(share)} of them in capitals" : "";
    }

    // What one and the same thing is called by several hands.
    private static string Variants(ColumnFacts column)
    {
        var variants = column
            .Distinct.GroupBy(text => string.Concat(text.Where(char.IsLetterOrDigit)).ToUpperInvariant())
            .FirstOrDefault(group => group.Count() > 1);
        return variants is null
            ? ""
            : $"; some are written in several ways, such as {string.Join(" and ", variants.Order(StringComparer.Ordinal).Take(3).Select(text => $"“{text}”"))}";
    }

    [GeneratedRegex(@"= ANY \(.*ARRAY\[", RegexOptions.None, 200)]
    private static partial Regex ValueList();

    [GeneratedRegex(@"'((?:[^']|'')*)'", RegexOptions.None, 200)]
    private static partial Regex Literal();

    [GeneratedRegex(@"</?(p|br|b|i|a|div|span|ul|li|img|script|table|h[1-6]|strong|em)\b[^>]*>", RegexOptions.IgnoreCase)]
    private static partial Regex Tag();

    [GeneratedRegex(@"^[^@\s]+@[^@\s]+\.[^@\s.]+$")]
    private static partial Regex Mail();

    [GeneratedRegex(@"^[+\d][\d\s()/.-]*$")]
    private static partial Regex Digits();

    [GeneratedRegex(@"\.(jpe?g|png|gif|bmp|tiff?|pdf|docx?|xlsx?|txt|zip|webp|svg)$", RegexOptions.IgnoreCase)]
    private static partial Regex FilePath();

    [GeneratedRegex(@"^\d+(\s*[,;]\s*\d+)*$")]
    private static partial Regex Ids();
}
