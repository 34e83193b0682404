using PlainPorch.Data;
using PlainPorch.Data.Imports;
using PlainPorch.Data.Uploads;
using PlainPorch.Web.Catalog;
using PlainPorch.Web.Code;
using PlainPorch.Web.Connections;
using PlainPorch.Web.Duplicates;
using PlainPorch.Web.History;
using PlainPorch.Web.Http;
using PlainPorch.Web.Imports;
using PlainPorch.Web.LooseEnds;
using PlainPorch.Web.Ordering;
using PlainPorch.Web.Panels;
using PlainPorch.Web.People;
using PlainPorch.Web.Query;
using PlainPorch.Web.Records;
using PlainPorch.Web.Removal;
using PlainPorch.Web.SavedLists;
using PlainPorch.Web.Snapshots;
using PlainPorch.Web.Sources;
using PlainPorch.Web.Survey;
using PlainPorch.Web.Tidying;

namespace PlainPorch.Web;

/// <summary>Puts the server together from its rooms, and runs it.</summary>
internal static class Start
{
    /// <summary>Runs the server until it is stopped.</summary>
    /// <returns>What the process ends with.</returns>
    /// <exception cref="WrongSettingException">A setting is missing or wrong.</exception>
    public static async Task<int> RunAsync(string[] args)
    {
        var builder = WebApplication.CreateBuilder(args);
        if (CatalogPreparation.IsDescribing)
            builder.Logging.ClearProviders();
        var listening = Listening.Read(builder.Configuration);
        listening.Configure(builder.WebHost);
        var catalog = builder.Configuration["PORCH_DATABASE"] ?? "Host=localhost;Database=plain_porch";
        builder.Services.AddPorchData(catalog, KeySetUp.Read(builder.Configuration));
        builder.Services.AddCode(builder.Configuration);
        if (!CatalogPreparation.IsDescribing)
        {
            builder.Services.AddHostedService(services => ActivatorUtilities.CreateInstance<CatalogListener>(services, catalog));
            builder.Services.AddHostedService<RemovalWork>();
            builder.Services.AddHostedService<MailWork>();
            builder.Services.AddHostedService<ImportSettling>();
            builder.Services.AddHostedService<RecipeWatch>();
            builder.Services.AddHostedService(services => services.GetRequiredService<CodeWork>());
        }

        builder.Services.AddSingleton<SurveyWork>();
        builder.Services.AddSingleton<ImportWork>();
        // Made by the container, which throws away what it laid out when the program ends.
        builder.Services.AddSingleton(_ => new FileFolder(builder.Configuration["PORCH_FILES"]));
        builder.Services.AddSingleton(_ => new ImportFolder(builder.Configuration["PORCH_IMPORTS"]));
        builder.Services.AddSingleton(services => new Thumbnails(
            KeptPictures.Read(builder.Configuration),
            services.GetRequiredService<TimeProvider>()
        ));
        builder.Services.AddSingleton(MailSettings.Read(builder.Configuration));
        builder.Services.AddSingleton<FirstCode>();
        builder.Services.AddSignIn(builder.Configuration);
        builder.Services.AddPorchProblems();
        builder.Services.AddPorchJson();
        builder.Services.AddPorchOpenApi();
        builder.Services.AddCompressedAnswers();

        var app = builder.Build();
        listening.UseProxies(app);
        app.UseExceptionHandler();
        app.UseStatusCodePages();
        app.UseOwnRequestsOnly(listening);
        app.UseSecurityHeaders();
        app.UseCaller();
        app.UseCompressedAnswers();
        app.MapClient();
        app.UseSignIn();

        var api = app.MapGroup("/api");
        api.MapSources();
        api.MapSnapshots();
        api.MapSurveys();
        api.MapPorches();
        api.MapPanels();
        api.MapRules();
        api.MapLists();
        api.MapRecords();
        api.MapUploads();
        api.MapKeptViews();
        api.MapLooseEnds();
        api.MapRemovals();
        api.MapHistory();
        api.MapOrdering();
        api.MapDuplicates();
        api.MapTidying();
        api.MapTableImports();
        api.MapPanelImports();
        api.MapRecipes();
        api.MapCode();
        api.MapSessions();
        api.MapPeople();
        api.MapRoles();
        api.MapHealth();
        SimulatedOffice.Map(app, builder.Configuration);
        app.MapOpenApi("/api/openapi.json");

        if (!await app.PrepareCatalogAsync())
            return 1;
        if (!CatalogPreparation.IsDescribing)
            await app.Services.GetRequiredService<FirstCode>().TellAsync(app.Services);
        await app.RunAsync();
        return 0;
    }
}
