using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Drafting;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Survey;

namespace PlainPorch.Data.Panels;

/// <summary>
/// Drafts panels anew from what the survey and the decisions say now: all of a source, of which what nobody decided by hand follows,
/// or one, of which its developer takes over what is wanted.
/// </summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="snapshots">The schemas.</param>
/// <param name="surveys">What surveys found.</param>
public sealed class PanelRedrafts(CatalogContext catalog, SnapshotStore snapshots, SurveyStore surveys)
{
    private const int Attempts = 3;

    /// <summary>Lets the panels of a source that were drafted follow a decision about what was found.</summary>
    /// <param name="sourceId">The source.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The panels that changed, by their labels.</returns>
    public async Task<IReadOnlyList<FollowedPanel>> FollowAsync(int sourceId, CancellationToken cancellationToken)
    {
        if (await FindingsAsync(sourceId, cancellationToken) is not { } findings)
            return [];
        for (var attempt = 1; ; attempt++)
        {
            try
            {
                return await TryFollowAsync(sourceId, findings, cancellationToken);
            }
            catch (DbUpdateConcurrencyException) when (attempt < Attempts)
            {
                // Somebody saved one of the panels meanwhile: what they decided is looked at anew.
                catalog.ChangeTracker.Clear();
            }
        }
    }

    /// <summary>How a panel differs from a new draft of it.</summary>
    /// <returns>The differences; null where the source was not surveyed, or the table is gone.</returns>
    public async Task<IReadOnlyList<DraftDifference>?> DifferencesAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return await DraftAsync(panel, cancellationToken) is { } anew
            ? Redraft.Differences(panel.Definition, anew, panel.Origin?.Panel)
            : null;
    }

    /// <summary>The panel with some parts as a new draft has them. It is not kept.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="parts">The parts, as <see cref="DifferencesAsync"/> names them.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>The panel; null where it cannot be drafted.</returns>
    public async Task<PanelDefinition?> TakeAsync(
        OpenPanel panel,
        IReadOnlySet<string> parts,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        return await DraftAsync(panel, cancellationToken) is { } anew ? Redraft.Take(panel.Definition, anew.Panel, parts) : null;
    }

    private async Task<DraftedPanel?> DraftAsync(OpenPanel panel, CancellationToken cancellationToken)
    {
        if (
            panel.Bound is null
            || await surveys.FindingsAsync(panel.Source.Id, panel.Model.Snapshot, cancellationToken) is not { } findings
        )
            return null;
        var others = panel.Panels.All.Where(other => other.Slug != panel.Definition.Slug).ToList();
        return PorchDraft
            .Make(findings, new HashSet<TableName> { panel.Definition.Table }, others)
            .Select(drafted => PlacedLike(drafted, panel.Definition))
            .FirstOrDefault();
    }

    private async Task<IReadOnlyList<Core.Survey.TableFindings>?> FindingsAsync(
        int sourceId,
        CancellationToken cancellationToken
    ) =>
        await snapshots.LatestAsync(sourceId, cancellationToken) is { } model
            ? await surveys.FindingsAsync(sourceId, model.Snapshot, cancellationToken)
            : null;

    private async Task<IReadOnlyList<FollowedPanel>> TryFollowAsync(
        int sourceId,
        IReadOnlyList<Core.Survey.TableFindings> findings,
        CancellationToken cancellationToken
    )
    {
        var panels = (
            await catalog
                .Panels.Where(panel =>
                    catalog.Set<PorchRow>().Any(porch => porch.Id == panel.PorchId && porch.SourceId == sourceId)
                )
                .ToListAsync(cancellationToken)
        )
            .Select(row => (Row: row, Panel: PanelStore.TryRead(row), Origin: OriginOf(row)))
            .Where(known => known.Panel is not null)
            .Select(known => new Known(known.Row, known.Panel!, known.Origin))
            .ToList();
        // Of two panels over one table the draft made but one.
        var drafted = panels
            .Where(known => known.Origin?.Panel is not null)
            .DistinctBy(known => known.Panel.Table)
            .ToDictionary(known => known.Panel.Table);
        var anew = PorchDraft
            .Make(
                findings,
                drafted.Keys.ToHashSet(),
                [.. panels.Where(known => known.Origin?.Panel is null).Select(known => known.Panel)]
            )
            .ToDictionary(draft => draft.Panel.Table);
        var followed = panels.ToDictionary(
            known => known,
            known =>
                anew.TryGetValue(known.Panel.Table, out var draft) && drafted[known.Panel.Table] == known
                    ? Follow(known, PlacedLike(draft, known.Panel))
                    : known
        );
        var all = followed.Values.Select(known => known.Panel).ToList();
        var changed = new List<FollowedPanel>();
        foreach (var (before, after) in followed.Where(pair => pair.Value.Origin?.Panel is not null))
        {
            var now = WithRelated(before, after, all);
            // The database writes JSON in a form of its own: what was read is compared. Who has an unchanged panel open is not told
            // that it changed.
            if (Differs(now.Panel, before.Panel))
            {
                changed.Add(new FollowedPanel(now.Panel.Slug, now.Panel.Label));
                before.Row.Content = PanelStore.Write(now.Panel);
            }

            if (Differs(now.Origin, before.Origin))
                before.Row.Drafted = JsonSerializer.Serialize(now.Origin, DefinitionJson.Options);
        }

        await catalog.SaveChangesAsync(cancellationToken);
        return [.. changed.OrderBy(panel => panel.Label, StringComparer.Ordinal)];
    }

    private static Known Follow(Known known, DraftedPanel anew)
    {
        var differences = Redraft.Differences(known.Panel, anew, known.Origin!.Panel);
        return known with
        {
            Panel = Redraft.Take(known.Panel, anew.Panel, Redraft.Following(differences)),
            Origin = new PanelOrigin(anew.Reasons, Relabelling.LabelsOf(anew.Panel)) { Panel = anew.Panel },
        };
    }

    // Which records of others stand with a record follows from the lookups of all panels.
    private static Known WithRelated(Known before, Known after, List<PanelDefinition> all)
    {
        if (Differs(after.Panel.Related, before.Origin!.Panel!.Related))
            return after;
        var related = PorchDraft.RelatedOf(after.Panel, all);
        return after with
        {
            Panel = after.Panel with { Related = related },
            Origin = after.Origin! with { Panel = after.Origin.Panel! with { Related = related } },
        };
    }

    private static DraftedPanel PlacedLike(DraftedPanel drafted, PanelDefinition present) =>
        drafted with
        {
            Panel = drafted.Panel with { Slug = present.Slug, Group = present.Group, Place = present.Place },
        };

    private static bool Differs<T>(T now, T before) =>
        !JsonNode.DeepEquals(
            JsonSerializer.SerializeToNode(now, DefinitionJson.Options),
            JsonSerializer.SerializeToNode(before, DefinitionJson.Options)
        );

    private static PanelOrigin? OriginOf(PanelRow row) =>
        row.Drafted is null ? null : JsonSerializer.Deserialize<PanelOrigin>(row.Drafted, DefinitionJson.Kept);

    private sealed record Known(PanelRow Row, PanelDefinition Panel, PanelOrigin? Origin);
}

/// <summary>A panel that followed a decision.</summary>
/// <param name="Slug">Its name in addresses.</param>
/// <param name="Label">What its records are called taken together.</param>
public sealed record FollowedPanel(string Slug, string Label);
