using PlainPorch.Core.Query;
using PlainPorch.Data.Query;

namespace PlainPorch.Data.Tests.Records;

public sealed class ValueCountTests(TestDatabase database) : IClassFixture<TestDatabase>
{
    private const int Rows = 600_000;

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task CountValues_OfALargeList_AreEstimatedAtOnce_AndCountedOnce()
    {
        await database.ExecuteAsync(
            $"""
            CREATE TABLE zoo.crowd (id int PRIMARY KEY, state text, floors int, seen date);
            INSERT INTO zoo.crowd SELECT n, CASE WHEN n % 10 < 7 THEN 'here' WHEN n % 10 < 9 THEN 'gone' END, n % 5, date '2020-01-01' + n % 2000 FROM generate_series(1, {Rows}) n;
            ANALYZE zoo.crowd
            """
        );
        var crowd = await database.OpenAsync("zoo", "crowd", panel =>
            panel with
            {
                Columns = [.. panel.Columns.Select(column => column with { Narrows = true })],
            }
        );
        var (truth, about) = (await CountAsync("state"), await CountAsync("state", about: true));
        Assert.Equal(["here 420000", "gone 120000", " 60000"], truth.Values.Select(value => $"{value.Value} {value.Count}"));
        Assert.False(truth.IsAbout);
        Assert.True(about.IsAbout);
        foreach (var (exact, estimated) in truth.Values.Zip(about.Values))
        {
            Assert.Equal(exact.Value, estimated.Value);
            Assert.InRange(estimated.Count, exact.Count * 0.7, exact.Count * 1.3);
        }

        // Few numbers one by one, many days by ranges.
        Assert.Equal(
            [0, 1, 2, 3, 4],
            (await CountAsync("floors", about: true))
                .Values.Select(value => int.Parse(value.Value!, System.Globalization.CultureInfo.InvariantCulture))
                .Order()
        );
        Assert.Equal(Rows, (await CountAsync("floors")).Values.Sum(value => value.Count));
        var days = await CountAsync("seen", about: true);
        Assert.InRange(days.Ranges.Sum(range => range.Count), Rows * 0.7, Rows * 1.3);
        // A list of few records is counted, whatever was asked: a sample may hold none of them.
        Assert.False((await CountAsync("state", about: true, new ListRequest("here"))).IsAbout);
        // Kept while the table stands as it is, and counted again when it does not.
        await database.ExecuteAsync("UPDATE zoo.crowd SET state = 'here' WHERE id = 7; SELECT pg_stat_force_next_flush()");
        Assert.Equal(420001, (await CountAsync("state")).Values[0].Count);

        Task<NarrowingValues> CountAsync(string column, bool about = false, ListRequest? request = null) =>
            new ListStore(crowd).CountValuesAsync(
                crowd.Plan(request ?? new ListRequest()),
                crowd.Panel.Find(column)!,
                null,
                Token,
                about
            );
    }
}
