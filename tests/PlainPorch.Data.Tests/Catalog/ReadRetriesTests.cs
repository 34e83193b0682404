using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;

namespace PlainPorch.Data.Tests.Catalog;

public sealed class ReadRetriesTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Read_OverConnectionsThatTheServerClosed_IsRepeated()
    {
        await using var catalog = Open();
        await catalog.Database.MigrateAsync(Token);
        Assert.Equal(0, await catalog.Set<SourceRow>().CountAsync(Token));
        await database.ExecuteAsync(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()"
        );
        Assert.Empty(await catalog.Set<SourceRow>().ToListAsync(Token));
    }

    [Fact]
    public async Task Read_ThatBreaks_IsRepeated_AWriteIsNot_NorAReadWithinATransaction()
    {
        var breaks = new Breaks();
        await using var catalog = Open(breaks);
        await catalog.Database.MigrateAsync(Token);
        breaks.Left = 2;
        Assert.Empty(await catalog.Set<SourceRow>().Where(source => source.Name == "no such").ToListAsync(Token));
        Assert.Equal(0, breaks.Left);

        breaks.Left = 2;
        catalog.Add(Source());
        await Assert.ThrowsAnyAsync<Exception>(() => catalog.SaveChangesAsync(Token));
        Assert.Equal(1, breaks.Left);
        await Assert.ThrowsAnyAsync<Exception>(() =>
            catalog.Set<SourceRow>().ExecuteUpdateAsync(source => source.SetProperty(row => row.Name, "x"), Token)
        );
        Assert.Equal(0, breaks.Left);

        await using var transaction = await catalog.Database.BeginTransactionAsync(Token);
        breaks.Left = 2;
        await Assert.ThrowsAnyAsync<Exception>(() => catalog.Set<SourceRow>().ToListAsync(Token));
        Assert.Equal(1, breaks.Left);
    }

    private static SourceRow Source() =>
        new()
        {
            Name = "new",
            Host = "127.0.0.1",
            Database = "x",
            User = "x",
            Tls = TlsMode.Disable,
            Schemas = [],
        };

    private CatalogContext Open(params IInterceptor[] interceptors) =>
        new(
            new DbContextOptionsBuilder<CatalogContext>()
                .UseNpgsql(database.ConnectionString, npgsql =>
                    npgsql
                        .MigrationsHistoryTable("migration", CatalogContext.SchemaName)
                        .ExecutionStrategy(dependencies => new ReadRetries(dependencies))
                )
                .AddInterceptors(interceptors)
                .Options
        );

    private sealed class Breaks : DbCommandInterceptor
    {
        public int Left { get; set; }

        public override ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(
            DbCommand command,
            CommandEventData eventData,
            InterceptionResult<DbDataReader> result,
            CancellationToken cancellationToken = default
        )
        {
            Break();
            return base.ReaderExecutingAsync(command, eventData, result, cancellationToken);
        }

        public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(
            DbCommand command,
            CommandEventData eventData,
            InterceptionResult<int> result,
            CancellationToken cancellationToken = default
        )
        {
            Break();
            return base.NonQueryExecutingAsync(command, eventData, result, cancellationToken);
        }

        private void Break()
        {
            if (Left == 0)
                return;
            Left--;
            throw new NpgsqlException("The connection broke.", new IOException());
        }
    }
}
