using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Storage;

namespace PlainPorch.Data.Survey;

/// <summary>EF Core's way of quoting identifiers, for statements that no model stands behind.</summary>
public static class SqlNames
{
    /// <summary>Quotes identifiers as PostgreSQL wants them.</summary>
    public static ISqlGenerationHelper Helper { get; } = Make();

    private static ISqlGenerationHelper Make()
    {
        using var context = new DbContext(new DbContextOptionsBuilder().UseNpgsql().Options);
        return context.GetService<ISqlGenerationHelper>();
    }
}
