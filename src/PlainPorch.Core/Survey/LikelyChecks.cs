using System.Globalization;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>
/// Finds what nearly all of the rows that a survey looked at keep to: dates and numbers in order, amounts that are computed of other
/// columns, spans of time of which one ends before the next begins. What many rows keep to by chance is not proposed: names, or
/// very different values, have to speak for it.
/// </summary>
public static class LikelyChecks
{
    // Of the rows that were looked at, so many keep to what is proposed; all rows are counted later.
    private const double Nearly = 0.95;

    // Tables of spreadsheets have hundreds of columns; what is tried grows with the third power.
    private const int MostNumbers = 14;

    private const int MostOfTable = 12;
    private const double Named = 0.9;
    private const double Computed = 0.85;
    private const double Unnamed = 0.6;

    // So many rows need different values for an order to say something.
    private const double Informative = 0.2;

    private static readonly (string Less, string More)[] _bounds =
    [
        ("min", "max"),
        ("minimum", "maximum"),
        ("low", "high"),
        ("lower", "upper"),
        ("lowest", "highest"),
        ("from", "to"),
        ("first", "last"),
        ("start", "end"),
        ("begin", "end"),
        ("von", "bis"),
    ];

    // What dates name that come one after the other in any trade.
    private static readonly Meaning[] _stamps = [Meaning.CreatedAt, Meaning.ChangedAt];

    private static readonly Meaning[] _noMeasures =
    [
        Meaning.Identifier,
        Meaning.Code,
        Meaning.Position,
        Meaning.Year,
        Meaning.YesNoInDisguise,
        Meaning.RemovedMarker,
        Meaning.Choice,
        Meaning.Phone,
        Meaning.PostalCode,
        Meaning.Secret,
        Meaning.Sensitive,
        Meaning.Copy,
        Meaning.Empty,
    ];

    /// <summary>Finds them.</summary>
    /// <param name="rows">The rows that were looked at, by table.</param>
    /// <param name="report">What else was found.</param>
    /// <returns>What could be checked, surest first within each table, with what was seen in the rows looked at.</returns>
    public static IReadOnlyList<SurveyedCheck> Find(IReadOnlyDictionary<TableName, TableRows> rows, SurveyReport report)
    {
        ArgumentNullException.ThrowIfNull(rows);
        ArgumentNullException.ThrowIfNull(report);
        var columns = report.Columns.ToLookup(column => new TableName(column.Schema, column.Table));
        var references = report
            .References.Where(reference => reference.Confidence >= ReferenceFinder.Threshold)
            .Select(reference => reference.ToReference())
            .ToList();
        var own = references.ToLookup(reference => reference.Table);
        var spells = Spells.Find(rows.Values, references).ToLookup(one => one.Table);
        return
        [
            .. from table in rows.Values
            where !table.Table.IsView && table.Count >= SurveyedCheck.FewestRows && !ProgramTables.IsOne(table.Table)
            let found = new OfTable(table, [.. columns[table.Table.Name]], [.. own[table.Table.Name]])
            from check in found
                .InOrder()
                .Concat(found.Amounts())
                .Concat(spells[table.Table.Name].SelectMany(found.OfSpells))
                .OrderByDescending(check => check.Confidence)
                .Take(MostOfTable)
            select check,
        ];
    }

    private sealed class OfTable
    {
        private readonly TableRows _rows;
        private readonly List<Dated> _dates = [];
        private readonly List<Numbers> _numbers = [];

        public OfTable(TableRows rows, IReadOnlyList<SurveyedColumn> columns, IReadOnlyList<Reference> references)
        {
            _rows = rows;
            var table = rows.Table;
            var keys = table.Keys.SelectMany(key => key.Columns).Concat(references.SelectMany(one => one.Columns)).ToHashSet();
            for (var i = 0; i < table.Columns.Count; i++)
            {
                var column = table.Columns[i];
                if (keys.Contains(column.Name) || columns.FirstOrDefault(one => one.Name == column.Name) is not { } seen)
                    continue;
                var type = seen.Reading?.As(column.Type) ?? column.Type;
                var words = IdentifierWords.Split(column.Name);
                if (type.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Instant && !_stamps.Contains(seen.Kind))
                    _dates.Add(new Dated(column.Name, words, type.Kind, [.. ValuesOf(i, seen.Reading)]));
                else if (type.IsNumber && !_noMeasures.Contains(seen.Kind) && _numbers.Count < MostNumbers)
                    _numbers.Add(new Numbers(column.Name, words, [.. ValuesOf(i, seen.Reading).Select(ReadNumber)]));
            }
        }

