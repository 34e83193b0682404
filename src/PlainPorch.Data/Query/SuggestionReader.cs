using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>
/// Finds values for a search that is being typed. It looks at some records only, and gives up soon: nobody waits for it.
/// </summary>
/// <param name="reader">Reads the source.</param>
/// <param name="panel">The panel.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class SuggestionReader(SourceReader reader, BoundPanel panel, PorchPanels porch)
{
    private const int Looked = 500;
    private const int Seconds = 1;
    private const int LongestValue = 60;

    /// <summary>Finds ways to go on.</summary>
    public async Task<IReadOnlyList<SearchSuggestion>> FindAsync(
        SearchCompletion completion,
        CancellationToken cancellationToken
    ) =>
        completion.Column is { } column
            ? [.. (await FindAsync(column, completion.Typed, cancellationToken)).Select(completion.Value)]
            : completion.Fields(panel);

    /// <summary>Finds values that records have.</summary>
    /// <param name="column">The column.</param>
    /// <param name="typed">What they begin with, or hold; empty for the most frequent ones.</param>
    /// <param name="cancellationToken">Stops the looking.</param>
    public async Task<IReadOnlyList<string>> FindAsync(BoundColumn column, string typed, CancellationToken cancellationToken)
    {
        try
        {
            var values = await ValuesAsync(column, typed.Trim(), cancellationToken);
            return
            [
                .. values
                    .Where(value => value.Length is > 0 and <= LongestValue && value != typed)
                    .Distinct()
                    .Take(SearchCompletion.Most),
            ];
        }
        catch (NpgsqlException slow)
            when (slow.InnerException is TimeoutException
                || slow is PostgresException { SqlState: PostgresErrorCodes.QueryCanceled }
            )
        {
            cancellationToken.ThrowIfCancellationRequested();
            return [];
        }
    }

    private async Task<IEnumerable<string>> ValuesAsync(BoundColumn column, string typed, CancellationToken cancellationToken)
    {
        if (porch.Bind(column) is { Table.Rights.Read: true } target)
            return (await new LookupChooser(reader, target, porch).FindAsync(new(typed), null, cancellationToken)).Choices.Select(
                choice => choice.Title
            );
        if (column.Type.Kind is ValueKind.Boolean or ValueKind.Enum)
        {
            var choices = column.Type.Kind is ValueKind.Boolean ? ["yes", "no"] : column.Type.EnumValues;
            return choices.Where(choice => choice.Contains(typed, StringComparison.OrdinalIgnoreCase));
        }

        if (column.Type.Kind is not ValueKind.Text)
            return [];
        var beginning = await TextsAsync(column, typed, TextPlace.StartsWith, cancellationToken);
        return beginning.Count >= SearchCompletion.Most || typed.Length == 0
            ? beginning
            : beginning.Concat(await TextsAsync(column, typed, TextPlace.Contains, cancellationToken));
    }

    private async Task<List<string>> TextsAsync(
        BoundColumn column,
        string typed,
        TextPlace place,
        CancellationToken cancellationToken
    )
    {
        var filter = typed.Length == 0 ? null : new Filter.Matches(column.Name, typed, new TextMatch(place));
        var found = new List<string>();
        await foreach (
            var row in reader.StreamAsync(
                panel.Table,
                new RowRequest
                {
                    Filter = panel.Within(filter),
                    Columns = [column.Name],
                    Take = Looked,
                },
                cancellationToken,
                Seconds
            )
        )
            found.Add(row[0]?.Trim() ?? "");
        return [.. found.CountBy(value => value).OrderByDescending(pair => pair.Value).Select(pair => pair.Key)];
    }
}
