using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Microsoft.EntityFrameworkCore.Migrations.Operations;

namespace PlainPorch.Data.Imports;

/// <summary>Has EF Core write the statements that change a schema.</summary>
internal static class MigrationSql
{
    /// <summary>The statements of changes.</summary>
    public static string Of(params IReadOnlyList<MigrationOperation> operations)
    {
        using var context = new DbContext(new DbContextOptionsBuilder().UseNpgsql().Options);
        return string.Join(
            '\n',
            context.GetService<IMigrationsSqlGenerator>().Generate(operations).Select(command => command.CommandText.Trim())
        );
    }
}