        // What is at most what: where a is at most b and b at most c, that a is at most c goes without saying.
        public IEnumerable<SurveyedCheck> InOrder()
        {
            var found = (
                from first in _dates
                from second in _dates
                where first != second && first.Kind == second.Kind
                let isNamed = Spells.IsPair(first.Words, second.Words)
                // What all lies before the other by years says nothing of a row.
                where isNamed || string.CompareOrdinal(second.Values.Min(), first.Values.Max()) <= 0
                let check = InOrder(
                    first.Name,
                    second.Name,
                    isNamed,
                    // Days of different rows compare as their texts do.
                    Compare(first.Values, second.Values, string.CompareOrdinal)
                )
                where check is not null
                select check
            )
                .Concat(
                    from first in _numbers
                    from second in _numbers
                    where first != second
                    let isNamed = AreBounds(first.Words, second.Words)
                    where isNamed || HaveOneUnit(first.Words, second.Words)
                    let check = InOrder(
                        first.Name,
                        second.Name,
                        isNamed,
                        Compare(first.Values, second.Values, (one, other) => Nullable.Compare(one, other))
                    )
                    where check is not null
                    select check
                )
                .ToList();
            return found.Where(check =>
                !found.Exists(one =>
                    one.Columns[0] == check.Columns[0]
                    && one.Columns[1] != check.Columns[1]
                    && found.Exists(other => other.Columns[0] == one.Columns[1] && other.Columns[1] == check.Columns[1])
                )
            );
        }

        private SurveyedCheck? InOrder(string less, string more, bool isNamed, List<int> compared)
        {
            var broken = compared.Count(order => order > 0);
            return
                compared.Count < SurveyedCheck.FewestRows
                || broken > (1 - Nearly) * compared.Count
                || (!isNamed && compared.Count(order => order < 0) < Informative * compared.Count)
                ? null
                : Checked(LikelyCheckSort.InOrder, isNamed ? Named : Unnamed, compared.Count, broken, less, more);
        }

        public IEnumerable<SurveyedCheck> Amounts()
        {
            var spans = (
                from first in _dates
                from second in _dates
                where first != second && first.Kind is ValueKind.Date && second.Kind is ValueKind.Date
                where Spells.IsPair(first.Words, second.Words)
                select new Numbers(
                    $"{first.Name}\u001f{second.Name}",
                    [],
                    [.. first.Values.Zip(second.Values, (begin, end) => DaysBetween(begin, end))]
                )
            ).ToList();
            // What the database computes by itself needs no check.
            foreach (var amount in _numbers.Where(one => IsVaried(one) && !_rows.Table.Find(one.Name)!.IsComputed))
            {
                var others = _numbers.Where(other => other != amount && IsVaried(other)).ToList();
                for (var i = 0; i < others.Count; i++)
                {
                    for (var j = i + 1; j < others.Count; j++)
                    {
                        if (Amount(LikelyCheckSort.Product, amount, others[i], others[j]) is { } product)
                            yield return product;
                        if (Amount(LikelyCheckSort.Sum, amount, others[i], others[j]) is { } sum)
                            yield return sum;
                    }

                    foreach (var span in spans)
                    {
                        if (Amount(LikelyCheckSort.Days, amount, span, others[i]) is { } days)
                            yield return days;
                    }
                }
            }
        }

        private SurveyedCheck? Amount(LikelyCheckSort sort, Numbers amount, Numbers one, Numbers other)
        {
            var scale = _rows.Table.Find(amount.Name)!.Type is { IsInteger: false } type ? type.Scale ?? 4 : 0;
            // Times one, or plus nothing, would show that two columns are the same.
            var none = sort is LikelyCheckSort.Sum ? 0 : 1;
            var (told, broken) = (0, 0);
            for (var row = 0; row < amount.Values.Count; row++)
            {
                if (amount.Values[row] is not { } whole || one.Values[row] is not { } a || other.Values[row] is not { } b)
                    continue;
                if (a == 0 || b == 0 || a == none || b == none)
                    continue;
                told++;
                if (!Makes(whole, sort is LikelyCheckSort.Sum ? a + b : Times(a, b), scale))
                    broken++;
                if (told == SurveyedCheck.FewestRows && broken > told / 2)
                    return null;
            }

            return (told < SurveyedCheck.FewestRows) || (broken > (1 - Nearly) * told)
                ? null
                : Checked(sort, Computed, told, broken, [amount.Name, .. one.Name.Split('\u001f'), other.Name]);
        }

