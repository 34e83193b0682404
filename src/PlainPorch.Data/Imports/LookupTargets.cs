using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Imports;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Records;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Imports;

/// <summary>Finds the records that a file means in a lookup: by their key, or by what they are called.</summary>
internal static class LookupTargets
{
    // So many texts of a lookup are looked up by what their records are called.
    private const int MostTitles = 3_000;

    // So many records that a lookup refers to are read at once, instead of asking for each text.
    private const int MostTargets = 20_000;

    /// <summary>Finds out what texts mean in a lookup's column.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="reader">Reads the source.</param>
    /// <param name="column">The lookup.</param>
    /// <param name="texts">The texts.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="cancellationToken">Stops it.</param>
    public static async Task<Dictionary<string, FoundTarget>> FindAsync(
        OpenPanel panel,
        SourceReader reader,
        BoundColumn column,
        IReadOnlySet<string> texts,
        Action<ImportProgress> report,
        CancellationToken cancellationToken
    )
    {
        var found = new Dictionary<string, FoundTarget>();
        // A number or code means that record, whatever others are called.
        var readable = texts.Where(text => ValueText.TryRead(column.Schema.Type, text, out _, out _)).ToList();
        var known = (
            await new LookupReader(panel.Seen.Porch).ReadAsync(
                reader,
                [(column.Name, column.Decision.Lookup!, readable.Select(text => (string?)Read(column, text)))],
                cancellationToken
            )
        )[column.Name];
        foreach (var text in readable.Where(text => known.ContainsKey(Read(column, text))))
            found[text] = new FoundTarget(Read(column, text), null);
        var byTitle = texts.Where(text => !found.ContainsKey(text)).ToList();
        if (byTitle.Count == 0)
            return found;
        if (await AllTitlesAsync(panel, reader, column, cancellationToken) is { } all)
        {
            foreach (var text in byTitle)
                found[text] = Meant(column, [.. all[PanelPlan.Plain(text)]]);
            return found;
        }

        if (byTitle.Count > MostTitles)
            throw new ImportRefusedException(
                $"{column.Label} has more than {MostTitles} different texts that are no key of what it refers to. Give keys in the file instead of names."
            );
        var records = panel.Records();
        foreach (var text in byTitle)
        {
            if (found.Count % 50 == 0)
                report(new ImportProgress($"Looking up {column.Label}", found.Count, texts.Count));
            found[text] = await ByTitleAsync(records, column, text, cancellationToken);
        }

        return found;
    }

    private static string Read(BoundColumn column, string text) =>
        ValueText.TryRead(column.Schema.Type, text, out var value, out _) ? value : text;

    private static async Task<FoundTarget> ByTitleAsync(
        RecordStore records,
        BoundColumn column,
        string text,
        CancellationToken cancellationToken
    )
    {
        var choices = await records.ChooseAsync(column.Name, new LookupQuestion(text), cancellationToken);
        var called = choices?.Choices.Where(choice => PanelPlan.Plain(choice.Title) == PanelPlan.Plain(text)).ToList() ?? [];
        return Meant(column, [.. called.Select(choice => choice.Value)]);
    }

    private static FoundTarget Meant(BoundColumn column, IReadOnlyList<string> values) =>
        values switch
        {
            [var only] => new FoundTarget(only, null),
            [] => new FoundTarget(
                null,
                $"Nothing that {column.Label} refers to is called so. Add it there, or correct the name.",
                IsMissing: true
            ),
            var several => new FoundTarget(
                null,
                $"{several.Count} records are called so. Give the number of the one that is meant."
            ),
        };

    // All that a lookup offers, by what it is called, where that is few enough; null where it is not.
    private static async Task<ILookup<string, string>?> AllTitlesAsync(
        OpenPanel panel,
        SourceReader reader,
        BoundColumn column,
        CancellationToken cancellationToken
    )
    {
        var porch = panel.Seen.Porch;
        var lookup = column.Decision.Lookup!;
        if (lookup.Conversion is not ValueConversion.None || porch.Bind(lookup) is not { Table.Rights.Read: true } target)
            return null;
        var searched = porch.Searched(target);
        var rows = await reader.ReadAsync(
            target.Table,
            new RowRequest
            {
                Filter = searched.Within(
                    Filter.Join(searched.InUse(), lookup.Where is { } list ? new Filter.EqualTo(list.Column, list.Value) : null)
                ),
                Columns = [lookup.Key],
                Take = MostTargets + 1,
            },
            cancellationToken
        );
        if (rows.Count > MostTargets)
            return null;
        var keys = rows.Select(row => RowValues.Of(target.Table, [lookup.Key], row)[lookup.Key]);
        var titles = await new LookupReader(porch).ReadAsync(reader, [(column.Name, lookup, keys)], cancellationToken);
        return titles[column.Name].ToLookup(pair => PanelPlan.Plain(pair.Value.Title), pair => pair.Key);
    }

    /// <summary>What the records are called that present ones refer to by the columns that the file fills.</summary>
    /// <returns>By column, the titles by the value that refers to them.</returns>
    public static async Task<Dictionary<string, IReadOnlyDictionary<string, string>>> TitlesAsync(
        OpenPanel panel,
        SourceReader reader,
        IEnumerable<string> columns,
        ILookup<string, PresentRecord> present,
        CancellationToken cancellationToken
    )
    {
        var records = present.SelectMany(alike => alike).ToList();
        var found = await new LookupReader(panel.Seen.Porch).OfPanelAsync(
            reader,
            panel.Bound!,
            columns,
            (column, _) => records.Select(record => record.Values.GetValueOrDefault(column)),
            cancellationToken
        );
        return found.ToDictionary(
            pair => pair.Key,
            pair => (IReadOnlyDictionary<string, string>)pair.Value.ToDictionary(one => one.Key, one => one.Value.Title)
        );
    }
}
