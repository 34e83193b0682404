using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Code;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Duplicates;
using PlainPorch.Data.History;
using PlainPorch.Data.Imports;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.LooseEnds;
using PlainPorch.Data.Ordering;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.People;
using PlainPorch.Data.Removal;
using PlainPorch.Data.Rows;
using PlainPorch.Data.SavedLists;
using PlainPorch.Data.Schema;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Sources;
using PlainPorch.Data.Survey;
using PlainPorch.Data.Uploads;

namespace PlainPorch.Data;

/// <summary>Registers the data layer.</summary>
public static class DataServices
{
    /// <summary>Adds the catalog, the sources and the records.</summary>
    /// <param name="services">The application's services.</param>
    /// <param name="catalogConnection">The connection string of the catalog's database.</param>
    /// <param name="keys">Where the keys are by which passwords of sources are encrypted.</param>
    public static IServiceCollection AddPorchData(this IServiceCollection services, string catalogConnection, KeyPlace keys)
    {
        ArgumentNullException.ThrowIfNull(keys);
        services.AddSingleton<CatalogChanges>();
        services.AddSingleton<CatalogWriteWatch>();
        services.AddSingleton<CatalogFailures>();
        services.AddDbContextPool<CatalogContext>(
            (provider, options) =>
                options
                    .UseNpgsql(catalogConnection, npgsql =>
                        npgsql
                            .MigrationsHistoryTable("migration", CatalogContext.SchemaName)
                            .ExecutionStrategy(dependencies => new ReadRetries(dependencies))
                    )
                    .AddInterceptors(
                        provider.GetRequiredService<CatalogWriteWatch>(),
                        provider.GetRequiredService<CatalogFailures>()
                    )
        );
        keys.Protect(services.AddDataProtection().SetApplicationName("PlainPorch"));
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton<SourceSecrets>();
        services.AddSingleton<SourceConnector>((settings, isReadOnly) => SourceConnection.Create(settings, isReadOnly));
        services.AddSingleton<SourceConnections>();
        services.AddSingleton<SnapshotReader>();
        services.AddSingleton<RecordModels>();
        services.AddSingleton<SurveyReports>();
        services.AddSingleton<PanelCache>();
        services.AddSingleton<OpenPanels>();
        services.AddSingleton<KeptTitlesOf>(provider =>
            source => new KeptTitles(source, provider.GetRequiredService<IServiceScopeFactory>())
        );
        services.AddScoped<SourceStore>();
        services.AddScoped<SnapshotStore>();
        services.AddScoped<SurveyStore>();
        services.AddScoped<PanelStore>();
        services.AddScoped<PanelRedrafts>();
        services.AddPeople();
        services.AddScoped<PanelOpener>();
        services.AddScoped<PorchOpener>();
        services.AddScoped<KeptViewStore>();
        services.AddScoped<UploadStore>();
        services.AddScoped<LooseEndStore>();
        services.AddSingleton(CodePlace.None);
        services.AddSingleton<CodeShelf>();
        services.AddSingleton<CodeRunner>();
        services.AddSingleton<ICodedColumns>(provider => provider.GetRequiredService<CodeRunner>());
        services.AddScoped<CodeEffects>();
        services.AddScoped<Caller>();
        services.AddScoped<Logbook>();
        services.AddScoped<LogReader>();
        services.AddScoped<ParcelStore>();
        services.AddScoped<ParcelReader>();
        services.AddScoped<Remover>();
        services.AddScoped<Returner>();
        services.AddScoped<ActSettler>();
        services.AddScoped<ActRunner>();
        services.AddScoped<Repeats>();
        services.AddScoped<OrderKeeper>();
        services.AddScoped<DistinctPairs>();
        services.AddScoped<Merger>();
        services.AddScoped<ImportStore>();
        services.AddScoped<RecipeStore>();
        services.AddScoped<TableImport>();
        services.AddScoped<PanelImport>();
        services.AddScoped<ImportSettler>();
        return services;
    }
}
