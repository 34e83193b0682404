using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using PlainPorch.Core.Sources;
using PlainPorch.Core.Values;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Parcels;
using PlainPorch.Data.Snapshots;
using PlainPorch.Data.Sources;
using PlainPorch.Web.Http;

namespace PlainPorch.Web.Sources;

/// <summary>A source as the back room shows it. Its password never leaves the server.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Host">Host name or address.</param>
/// <param name="Port">TCP port.</param>
/// <param name="Database">The database's name.</param>
/// <param name="User">The database user.</param>
/// <param name="HasPassword">Whether a password is kept.</param>
/// <param name="Tls">Whether and how strictly the connection is encrypted.</param>
/// <param name="Schemas">The schemas that are read; empty for all but the system's.</param>
/// <param name="IsReadOnly">Whether nothing may be written to it.</param>
/// <param name="Version">Its version, for If-Match.</param>
public sealed record SourceDto(
    int Id,
    string Name,
    string Host,
    int Port,
    string Database,
    string User,
    bool HasPassword,
    TlsMode Tls,
    IReadOnlyList<string> Schemas,
    bool IsReadOnly,
    uint Version
);

/// <summary>What a developer gives to add, change or try a source.</summary>
/// <param name="Name">What it is to be called.</param>
/// <param name="Host">Host name or address.</param>
/// <param name="Port">TCP port.</param>
/// <param name="Database">The database's name.</param>
/// <param name="User">The database user.</param>
/// <param name="Password">The password; null keeps the known one, "" means none.</param>
/// <param name="Tls">Whether and how strictly the connection is encrypted.</param>
/// <param name="Schemas">The schemas to read; empty for all but the system's.</param>
/// <param name="IsReadOnly">Whether nothing may be written to it.</param>
/// <param name="IsSameDatabase">Where the settings lead to another database than before, and something is set aside: whether it
/// is the same one in another place, as after a restoration.</param>
public sealed record SourceRequest(
    string Name,
    string Host,
    int Port,
    string Database,
    string User,
    string? Password,
    TlsMode Tls,
    IReadOnlyList<string> Schemas,
    bool IsReadOnly,
    bool? IsSameDatabase = null
);

/// <summary>A pasted connection string.</summary>
/// <param name="Text">A postgresql:// URL, or names and values.</param>
public sealed record ConnectionTextRequest(string Text);

/// <summary>The fields of a pasted connection string, the password among them: whoever asks has just typed it.</summary>
/// <param name="Host">Host name or address.</param>
/// <param name="Port">TCP port.</param>
/// <param name="Database">The database's name.</param>
/// <param name="User">The database user.</param>
/// <param name="Password">The password in the text; null where it has none.</param>
/// <param name="Tls">Whether and how strictly the connection is encrypted.</param>
public sealed record ConnectionFields(string Host, int Port, string Database, string User, string? Password, TlsMode Tls);

/// <summary>What becomes of records that are set aside when their source or panel is removed.</summary>
public enum LeftAside
{
    /// <summary>They stay, and are there again when the same database or table is added again.</summary>
    Keep,

    /// <summary>They are erased for good.</summary>
    Erase,
}

internal static class SourceEndpoints
{
    public static void MapSources(this IEndpointRouteBuilder api)
    {
        var sources = api.MapGroup("/sources").WithTags("Sources");
        sources.MapGet("/", ListAsync).WithName("listSources");
        sources.MapPost("/", AddAsync).WithName("addSource");
        sources.MapPost("/read-text", ReadText).WithName("readConnectionText");
        sources.MapPost("/try", TryAsync).WithName("trySource");
        sources.MapGet("/{id:int}", FindAsync).WithName("findSource");
        sources.MapPut("/{id:int}", UpdateAsync).WithName("updateSource");
        sources.MapDelete("/{id:int}", RemoveAsync).WithName("removeSource");
        sources.MapGet("/{id:int}/set-aside", CountSetAsideAsync).WithName("countSetAsideOfSource");
    }

    private static async Task<Ok<List<SourceDto>>> ListAsync(
        SourceStore store,
        SourceSecrets secrets,
        CancellationToken cancellationToken
    ) => TypedResults.Ok((await store.ListAsync(cancellationToken)).ConvertAll(source => ToDto(source, secrets)));

    private static async Task<Results<Ok<SourceDto>, NotFound>> FindAsync(
        int id,
        SourceStore store,
        SourceSecrets secrets,
        CancellationToken cancellationToken
    ) =>
        await store.FindAsync(id, cancellationToken) is { } source
            ? TypedResults.Ok(ToDto(source, secrets))
            : TypedResults.NotFound();

    private static Results<Ok<ConnectionFields>, ValidationProblem> ReadText(ConnectionTextRequest request) =>
        ConnectionText.TryRead(request.Text, out var read, out var problem)
            ? TypedResults.Ok(new ConnectionFields(read.Host, read.Port, read.Database, read.User, read.Password, read.Tls))
            : Problems.Of([new FieldProblem("text", problem!)]);

    private static async Task<Results<Ok<ProbeFindings>, ValidationProblem>> TryAsync(
        SourceRequest request,
        [FromQuery] int? known,
        SourceStore store,
        CancellationToken cancellationToken
    )
    {
        if (Check(request, nameNeeded: false) is { Count: > 0 } problems)
            return Problems.Of(problems);
        var source = known is { } id ? await store.FindAsync(id, cancellationToken) : null;
        var probe = await ProbeAsync(request, source, store, cancellationToken);
        return probe.Findings is { } findings ? TypedResults.Ok(findings) : Problems.Of([probe.Problem!]);
    }

