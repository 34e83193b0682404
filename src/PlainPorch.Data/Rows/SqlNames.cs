using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Storage;

namespace PlainPorch.Data.Rows;

/// <summary>EF Core's way of quoting identifiers, for statements that no model stands behind.</summary>
public static class SqlNames
{
    /// <summary>Quotes identifiers as PostgreSQL wants them.</summary>
    public static ISqlGenerationHelper Helper { get; } = Make();

    /// <summary>Writes a text as a literal, for statements that take no parameters.</summary>
    public static string Literal(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return _text.GenerateSqlLiteral(text);
    }

    private static readonly RelationalTypeMapping _text = MakeText();

    private static RelationalTypeMapping MakeText()
    {
        using var context = new DbContext(new DbContextOptionsBuilder().UseNpgsql().Options);
        return context.GetService<IRelationalTypeMappingSource>().FindMapping(typeof(string))!;
    }

    private static ISqlGenerationHelper Make()
    {
        using var context = new DbContext(new DbContextOptionsBuilder().UseNpgsql().Options);
        return context.GetService<ISqlGenerationHelper>();
    }
}
