using System.Globalization;
using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Rows;
using Row = System.Collections.Generic.Dictionary<string, object?>;

namespace PlainPorch.Data.Tests.Rules;

/// <summary>Expressions come to the same here and in the database, whatever they are and whatever they are about.</summary>
public sealed class RuleAgreementTests : IAsyncLifetime
{
    // More for a run that takes its time.
    private static readonly int _count = int.Parse(
        Environment.GetEnvironmentVariable("PORCH_RULES") ?? "20000",
        CultureInfo.InvariantCulture
    );

    private const int Rows = 60;
    private const int Together = 12;

    private static readonly RuleAsking _asking = new(new DateTime(2026, 11, 28, 20, 15, 30, DateTimeKind.Unspecified), "Eva");

    private static readonly (string Name, string Type, string[] Values)[] _columns =
    [
        ("i", "integer", ["0", "1", "-1", "2", "7", "12", "40", "2147483647", "-2147483648"]),
        ("b", "bigint", ["0", "5", "-900000000000000000", "123456789012", "9223372036854775807"]),
        ("s", "smallint", ["0", "3", "-3", "32767"]),
        ("n", "numeric(12,3)", ["0", "1.005", "-2.5", "0.001", "999999999.999", "17.25", "3"]),
        (
            "u",
            "numeric",
            [
                "0",
                "0.00000000005",
                "-0.00000000005",
                "0.33333333333333333333",
                "999999999999999999.4",
                "999999999999999999.99999999999",
                "100000000000000000000",
                "NaN",
                "-12.5",
                "1e-30",
            ]
        ),
        (
            "f",
            "double precision",
            ["0", "0.1", "1e-7", "3.3333333333333335", "123456789.12345678", "1e17", "-2.5", "NaN", "Infinity", "1e300"]
        ),
        ("r", "real", ["0", "0.1", "3.3333333", "16777217", "-2.5", "1e-20"]),
        (
            "t",
            "text",
            ["", " a ", "abc", "ABC", "Äpfel", "straße", "A%b_c\\", "😀é", "Ωμέγα", "привет", "\uE000", "\uFFFD", "10", "İı"]
        ),
        ("v", "character varying(20)", ["Zoë", "zoe", "b", "it's", "a b", "ÿŸ"]),
        ("c", "character(6)", ["ab", "abc   ", "", "ÄÖ"]),
        ("g", "uuid", ["00000000-0000-0000-0000-000000000001", "c0ffee00-0000-4000-8000-000000000000"]),
        (
            "d",
            "date",
            [
                "2026-11-28",
                "2024-02-29",
                "1900-03-01",
                "2000-01-01",
                "0001-01-01",
                "0044-03-15 BC",
                "9999-12-31",
                "20000-06-15",
                "5874897-12-31",
                "4713-11-24 BC",
                "infinity",
                "-infinity",
            ]
        ),
        (
            "m",
            "timestamp",
            [
                "2026-11-28 14:30:15.123456",
                "2000-01-01 00:00:00",
                "1999-12-31 23:59:59.5",
                "0001-01-01 00:00:01 BC",
                "294276-12-31 12:00:00",
                "infinity",
            ]
        ),
        ("z", "timestamp with time zone", ["2026-03-29 01:30:00+00", "1970-01-01 00:00:00+00", "2026-11-28 23:30:00+02"]),
        ("h", "time", ["00:00:00", "14:30:00", "23:59:59.999999", "24:00:00"]),
        ("y", "boolean", ["true", "false"]),
        ("dt", "character(8)", ["20260131", "20240229", "20230229", "00000000", "x", "19991231"]),
        ("yn", "character(1)", ["Y", "N", "y", "?", " "]),
        ("nr", "integer", ["0", "12345", "-250", "99"]),
        ("tn", "character varying(12)", ["1.234,50", "12", "-3,25", "x", "", "1.000"]),
    ];

