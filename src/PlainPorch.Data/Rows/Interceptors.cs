using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Infrastructure;

namespace PlainPorch.Data.Rows;

/// <summary>Ways to what watches a context.</summary>
internal static class Interceptors
{
    /// <summary>The context's own interceptor of a kind, of which each context has one.</summary>
    public static T Own<T>(this DbContext context)
        where T : IInterceptor =>
        context.GetService<IDbContextOptions>().FindExtension<CoreOptionsExtension>()!.Interceptors!.OfType<T>().Single();
}