        // That no two rows of the same record are open at the same time shows only where many records have an open one.
        public IEnumerable<SurveyedCheck> OfSpells(SurveyedSpells spells)
        {
            var end = _dates.Find(date => date.Name == spells.End);
            var begin = _dates.Find(date => date.Name == spells.Begin);
            if (begin is null || end is null)
                yield break;
            var of = ValuesOf(_rows.Table.Columns.Select(column => column.Name).ToList().IndexOf(spells.Of), null).ToList();
            var open = of.Where((value, row) => value is not null && end.Values[row] is null && begin.Values[row] is not null)
                .ToList();
            var twice = open.CountBy(value => value!).Sum(pair => pair.Value > 1 ? pair.Value : 0);
            if (open.Count >= 3 && twice <= 0.2 * open.Count)
                yield return Checked(LikelyCheckSort.OneOpen, Computed, open.Count, twice, spells.End, spells.Of);
            var both = begin.Values.Zip(end.Values).Count(pair => pair is { First: not null, Second: not null });
            if (spells.Rows >= SurveyedCheck.FewestRows || both >= SurveyedCheck.FewestRows)
                yield return Checked(LikelyCheckSort.Apart, Computed, both, 0, spells.Begin, spells.End, spells.Of);
        }

        private SurveyedCheck Checked(LikelyCheckSort sort, double confidence, int rows, int broken, params string[] columns) =>
            new(_rows.Table.Name, sort, columns, confidence, rows, broken, _rows.IsComplete);

        private IEnumerable<string?> ValuesOf(int column, Reading? reading)
        {
            var type = _rows.Table.Columns[column].Type;
            return _rows
                .Of(column)
                .Select(stored =>
                    reading is null ? stored
                    : reading.Read(stored, type) is { Sort: ReadSort.Value, Text: var text } ? text
                    : null
                );
        }

        private static bool IsVaried(Numbers numbers) =>
            numbers.Values.Where(value => value is not null).Distinct().Take(3).Count() > 2;

        private static decimal? ReadNumber(string? text) =>
            decimal.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) ? number : null;

        private static decimal? DaysBetween(string? from, string? until) =>
            DateOnly.TryParse(from, CultureInfo.InvariantCulture, out var first)
            && DateOnly.TryParse(until, CultureInfo.InvariantCulture, out var last)
                ? last.DayNumber - first.DayNumber
                : null;

        private static decimal? Times(decimal one, decimal other)
        {
            try
            {
                return one * other;
            }
            catch (OverflowException)
            {
                return null;
            }
        }

        private static bool Makes(decimal amount, decimal? reckoned, int scale) =>
            reckoned is { } made && Math.Round(made, Math.Clamp(scale, 0, 10), MidpointRounding.AwayFromZero) == amount;

        private static List<int> Compare<T>(IReadOnlyList<T> first, IReadOnlyList<T> second, Func<T, T, int> compare) =>
            [
                .. first
                    .Zip(second)
                    .Where(pair => pair is { First: not null, Second: not null })
                    .Select(pair => compare(pair.First, pair.Second)),
            ];

        private static bool AreBounds(IReadOnlyList<string> less, IReadOnlyList<string> more) =>
            less.Count == more.Count
            && less.Zip(more).Where(pair => pair.First != pair.Second).ToList() is [var only]
            && _bounds.Contains(only);

        // draft_m and length_m: what is measured alike can be compared.
        private static bool HaveOneUnit(IReadOnlyList<string> one, IReadOnlyList<string> other) =>
            one.Count > 1 && other.Count > 1 && one[^1] == other[^1] && Units.Contains(one[^1]);

        private static readonly string[] Units =
        [
            "m",
            "cm",
            "mm",
            "km",
            "ft",
            "in",
            "kg",
            "g",
            "t",
            "lb",
            "l",
            "ml",
            "h",
            "hours",
            "days",
            "min",
            "minutes",
            "pct",
            "percent",
            "amount",
            "qty",
            "quantity",
            "price",
            "cost",
            "total",
            "length",
            "width",
            "height",
            "weight",
            "amt",
            "eur",
            "usd",
            "gbp",
        ];
    }

    private sealed record Dated(string Name, IReadOnlyList<string> Words, ValueKind Kind, IReadOnlyList<string?> Values);

    private sealed record Numbers(string Name, IReadOnlyList<string> Words, IReadOnlyList<decimal?> Values);
}
