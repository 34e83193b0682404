using PlainPorch.Data.History;

namespace PlainPorch.Web.Http;

/// <summary>
/// Names who asks for a change. Until there is sign-in that is "this computer" and its address; sign-in only has to fill it in
/// here.
/// </summary>
internal static class Callers
{
    public static void UseCaller(this IApplicationBuilder app) =>
        app.Use(
            (http, next) =>
            {
                if (!HttpMethods.IsGet(http.Request.Method))
                    http.RequestServices.GetRequiredService<Caller>().From = http.Connection.RemoteIpAddress?.ToString() ?? "";
                return next(http);
            }
        );
}
