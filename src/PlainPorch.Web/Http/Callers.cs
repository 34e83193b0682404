using PlainPorch.Data.History;

namespace PlainPorch.Web.Http;

/// <summary>
/// Tells from where a change is asked for, and in spite of which warnings; who asks is found out by signing in.
/// </summary>
internal static class Callers
{
    /// <summary>Names the checks, percent-encoded and parted by commas, in spite of whose warning something is to be done.</summary>
    public const string DespiteHeader = "Despite";

    public static void UseCaller(this IApplicationBuilder app) =>
        app.Use(
            (http, next) =>
            {
                if (!HttpMethods.IsGet(http.Request.Method))
                {
                    var caller = http.RequestServices.GetRequiredService<Caller>();
                    caller.From = http.Connection.RemoteIpAddress?.ToString() ?? "";
                    caller.Despite = http
                        .Request.Headers[DespiteHeader]
                        .SelectMany(value => (value ?? "").Split(','))
                        .Select(name => Uri.UnescapeDataString(name.Trim()))
                        .Where(name => name.Length > 0)
                        .ToHashSet();
                }

                return next(http);
            }
        );
}