    private readonly TestDatabase _database = new();
    private RecordModel _model = null!;
    private RuleScope _scope = null!;
    private Table _table = null!;
    private List<Dictionary<string, string?>> _rows = [];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await _database.InitializeAsync();
        await _database.ExecuteAsync(
            $"CREATE SCHEMA rules; CREATE TABLE rules.things (id integer PRIMARY KEY, {string.Join(", ", _columns.Select(column => $"{column.Name} {column.Type}"))})"
        );
        var random = new Random(1);
        for (var id = 1; id <= Rows; id++)
        {
            await using var insert = _database.Source.CreateCommand(
                $"INSERT INTO rules.things VALUES ($1, {string.Join(", ", _columns.Select((column, i) => $"${i + 2}::{column.Type}"))})"
            );
            insert.Parameters.Add(new NpgsqlParameter<int> { TypedValue = id });
            foreach (var (_, _, values) in _columns)
                insert.Parameters.Add(
                    new NpgsqlParameter
                    {
                        Value = random.Next(7) == 0 ? DBNull.Value : values[random.Next(values.Length)],
                        NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Unknown,
                    }
                );
            await insert.ExecuteNonQueryAsync(Token);
        }

        var snapshot = await _database.ReadSchemaAsync("rules");
        _table = snapshot.Tables.Single(table => table.Name.Name == "things");
        _model = RecordModel.Of(snapshot);
        var panel = new PanelDefinition
        {
            Slug = "things",
            Label = "Things",
            RecordLabel = "thing",
            Table = _table.Name,
            Title = "{id}",
            Columns =
            [
                .. _table.Columns.Select(column => new PanelColumn
                {
                    Name = column.Name,
                    Label = column.Name,
                    InForm = true,
                    InList = true,
                    Reading = ReadingOf(column.Name),
                }),
            ],
        };
        var porch = new PorchPanels(snapshot, [panel]);
        _scope = new RuleScope(porch.Bind(panel, sourceIsReadOnly: false)!, porch);
        await using var connection = await _database.Source.OpenConnectionAsync(Token);
        var names = _table.Columns.Select(column => column.Name).ToList();
        var rows = await new SourceReader(_model, connection).ReadAsync(
            _table,
            new RowRequest { Columns = names, Order = [new OrderBy("id", Descending: false)] },
            Token
        );
        _rows = rows.ConvertAll(row => RowValues.Of(_table, names, row));
    }

    public ValueTask DisposeAsync() => _database.DisposeAsync();

    [Fact]
    public async Task RandomExpressions_ComeToTheSame()
    {
        var (refused, differences, failed) = (0, new List<string>(), 0);
        await using var connection = await _database.Source.OpenConnectionAsync(Token);
        await using var context = _model.Open(connection);
        var first = int.Parse(Environment.GetEnvironmentVariable("PORCH_RULES_FROM") ?? "1", CultureInfo.InvariantCulture);
        for (var seed = first; seed < first + _count && differences.Count < 20; )
        {
            var record = _rows[seed / Together % Rows];
            var evaluator = new RuleEvaluator(new Values(record, _asking));
            var (fine, failing) = (
                new List<(string Text, Rule Rule, string? Value)>(),
                new List<(string Text, Rule Rule, RuleFailure Failure)>()
            );
            for (var i = 0; i < Together; i++, seed++)
            {
                var text = new RuleWriter(seed).Write();
                if (!RuleReader.TryRead(text, _scope, out var rule, out var problem))
                {
                    Assert.Matches("always|Null alone", problem!.Message);
                    refused++;
                    continue;
                }

                try
                {
                    fine.Add((text, rule!, RuleValue.ToText(evaluator.Evaluate(rule!))));
                }
                catch (RuleFailedException failure)
                {
                    failing.Add((text, rule!, failure.Failure));
                }
            }

            failed += failing.Count;
            if (fine.Count > 0)
                differences.AddRange(await DifferencesAsync(context, record, fine));
            foreach (var (text, rule, failure) in failing)
            {
                var (there, _, _) = await AskAsync(context, record, [rule]);
                if (there != failure.ToString())
                    differences.Add($"{record["id"]}: {text}\n   here {failure}, there {there}");
            }
        }

        Assert.True(differences.Count == 0, string.Join('\n', differences.Take(20)));
        // Neither what is refused nor what fails may be all that was tried.
        Assert.InRange(refused, 0, _count / 5);
        Assert.InRange(failed, _count / 100, _count / 2);
    }

    private async Task<List<string>> DifferencesAsync(
        DbContext context,
        Dictionary<string, string?> record,
        List<(string Text, Rule Rule, string? Value)> fine
    )
    {
        var (failure, values, sql) = await AskAsync(context, record, [.. fine.Select(one => one.Rule)]);
        var same = failure is null && fine.Zip(values).All(pair => pair.First.Value == Normal(pair.First.Rule, pair.Second));
        if (same)
            return [];
        if (failure is null && fine.Count == 1)
            return
            [
                .. fine.Zip(values)
                    .Where(pair => pair.First.Value != Normal(pair.First.Rule, pair.Second))
                    .Select(pair =>
                        $"{record["id"]}: {pair.First.Text}\n   here {pair.First.Value ?? "null"}, there {pair.Second ?? "null"}{(fine.Count == 1 ? "\n" + sql() : "")}"
                    ),
            ];
        if (fine.Count == 1)
            return [$"{record["id"]}: {fine[0].Text}\n   here {fine[0].Value ?? "null"}, there {failure}\n{sql()}"];
        var found = new List<string>();
        foreach (var one in fine)
            found.AddRange(await DifferencesAsync(context, record, [one]));
        return found;
    }

    private static string? Normal(Rule rule, string? there) =>
        there is not null && rule.Type is RuleType.Number ? RuleValue.ToText(RuleNumber.Read(there)) : there;

    private async Task<(string? Failure, List<string?> Values, Func<string> Sql)> AskAsync(
        DbContext context,
        Dictionary<string, string?> record,
        IReadOnlyList<Rule> rules
    )
    {
        var others = new OtherTables(_model);
        others.At(context);
        var columns = new RowColumns(_table, others);
        var make = new RuleToExpression(columns, what => SentValue.Of(RuleValue.ToText(_asking.Of(what)), typeof(string)));
        var one = new FilterToTest(columns).Make(new Core.Filters.Filter.EqualTo("id", record["id"]!));
        var query = context
            .Set<Row>(_model.EntityName(_table.Name))
            .Where(columns.Lambda<bool>(one.ToExpression()))
            .Select(
                columns.Lambda<List<string?>>(
                    Expression.ListInit(
                        Expression.New(typeof(List<string?>)),
                        rules.Select(rule => SqlText.Call(make.Make(rule)))
                    )
                )
            );
        try
        {
            return (null, await query.SingleAsync(Token), query.ToQueryString);
        }
        catch (PostgresException failure)
        {
            return (
                failure.SqlState switch
                {
                    PostgresErrorCodes.DivisionByZero => nameof(RuleFailure.DivisionByZero),
                    PostgresErrorCodes.NumericValueOutOfRange or PostgresErrorCodes.DatetimeFieldOverflow => nameof(
                        RuleFailure.OutOfRange
                    ),
                    PostgresErrorCodes.SubstringError => nameof(RuleFailure.NegativeLength),
                    _ => $"{failure.SqlState} {failure.MessageText}",
                },
                [],
                query.ToQueryString
            );
        }
    }

    private static Reading? ReadingOf(string column) =>
        column switch
        {
            "dt" => new DayReading { Pattern = "yyyyMMdd", None = ["00000000"] },
            "yn" => new YesNoReading { Yes = "Y", No = "N" },
            "nr" => new NumberReading { Decimals = 2 },
            "tn" => new TextNumberReading { DecimalMark = ",", ThousandsMark = "." },
            _ => null,
        };

    private sealed class Values(Dictionary<string, string?> record, RuleAsking asking) : IRuleValues
    {
        public string? Of(Rule.Field field) =>
            field.Column.Read(record[field.Column.Name]) is { Sort: ReadSort.Value } read ? read.Text : null;

        public object? Of(Rule.Aggregate aggregate) => throw new NotSupportedException();

        public RuleAsking Asking => asking;
    }
}
