using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Panels;

/// <summary>A list of codes that a lookup can be made of.</summary>
/// <param name="Lookup">The lookup.</param>
/// <param name="IsWhole">Whether its codes are whole numbers.</param>
/// <param name="Codes">How many codes it has.</param>
public sealed record CodeList(Lookup Lookup, bool IsWhole, long Codes);

/// <summary>Reads which lists of codes the tables of a source hold.</summary>
/// <param name="seen">Any panel of the porch, as the person sees it.</param>
public sealed class CodeListReader(SeenPanel seen)
{
    private const int MostTables = 12;
    private const int MostLists = 300;

    // A table of codes holds some lists; the lines of each order are no list to choose from.
    private const int MostListsOfTable = 100;

    /// <summary>Reads them, those of each table by their names.</summary>
    public async Task<IReadOnlyList<CodeList>> ReadAsync(CancellationToken cancellationToken)
    {
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(seen.Model, connection);
        var lists = new List<CodeList>();
        foreach (var shared in CodeTable.In(seen.Porch.Snapshot, seen.Porch.All).Take(MostTables))
        {
            var values = await reader.AskAsync(
                shared.Table,
                null,
                $"lists {shared.By}",
                (query, rows) => query.CountValues(rows, shared.By),
                cancellationToken
            );
            if (values.Count > MostListsOfTable)
                continue;
            lists.AddRange(
                values
                    .Where(value => !string.IsNullOrWhiteSpace(value[0]))
                    .OrderBy(value => value[0], StringComparer.OrdinalIgnoreCase)
                    .Select(value => new CodeList(
                        new Lookup
                        {
                            Table = shared.Table.Name,
                            Key = shared.Key,
                            Where = new Discriminator(shared.By, value[0]!),
                            Title = shared.Title,
                        },
                        shared.Table.Find(shared.Key)!.Type.IsInteger,
                        long.Parse(value[1]!, System.Globalization.CultureInfo.InvariantCulture)
                    ))
            );
        }

        return [.. lists.Take(MostLists)];
    }
}
