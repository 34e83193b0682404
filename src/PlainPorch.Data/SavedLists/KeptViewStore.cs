using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Query;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;

namespace PlainPorch.Data.SavedLists;

/// <summary>Keeps lists under names.</summary>
/// <param name="catalog">Our own tables.</param>
public sealed class KeptViewStore(CatalogContext catalog)
{
    /// <summary>The greatest number of views that a panel has for one owner.</summary>
    public const int MaxViews = 100;

    /// <summary>The views of a panel that somebody may use: those for everybody and the own ones, by name.</summary>
    /// <param name="panelId">The panel.</param>
    /// <param name="owner">Who asks; empty for nobody in particular.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    public async Task<IReadOnlyList<KeptView>> ListAsync(int panelId, string owner, CancellationToken cancellationToken)
    {
        var rows = await catalog
            .KeptViews.AsNoTracking()
            .Where(view => view.PanelId == panelId && (view.Owner == "" || view.Owner == owner))
            .OrderBy(view => view.Name)
            .ToListAsync(cancellationToken);
        return
        [
            .. rows.Select(row => new KeptView(
                row.Name,
                row.Owner.Length == 0,
                row.IsStart,
                JsonSerializer.Deserialize<ListView>(row.Content, DefinitionJson.Kept)!
            )),
        ];
    }

    /// <summary>Keeps a view; one of the same name and owner is replaced.</summary>
    /// <param name="panelId">The panel.</param>
    /// <param name="owner">Whose it is; empty for everybody.</param>
    /// <param name="view">The view.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>What is wrong; empty where it was kept.</returns>
    public async Task<IReadOnlyList<FieldProblem>> KeepAsync(
        int panelId,
        string owner,
        KeptView view,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(view);
        if (Check(owner, view) is { } problem)
            return [problem];
        await using var transaction = await catalog.Database.BeginTransactionAsync(cancellationToken);
        if (view.IsStart)
            await catalog
                .KeptViews.Where(row => row.PanelId == panelId && row.IsStart)
                .ExecuteUpdateAsync(row => row.SetProperty(one => one.IsStart, false), cancellationToken);
        var content = JsonSerializer.Serialize(view.View, DefinitionJson.Options);
        var changed = await catalog
            .KeptViews.Where(row => row.PanelId == panelId && row.Owner == owner && row.Name == view.Name)
            .ExecuteUpdateAsync(
                row => row.SetProperty(one => one.Content, content).SetProperty(one => one.IsStart, view.IsStart),
                cancellationToken
            );
        if (changed == 0)
        {
            if (
                await catalog.KeptViews.CountAsync(row => row.PanelId == panelId && row.Owner == owner, cancellationToken)
                >= MaxViews
            )
                return [new("name", $"A panel can have at most {MaxViews} saved lists. Delete one first.")];
            catalog.KeptViews.Add(
                new KeptViewRow
                {
                    PanelId = panelId,
                    Owner = owner,
                    Name = view.Name,
                    Content = content,
                    IsStart = view.IsStart,
                }
            );
        }

        if (!await catalog.TrySaveAsync(cancellationToken))
            return [new("name", "Somebody else saved a list with this name at the same moment. Check it and try again.")];
        await transaction.CommitAsync(cancellationToken);
        return [];
    }

    /// <summary>Removes a view.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> RemoveAsync(int panelId, string owner, string name, CancellationToken cancellationToken) =>
        await catalog
            .KeptViews.Where(row => row.PanelId == panelId && row.Owner == owner && row.Name == name)
            .ExecuteDeleteAsync(cancellationToken) > 0;

    private static FieldProblem? Check(string owner, KeptView view)
    {
        if (string.IsNullOrWhiteSpace(view.Name))
            return new("name", "Enter a name.");
        if (view.Name.Length > CatalogLimits.Name || owner.Length > CatalogLimits.Name)
            return new("name", $"At most {CatalogLimits.Name} characters are allowed. Shorten it.");
        return view.IsStart && owner.Length > 0 ? new("isStart", "Only a list saved for everybody can be the default.") : null;
    }
}

/// <summary>A list as it is kept.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="IsForAll">Whether it is for everybody at the porch.</param>
/// <param name="IsStart">Whether the panel opens with it.</param>
/// <param name="View">What it shows.</param>
public sealed record KeptView(string Name, bool IsForAll, bool IsStart, ListView View);
