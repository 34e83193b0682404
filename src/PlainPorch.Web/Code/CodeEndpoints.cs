using Microsoft.AspNetCore.Http.HttpResults;
using PlainPorch.Data.Code;

namespace PlainPorch.Web.Code;

/// <summary>The code of one's own, and what it still has to do.</summary>
/// <param name="Folder">Where it is loaded from; null where no folder is set.</param>
/// <param name="Assemblies">What was found there.</param>
/// <param name="Outstanding">What is to be done after acts and is not done yet, what was given up first.</param>
public sealed record CodeDto(
    string? Folder,
    IReadOnlyList<CodeAssembly> Assemblies,
    IReadOnlyList<OutstandingEffect> Outstanding
);

/// <summary>An assembly of one's own.</summary>
/// <param name="File">The file's name.</param>
/// <param name="Version">Its version; empty where it could not be read.</param>
/// <param name="Codes">The classes that are used.</param>
/// <param name="Problem">Why it is not used; null where it is.</param>
public sealed record CodeAssembly(string File, string Version, IReadOnlyList<CodeClass> Codes, string? Problem);

/// <summary>A class of one's own.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Table">The table whose records it is about.</param>
/// <param name="Column">The column for whose field it offers values, or that it computes; null for code about records.</param>
/// <param name="Reads">The columns of which it computes its own; null where it computes none.</param>
public sealed record CodeClass(string Name, string Table, string? Column, IReadOnlyList<string>? Reads);

internal static class CodeEndpoints
{
    public static void MapCode(this IEndpointRouteBuilder api)
    {
        var code = api.MapGroup("/code").WithTags("Code of one's own");
        code.MapGet("", FindAsync).WithName("findCode").WithSummary("The code of one's own, and what it still has to do.");
        code.MapPost("/effects/{id:long}/again", TryAgainAsync)
            .WithName("tryEffectAgain")
            .WithSummary("Has something outstanding tried again now.");
    }

    private static async Task<Ok<CodeDto>> FindAsync(CodeShelf shelf, CodeEffects effects, CancellationToken cancellationToken) =>
        TypedResults.Ok(
            new CodeDto(
                shelf.Place.Folder,
                [
                    .. shelf.Assemblies.Select(assembly => new CodeAssembly(
                        assembly.File,
                        assembly.Version,
                        [
                            .. assembly.Codes.Select(one => new CodeClass(
                                one.Name,
                                one.Table.ToString(),
                                one.Column,
                                one.ToCompute
                            )),
                        ],
                        assembly.Problem
                    )),
                ],
                await effects.OutstandingAsync(cancellationToken)
            )
        );

    private static async Task<Results<NoContent, NotFound>> TryAgainAsync(
        long id,
        CodeEffects effects,
        CodeWork work,
        CancellationToken cancellationToken
    )
    {
        if (!await effects.TryAgainAsync(id, cancellationToken))
            return TypedResults.NotFound();
        work.Wake();
        return TypedResults.NoContent();
    }
}