    private static async Task<Results<Created<SourceDto>, ValidationProblem>> AddAsync(
        SourceRequest request,
        SourceStore store,
        SourceSecrets secrets,
        SnapshotStore snapshots,
        CancellationToken cancellationToken
    )
    {
        if (Check(request, nameNeeded: true) is { Count: > 0 } problems)
            return Problems.Of(problems);
        var probe = await ProbeAsync(request, null, store, cancellationToken);
        if (probe.Findings is not { } findings)
            return Problems.Of([probe.Problem!]);
        switch (await store.AddAsync(ToInput(request), findings.Identity, cancellationToken))
        {
            case SaveOutcome<SourceRow>.Saved(var source):
                await snapshots.TakeAsync(source, cancellationToken);
                return TypedResults.Created($"/api/sources/{source.Id}", ToDto(source, secrets));
            case SaveOutcome<SourceRow>.Refused(var refused):
                return Problems.Of(refused);
            case var other:
                throw new InvalidOperationException($"A new source cannot be {other}.");
        }
    }

    private static async Task<
        Results<Ok<SourceDto>, NotFound, ValidationProblem, ProblemHttpResult, PreconditionFailed<SourceDto>>
    > UpdateAsync(
        int id,
        SourceRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        SourceStore store,
        SourceSecrets secrets,
        SnapshotStore snapshots,
        CancellationToken cancellationToken
    )
    {
        if (Versions.Read(ifMatch) is not { } version)
            return Problems.VersionMissing();
        if (Check(request, nameNeeded: true) is { Count: > 0 } problems)
            return Problems.Of(problems);
        var known = await store.FindAsync(id, cancellationToken);
        if (known is null)
            return TypedResults.NotFound();
        var probe = await ProbeAsync(request, known, store, cancellationToken);
        if (probe.Findings is not { } findings)
            return Problems.Of([probe.Problem!]);
        switch (
            await store.UpdateAsync(
                id,
                version,
                ToInput(request),
                new DatabaseMove(findings.Identity, request.IsSameDatabase),
                cancellationToken
            )
        )
        {
            case SaveOutcome<SourceRow>.Saved(var source):
                await snapshots.TakeAsync(source, cancellationToken);
                return TypedResults.Ok(ToDto(source, secrets));
            case SaveOutcome<SourceRow>.Refused(var refused):
                return Problems.Of(refused);
            case SaveOutcome<SourceRow>.Stale:
                return new PreconditionFailed<SourceDto>(ToDto(known, secrets), known.Version);
            default:
                return TypedResults.NotFound();
        }
    }

    private static async Task<Results<NoContent, NotFound, ProblemHttpResult>> RemoveAsync(
        int id,
        SourceStore store,
        ParcelReader parcels,
        CancellationToken cancellationToken,
        Choice<LeftAside>? setAside = null
    ) =>
        setAside is null && await parcels.CountOfSourceAsync(id, cancellationToken) is { Parcels: > 0 } count
            ? Problems.SetAsideUndecided(count)
        : await store.RemoveAsync(id, setAside?.Value is LeftAside.Erase, cancellationToken) ? TypedResults.NoContent()
        : TypedResults.NotFound();

    private static async Task<Ok<SetAsideCount>> CountSetAsideAsync(
        int id,
        ParcelReader parcels,
        CancellationToken cancellationToken
    ) => TypedResults.Ok(await parcels.CountOfSourceAsync(id, cancellationToken));

    private static Task<ProbeResult> ProbeAsync(
        SourceRequest request,
        SourceRow? known,
        SourceStore store,
        CancellationToken cancellationToken
    )
    {
        var input = ToInput(request);
        return SourceProbe.TryAsync(store.WithKnownPassword(input.Settings, known), input.Schemas, cancellationToken);
    }

    private static List<FieldProblem> Check(SourceRequest request, bool nameNeeded)
    {
        var problems = new List<FieldProblem>();
        if (nameNeeded)
            Need("name", request.Name, "Enter a name for the source, such as the office it belongs to.");
        Need("host", request.Host, "Enter the server's name or address.");
        Need("database", request.Database, "Enter the database's name.");
        Need("user", request.User, "Enter the database user's name.");
        if (request.Port is < 1 or > 65535)
            problems.Add(new("port", "A port is a number from 1 to 65535."));
        return problems;

        void Need(string field, string value, string message)
        {
            if (string.IsNullOrWhiteSpace(value))
                problems.Add(new(field, message));
            else if (value.Trim().Length > CatalogLimits.Name)
                problems.Add(new(field, $"At most {CatalogLimits.Name} characters are allowed. Shorten it."));
        }
    }

    private static SourceInput ToInput(SourceRequest request) =>
        new(
            request.Name,
            new SourceSettings
            {
                Host = request.Host.Trim(),
                Port = request.Port,
                Database = request.Database.Trim(),
                User = request.User.Trim(),
                Password = request.Password,
                Tls = request.Tls,
            },
            [.. request.Schemas.Select(schema => schema.Trim()).Where(schema => schema.Length > 0).Distinct()],
            request.IsReadOnly
        );

    private static SourceDto ToDto(SourceRow source, SourceSecrets secrets) =>
        new(
            source.Id,
            source.Name,
            source.Host,
            source.Port,
            source.Database,
            source.User,
            secrets.CanOpen(source),
            source.Tls,
            source.Schemas,
            source.IsReadOnly,
            source.Version
        );
}
