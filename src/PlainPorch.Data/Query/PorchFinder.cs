using Npgsql;
using PlainPorch.Core.Query;
using PlainPorch.Core.Records;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>Some records of one panel that a search found.</summary>
/// <param name="Panel">The panel's slug.</param>
/// <param name="Label">What its records are called taken together.</param>
/// <param name="Records">The records, those meant most likely first.</param>
/// <param name="HasMore">Whether the panel's own list would find others.</param>
public sealed record FoundInPanel(string Panel, string Label, IReadOnlyList<FoundRecord> Records, bool HasMore);

/// <summary>A record that was found.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Title">How it is called.</param>
public sealed record FoundRecord(string Key, string Title);

/// <summary>What a search of a whole porch found.</summary>
/// <param name="Panels">The panels in which there is something, those meant most likely first.</param>
/// <param name="NotSearched">The labels of panels that are too large to be searched so fast; their own lists search them.</param>
public sealed record PorchFindings(IReadOnlyList<FoundInPanel> Panels, IReadOnlyList<string> NotSearched);

/// <summary>
/// Finds records of all panels of a porch at once, each as its own list would, within the time that somebody waits for.
/// </summary>
/// <param name="seen">Any panel of the porch, as the person sees it.</param>
public sealed class PorchFinder(SeenPanel seen)
{
    /// <summary>A shorter text would be found nearly everywhere.</summary>
    public const int LeastLength = 2;

    private const int MostOfPanel = 3;
    private const int MostPanels = 20;

    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(1.5);
    private static readonly TimeSpan _patienceForOne = TimeSpan.FromMilliseconds(250);

    /// <summary>Searches.</summary>
    /// <param name="text">What somebody typed, read as a list's search box reads it.</param>
    /// <param name="cancellationToken">Stops the searching.</param>
    public async Task<PorchFindings> FindAsync(string text, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(text);
        var (found, notSearched) = (new List<(int Rank, FoundInPanel Panel)>(), new List<string>());
        if (text.Trim().Length < LeastLength)
            return new PorchFindings([], []);
        var start = TimeProvider.System.GetTimestamp();
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(seen.Model, connection);
        // Small tables first: many of them are searched in the time of one that is large.
        foreach (var panel in Searchable().OrderBy(panel => panel.Panel.Table.EstimatedRows ?? long.MaxValue))
        {
            if (found.Count >= MostPanels)
                break;
            var left = _patience - TimeProvider.System.GetElapsedTime(start);
            if (
                left <= TimeSpan.Zero
                || await FindInAsync(panel, reader, text, left < _patienceForOne ? left : _patienceForOne, cancellationToken)
                    is not { } records
            )
                notSearched.Add(panel.Panel.Definition.Label);
            else if (records.Records.Count > 0)
                found.Add((RankOf(records, text.Trim()), records));
        }

        return new PorchFindings([.. found.OrderBy(one => one.Rank).Select(one => one.Panel)], notSearched);
    }

    private IEnumerable<SeenPanel> Searchable() =>
        seen
            .Porch.All.Where(panel => !panel.IsHidden)
            .OrderBy(panel => panel.Place)
            .Select(panel => seen.Other(panel.Slug))
            .OfType<SeenPanel>()
            .Where(panel => panel.Panel.Identity.Exists && panel.Panel.Columns.Any(column => column.Decision.Searched));

    private static async Task<FoundInPanel?> FindInAsync(
        SeenPanel panel,
        SourceReader reader,
        string text,
        TimeSpan patience,
        CancellationToken cancellationToken
    )
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancellationToken);
        limit.CancelAfter(patience);
        var (slug, label) = (panel.Panel.Definition.Slug, panel.Panel.Definition.Label);
        var plan = panel.Plan(new ListRequest(text)) with { Size = MostOfPanel };
        // What only another panel's field could mean, such as "length > 10", says nothing here.
        if (plan.Search.Count == 0 || plan.Search.Any(part => part.UnknownField is not null))
            return new FoundInPanel(slug, label, [], HasMore: false);
        try
        {
            var page = await new ListStore(panel).ListAsync(reader, plan, limit.Token, withCount: false);
            return new FoundInPanel(
                slug,
                label,
                [.. page.Rows.Select(row => new FoundRecord(row.Key!, row.Title)).OrderBy(record => RankOf(record, text.Trim()))],
                page.HasNext
            );
        }
        catch (OperationCanceledException) when (!cancellationToken.IsCancellationRequested)
        {
            return null;
        }
        catch (PostgresException)
        {
            // One table that cannot be read is no reason to find nothing in the others.
            return null;
        }
    }

    private static int RankOf(FoundInPanel panel, string text) => panel.Records.Min(record => RankOf(record, text));

    private static int RankOf(FoundRecord record, string text) =>
        record.Key == RecordKey.Write(text) || record.Title.Equals(text, StringComparison.OrdinalIgnoreCase) ? 0
        : record.Title.StartsWith(text, StringComparison.OrdinalIgnoreCase) ? 1
        : 2;
}
