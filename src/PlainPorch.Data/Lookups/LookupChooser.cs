using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Lookups;

/// <summary>Finds the records that can be chosen in a lookup.</summary>
/// <param name="reader">Reads the source.</param>
/// <param name="target">What the lookup refers to.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class LookupChooser(SourceReader reader, BoundLookup target, PorchPanels porch)
{
    private const int Shown = 20;

    private readonly BoundPanel _searched = porch.Searched(target);
    private readonly List<string> _details = DetailsOf(target, porch);
    private readonly List<string> _columns =
    [
        .. target
            .Title.Columns.Concat(target.Keys)
            .Concat(DetailsOf(target, porch))
            .Concat(target.TitleLookups.Values.SelectMany(lookup => lookup.Also.Select(pair => pair.From)))
            .Distinct(),
    ];
    private Filter? _restricted;

    /// <summary>Finds records by what was typed.</summary>
    /// <param name="question">What is asked of them.</param>
    /// <param name="example">Some value of the referring column, whose form a chosen one gets; null for none.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<LookupChoices> FindAsync(LookupQuestion question, string? example, CancellationToken cancellationToken)
    {
        var text = question.Text;
        _restricted = Restriction(question.Within);
        var search = SearchText.ToFilter(SearchText.Read(Words(text), _searched, porch, porch.Notation));
        var found = await ReadAsync(search, Shown + 1, cancellationToken);
        // Whoever types a whole number or code means that one, though others may hold it somewhere too.
        // By several columns there may be some of that number.
        var exact = Key(text) is { } key
            ? await ReadAsync(new Filter.EqualTo(target.Lookup.Key, key), target.IsOfSeveral ? Shown : 1, cancellationToken)
            : [];
        var first = string.IsNullOrWhiteSpace(text) ? await FirstAsync(question.First, cancellationToken) : [];
        var beginning = found.Count > 0 ? await BeginningWithAsync(text, search, cancellationToken) : [];
        // Whoever types a whole title means that record, however many others it is a part of.
        var whole = found.Count > Shown ? await CalledAsync(text, cancellationToken) : [];
        var records = exact
            .Concat(first)
            .Concat(whole)
            .Concat(beginning)
            .Concat(found.Take(Shown))
            .Select(row => RowValues.Of(target.Table, _columns, row))
            .Where(record => target.ReferredBy(record.GetValueOrDefault) is not null)
            .DistinctBy(record => target.ReferredBy(record.GetValueOrDefault))
            .Take(Shown + 1)
            .ToList();
        var titles = await new LookupReader(porch).ReadAsync(
            reader,
            ShownLookups()
                .Select(pair =>
                    (
                        pair.Key,
                        pair.Value,
                        records.Select(record => BoundLookup.Referring(pair.Value, pair.Key, record.GetValueOrDefault))
                    )
                ),
            cancellationToken
        );
        var choices = records.Select(record => ToChoice(record, titles, example));
        var typed = text?.Trim() ?? "";
        return new LookupChoices(
            [
                .. choices.OrderByDescending(choice =>
                    exact.Count == 0 && choice.Title.Equals(typed, StringComparison.OrdinalIgnoreCase)
                ),
            ],
            HasMore: found.Count > Shown
        )
        {
            Panel = target.Panel?.Slug,
        };
    }

    private async Task<IEnumerable<string?[]>> FirstAsync(IReadOnlyList<string> values, CancellationToken cancellationToken)
    {
        var keys = values.Select(Key).OfType<string>().Distinct().ToList();
        if (keys.Count == 0 || target.IsOfSeveral)
            return [];
        var rows = await ReadAsync(new Filter.OneOf(target.Lookup.Key, keys), keys.Count, cancellationToken);
        var place = _columns.IndexOf(target.Lookup.Key);
        return rows.OrderBy(row => keys.IndexOf(row[place] ?? ""));
    }

    private string? PageOf(Dictionary<string, string?> record) =>
        target.Panel is not null
        && _searched.Identity is { Exists: true, ByPlace: false, Columns: var identity }
        && identity.All(target.Keys.Contains)
            ? RecordKey.Write([.. identity.Select(column => record[column] ?? "")])
            : null;

    private static List<string> DetailsOf(BoundLookup target, PorchPanels porch) =>
        target.Lookup.Details.Count == 0
            ? []
            :
            [
                .. target.Lookup.Details.Where(column =>
                    target.Table.Find(column) is not null && !porch.Searched(target).IsHidden(column)
                ),
            ];

    private Filter? Restriction(IReadOnlyDictionary<string, string?> values) =>
        Filter.Join(
            from name in target.Lookup.Within.Select(one => one.Column).Union(target.Lookup.Also.Select(pair => pair.Column))
            let column = target.Column(name)
            let value = values.GetValueOrDefault(name)
            where column is not null && !string.IsNullOrWhiteSpace(value)
            // What the column cannot hold no record has.
            select ValueText.TryRead(column.Type, value, out var read, out _) ? column.Equal(read!) : new Filter.Any([])
        );

    private Dictionary<string, Lookup> ShownLookups() =>
        target
            .TitleLookups.Concat(
                from name in _details
                let lookup = target.Column(name)?.Decision.Lookup
                where lookup is not null
                select KeyValuePair.Create(name, lookup)
            )
            .DistinctBy(pair => pair.Key)
            .ToDictionary();

    // "west" means West sooner than Westley Rucker.
    private async Task<List<string?[]>> BeginningWithAsync(string? typed, Filter? search, CancellationToken cancellationToken)
    {
        var first = target.Title.Columns.FirstOrDefault(column =>
            !target.TitleLookups.ContainsKey(column) && target.Table.Find(column)!.Type.Kind is ValueKind.Text
        );
        var word = Words(typed)?.Split(' ', StringSplitOptions.RemoveEmptyEntries).FirstOrDefault();
        return first is null || word is null
            ? []
            : await ReadAsync(
                Filter.Join(new Filter.Matches(first, word, new TextMatch(TextPlace.StartsWith)), search),
                Shown,
                cancellationToken
            );
    }

    // Of a title that is one text.
    private async Task<List<string?[]>> CalledAsync(string? typed, CancellationToken cancellationToken) =>
        typed is not null
        && target.Title.Columns.ToList() is [var only]
        && !target.TitleLookups.ContainsKey(only)
        && target.Table.Find(only)!.Type.Kind is ValueKind.Text
            ? await ReadAsync(new Filter.Matches(only, typed.Trim(), new TextMatch(TextPlace.Whole)), 2, cancellationToken)
            : [];

    private async Task<List<string?[]>> ReadAsync(Filter? filter, int count, CancellationToken cancellationToken)
    {
        var inList = target.Lookup.Where is { } list ? new Filter.EqualTo(list.Column, list.Value) : null;
        var resolved = await new ReferenceResolver(reader, porch).ResolveAsync(
            target.Table,
            _searched.Within(Filter.Join(filter, inList, _restricted, _searched.InUse())),
            cancellationToken
        );
        return await reader.ReadAsync(
            target.Table,
            new RowRequest
            {
                Filter = resolved,
                Order = Order(),
                Columns = _columns,
                Take = count,
            },
            cancellationToken
        );
    }

    // By the order that people gave to the records, where their own list has it, too; then by the title where it is the record's
    // own:
    // what it borrows from others cannot order it.
    private List<OrderBy> Order()
    {
        var running = _searched.Definition.Sort.Count == 0 ? _searched.RunningOrder : [];
        var own = target.Title.Columns.Where(column =>
            !target.TitleLookups.ContainsKey(column) && target.Table.Find(column)!.Type.IsOrderable
        );
        return
        [
            .. running
                .Concat(own.Append(target.Lookup.Key).Select(column => new OrderBy(column, Descending: false)))
                .DistinctBy(part => part.Column),
        ];
    }

    // What only joins the parts of a title is not searched for: "WEST, Sid" as it is shown finds Sid West.
    private static string? Words(string? text) =>
        text is null ? null : string.Concat(text.Select(c => c is ',' or ';' or '·' ? ' ' : c));

    private string? Key(string? text) =>
        !string.IsNullOrWhiteSpace(text)
        && ValueText.TryRead(target.Table.Find(target.Lookup.Key)!.Type, target.KeyOf(text.Trim()), out var key, out _)
            ? key
            : null;

    private LookupChoice ToChoice(
        Dictionary<string, string?> record,
        Dictionary<string, IReadOnlyDictionary<string, LookupTitle>> titles,
        string? example
    )
    {
        var key = record[target.Lookup.Key]!;
        var title = target.Title.Render(
            column =>
                LookupReader.Shown(target.Table, target.Column(column), column, record.GetValueOrDefault, titles, porch.Notation),
            fallback: key
        );
        var second = string.Join(
            " · ",
            _details
                .Select(name =>
                    LookupReader.Shown(target.Table, target.Column(name), name, record.GetValueOrDefault, titles, porch.Notation)
                )
                .Where(shown => !string.IsNullOrWhiteSpace(shown))
        );
        return new LookupChoice(
            target.WrittenAs(key, example),
            title,
            title == key ? null : key,
            second.Length == 0 ? null : second,
            PageOf(record)
        )
        {
            Others = target.Lookup.Also.ToDictionary(pair => pair.From, pair => record[pair.Column]!),
        };
    }
}
