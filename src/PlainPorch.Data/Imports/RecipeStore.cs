using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Imports;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Imports;

/// <summary>A recipe whose files are looked for in the server's folder.</summary>
/// <param name="Recipe">The recipe.</param>
/// <param name="Porch">The slug of its panel's porch.</param>
/// <param name="Panel">The slug of its panel.</param>
public sealed record WatchingRecipe(RecipeRow Recipe, string Porch, string Panel);

/// <summary>Keeps recipes: imports into a panel with their settings, to be run again on the next files.</summary>
/// <param name="catalog">Our own tables.</param>
/// <param name="time">Tells the time.</param>
public sealed class RecipeStore(CatalogContext catalog, TimeProvider time)
{
    /// <summary>The recipes of a panel, by name.</summary>
    public Task<List<RecipeRow>> ListAsync(int panelId, CancellationToken cancellationToken) =>
        catalog
            .Recipes.AsNoTracking()
            .Where(recipe => recipe.PanelId == panelId)
            .OrderBy(recipe => recipe.Name)
            .ToListAsync(cancellationToken);

    /// <summary>Finds a recipe of a panel.</summary>
    /// <returns>The recipe; null where there is none.</returns>
    public Task<RecipeRow?> FindAsync(int panelId, int id, CancellationToken cancellationToken) =>
        catalog
            .Recipes.AsNoTracking()
            .FirstOrDefaultAsync(recipe => recipe.Id == id && recipe.PanelId == panelId, cancellationToken);

    /// <summary>Keeps a recipe; one of that name takes the new settings.</summary>
    public async Task<RecipeRow> KeepAsync(
        int panelId,
        string name,
        PanelImportSettings settings,
        string who,
        CancellationToken cancellationToken
    )
    {
        var row = await catalog.Recipes.FirstOrDefaultAsync(
            recipe => recipe.PanelId == panelId && recipe.Name == name,
            cancellationToken
        );
        if (row is null)
            catalog.Recipes.Add(
                row = new RecipeRow
                {
                    PanelId = panelId,
                    Name = name,
                    Content = "",
                    Who = who,
                }
            );
        (row.Content, row.Who, row.At) = (JsonSerializer.Serialize(settings, DefinitionJson.Options), who, time.GetUtcNow());
        await catalog.SaveChangesAsync(cancellationToken);
        catalog.ChangeTracker.Clear();
        return row;
    }

    /// <summary>Removes a recipe.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> RemoveAsync(int panelId, int id, CancellationToken cancellationToken) =>
        await catalog.Recipes.Where(recipe => recipe.Id == id && recipe.PanelId == panelId).ExecuteDeleteAsync(cancellationToken)
        > 0;

    /// <summary>Has files of the server's folder be brought in when they arrive, or no longer.</summary>
    /// <param name="panelId">The panel.</param>
    /// <param name="id">The recipe.</param>
    /// <param name="pattern">What the files are called, with * for anything; null for none.</param>
    /// <param name="who">In whose name.</param>
    /// <param name="cancellationToken">Stops the attempt.</param>
    /// <returns>Whether there is such a recipe.</returns>
    public async Task<bool> WatchAsync(int panelId, int id, string? pattern, string who, CancellationToken cancellationToken)
    {
        // What lies there already was there before anybody wanted it.
        var now = time.GetUtcNow();
        return await catalog
                .Recipes.Where(recipe => recipe.Id == id && recipe.PanelId == panelId)
                .ExecuteUpdateAsync(
                    set =>
                        set.SetProperty(recipe => recipe.Watches, pattern)
                            .SetProperty(recipe => recipe.Who, who)
                            .SetProperty(recipe => recipe.At, now),
                    cancellationToken
                ) > 0;
    }

    /// <summary>The recipes whose files are looked for.</summary>
    public async Task<IReadOnlyList<WatchingRecipe>> WatchingAsync(CancellationToken cancellationToken) =>
        await (
            from recipe in catalog.Recipes.AsNoTracking()
            join panel in catalog.Panels.AsNoTracking() on recipe.PanelId equals panel.Id
            join porch in catalog.Porches.AsNoTracking() on panel.PorchId equals porch.Id
            where recipe.Watches != null
            select new WatchingRecipe(recipe, porch.Slug, panel.Slug)
        ).ToListAsync(cancellationToken);

    /// <summary>What a recipe keeps.</summary>
    public static PanelImportSettings SettingsOf(RecipeRow recipe)
    {
        ArgumentNullException.ThrowIfNull(recipe);
        return JsonSerializer.Deserialize<PanelImportSettings>(recipe.Content, DefinitionJson.Kept)!;
    }
}
