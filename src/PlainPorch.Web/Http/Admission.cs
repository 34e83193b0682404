namespace PlainPorch.Web.Http;

/// <summary>
/// Who gets to which address. What says nothing is for developers alone, so that a new address lets nobody in by mistake.
/// </summary>
internal static class Admission
{
    /// <summary>For whoever is let into the porch that the address names; others learn of nothing there.</summary>
    public const string Members = "members";

    /// <summary>For whoever sets porches up.</summary>
    public const string Developers = "developers";

    /// <summary>For whoever is signed in.</summary>
    public const string SignedIn = "signed in";

    /// <summary>Bounds how often sign-in is asked for from one address.</summary>
    public const string SignInLimit = "sign-in";

    /// <summary>Lets whoever is let into the porch get to some addresses.</summary>
    public static TBuilder ForMembers<TBuilder>(this TBuilder endpoints)
        where TBuilder : IEndpointConventionBuilder => endpoints.RequireAuthorization(Members);

    /// <summary>Lets whoever is signed in get to some addresses.</summary>
    public static TBuilder ForSignedIn<TBuilder>(this TBuilder endpoints)
        where TBuilder : IEndpointConventionBuilder => endpoints.RequireAuthorization(SignedIn);

    /// <summary>Lets only developers get to some addresses of a group that lets others, too.</summary>
    public static TBuilder ForDevelopers<TBuilder>(this TBuilder endpoints)
        where TBuilder : IEndpointConventionBuilder => endpoints.RequireAuthorization(Developers);

    /// <summary>Lets anybody get to some addresses.</summary>
    public static TBuilder ForAnybody<TBuilder>(this TBuilder endpoints)
        where TBuilder : IEndpointConventionBuilder => endpoints.AllowAnonymous();
}
