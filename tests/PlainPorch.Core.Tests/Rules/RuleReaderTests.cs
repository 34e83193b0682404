using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Tests.Rules;

/// <summary>What expressions mean, and what is said of those that cannot be used.</summary>
public sealed class RuleReaderTests
{
    private static readonly RuleScope _scope = Harbour();

    private static readonly Dictionary<string, string?> _stay = new()
    {
        ["stay_no"] = "7",
        ["arrives"] = "2026-05-01",
        ["departs"] = "2026-05-04",
        ["price"] = "12.50",
        ["note"] = null,
        ["boat_no"] = "3",
        ["paid"] = "true",
    };

    [Theory]
    [InlineData("departs - arrives", "3")]
    [InlineData("\"Nightly price\" * (departs - arrives)", "37.5")]
    [InlineData("1 + 2 * 3 - 4 / 2", "5")]
    [InlineData("-2 * -2", "4")]
    [InlineData("10 / 4", "2.5")]
    [InlineData("1 / 3", "0.3333333333")]
    [InlineData("2.5 || ''", "!0-3 A text is needed")]
    [InlineData("cast(2.50 as text) || 'x'", "2.5x")]
    [InlineData("'it''s ' || upper('élan')", "it's ÉLAN")]
    [InlineData("not departs < arrives and paid", "true")]
    [InlineData("note is null or price > 100", "true")]
    [InlineData("note = 'x'", null)]
    [InlineData("note = 'x' and 1 = 2", "false")]
    [InlineData("coalesce(note, 'none')", "none")]
    [InlineData("case when price > 10 then 'dear' else 'cheap' end", "dear")]
    [InlineData("case stay_no when 1 then 'one' when 7 then 'seven' end", "seven")]
    [InlineData("price between 10 and 20", "true")]
    [InlineData("price not in (1, 2, null)", null)]
    [InlineData("note is distinct from 'x'", "true")]
    [InlineData("extract(month from arrives)", "5")]
    [InlineData("arrives + 31", "2026-06-01")]
    [InlineData("add_months(date '2024-01-31', 1)", "2024-02-29")]
    [InlineData("current_date - arrives", "211")]
    [InlineData("current_user like 'E_a'", "true")]
    [InlineData("cast(arrives as timestamp) < timestamp '2026-05-01 00:01'", "true")]
    [InlineData("round(2.345, 2)", "2.35")]
    [InlineData("round(-2.5)", "-3")]
    [InlineData("mod(-7, 3)", "-1")]
    [InlineData("substring('harbour', 2, 3)", "arb")]
    [InlineData("greatest(note, 'b', 'a')", "b")]
    [InlineData("STAY_NO = 7 AND \"stay_no\" = 7", "true")]
    public void AnExpression_ComesToWhatSqlSays(string text, string? expected)
    {
        if (expected is ['!', ..])
        {
            Assert.StartsWith(expected[1..], Refused(text), StringComparison.Ordinal);
            return;
        }

        Assert.True(RuleReader.TryRead(text, _scope, out var rule, out var problem), problem?.Message);
        Assert.Equal(expected, RuleValue.ToText(new RuleEvaluator(new Stay()).Evaluate(rule!)));
    }

    [Theory]
    [InlineData("", "0-0 Write an expression")]
    [InlineData("arrives >", "9-9 Something is missing at the end.")]
    [InlineData("arrives > > departs", "10-11 “>” is not expected here.")]
    [InlineData("(price", "6-6 Something is missing at the end.")]
    [InlineData("price)", "5-6 “)” is not expected here.")]
    [InlineData("note = 'open", "7-8 This text is never closed.")]
    [InlineData("arives > departs", "0-6 Stays has no column “arives”. Perhaps arrives is meant.")]
    [InlineData("\"Nightly prise\" > 1", "0-15 Stays has no column “Nightly prise”. Perhaps \"Nightly price\" is meant.")]
    [InlineData("pg_sleep(10) is null", "0-8 There is no function “pg_sleep”.")]
    [InlineData("roun(price)", "0-4 There is no function “roun”. Perhaps round is meant.")]
    [InlineData("round(price, 1, 2)", "0-18 round takes 1 or 2 values, not 3.")]
    [InlineData("price + note", "8-12 A number is needed here; this is a text.")]
    [InlineData("arrives + departs", "0-7 A number is needed here; this is a date.")]
    [InlineData("price > 'x'", "8-11 A number is needed here; this is a text.")]
    [InlineData("note like price", "10-15 A text is needed here; this is a number.")]
    [InlineData("note like note", "10-14 A pattern is a fixed text")]
    [InlineData("note like '%%%%%%%%%%%'", "10-23 A pattern has at most 10")]
    [InlineData("date '2026-02-30'", "0-17 There is no such date.")]
    [InlineData("price > 1 / 0", "8-13 Something is divided by zero. It would always fail")]
    [InlineData("1000000000000000000 > price", "0-19 Numbers have at most 18 digits")]
    [InlineData("secret_word = 'x'", "0-11 Stays has no column “secret_word”.")]
    [InlineData("boat.owner > 1", "5-10 Boats has no column “owner”.")]
    [InlineData("price.x = 1", "0-5 Nightly price refers to no other record")]
    [InlineData("photo = 'x'", "0-5 Nothing but whether it is there")]
    [InlineData("null", "0-4 It is always null.")]
    [InlineData("price::text", "5-6 A value becomes another type by cast")]
    [InlineData("price > 1; drop table stays", "9-10 An expression is one value, without a semicolon.")]
    [InlineData("sum(price)", "4-9 Name the related records and their column")]
    [InlineData("count(boats)", "6-11 Nothing called “boats” refers to Stays.")]
    public void WhatCannotBeUsed_IsRefusedAtItsPlace_WithARemedy(string text, string expected) =>
        Assert.StartsWith(expected, Refused(text), StringComparison.Ordinal);

    [Theory]
    [InlineData("(", ")")]
    [InlineData("case when paid then ", " else 1 end")]
    [InlineData("abs(", ")")]
    [InlineData("not not ", "")]
    [InlineData("- ", "")]
    [InlineData("1 + ", "")]
    public void WhatIsBuiltTooDeep_IsRefused_AndNothingFallsOver(string before, string after)
    {
        var times = 4_000 / (before.Length + after.Length) - 1;
        var text = string.Concat(Enumerable.Repeat(before, times)) + "1" + string.Concat(Enumerable.Repeat(after, times));
        Assert.Contains("Too many parts", Refused(text), StringComparison.Ordinal);
        Assert.Contains("at most 4,000 characters", Refused(new string(' ', 10_000) + "1"), StringComparison.Ordinal);
    }

    [Fact]
    public void ALookup_IsFollowed_ByColumnLabelOrRecord()
    {
        foreach (var text in new[] { "boat_no.loa", "\"Boat\".\"Length\"", "boat.loa" })
        {
            Assert.True(RuleReader.TryRead(text, _scope, out var rule, out var problem), problem?.Message);
            var field = Assert.IsType<Rule.Field>(rule);
            Assert.Equal(("boat_no", "loa"), (field.Of.Key, field.Column.Name));
        }
    }

    [Fact]
    public void RelatedRecords_AreReckonedWith_OfTheRecordAndOfThoseItRefersTo()
    {
        Assert.True(
            RuleReader.TryRead(
                "exists(boat.stays) filter (where stay_no <> record.stay_no and arrives < record.departs)",
                _scope,
                out var rule,
                out var problem
            ),
            problem?.Message
        );
        var aggregate = Assert.IsType<Rule.Aggregate>(rule);
        Assert.Equal(
            ("boat_no", "stays", RuleType.Truth),
            (aggregate.Of.Key, aggregate.Related.Panel.Definition.Slug, aggregate.Type)
        );
        Assert.Equal(["boat_no"], rule!.Columns());
        Assert.True(RuleReader.TryRead("sum(boat.stays.price)", _scope, out var sum, out _));
        Assert.Equal(RuleType.Number, sum!.Type);
        Assert.StartsWith("15-19 A number is needed", Refused("sum(boat.stays.note)"), StringComparison.Ordinal);
    }

    private static string Refused(string text)
    {
        Assert.False(RuleReader.TryRead(text, _scope, out _, out var problem), text);
        return $"{problem!.Place.Start}-{problem.Place.End} {problem.Message}";
    }

    private static RuleScope Harbour()
    {
        var boats = new Table
        {
            Name = new TableName("public", "boats"),
            Kind = TableKind.Table,
            Columns =
            [
                Make.Column("boat_no", ValueKind.Integer, nullable: false),
                Make.Column("name"),
                Make.Column("loa", ValueKind.Decimal),
            ],
            Keys = [Make.Primary("boat_no")],
        };
        var stays = new Table
        {
            Name = new TableName("public", "stays"),
            Kind = TableKind.Table,
            Columns =
            [
                Make.Column("stay_no", ValueKind.Integer, nullable: false),
                Make.Column("arrives", ValueKind.Date),
                Make.Column("departs", ValueKind.Date),
                Make.Column("price", ValueKind.Decimal),
                Make.Column("note"),
                Make.Column("boat_no", ValueKind.Integer),
                Make.Column("paid", ValueKind.Boolean),
                Make.Column("photo", ValueKind.Binary),
                Make.Column("secret_word"),
            ],
            Keys = [Make.Primary("stay_no")],
        };
        var porch = new PorchPanels(
            Make.Snapshot(boats, stays),
            [Panel("boats", "Boats", "boat", boats), Panel("stays", "Stays", "stay", stays)]
        );
        return new RuleScope(porch.Bind(porch.Find("stays")!, sourceIsReadOnly: false)!, porch);
    }

    private static PanelDefinition Panel(string slug, string label, string record, Table table) =>
        new()
        {
            Slug = slug,
            Label = label,
            RecordLabel = record,
            Table = table.Name,
            Title = $"{{{table.Columns[0].Name}}}",
            Columns =
            [
                .. table.Columns.Select(column => new PanelColumn
                {
                    Name = column.Name,
                    Label = column.Name switch
                    {
                        "price" => "Nightly price",
                        "boat_no" when slug == "stays" => "Boat",
                        "loa" => "Length",
                        _ => column.Name,
                    },
                    InForm = true,
                    IsSecret = column.Name == "secret_word",
                    Lookup =
                        column.Name == "boat_no" && slug == "stays"
                            ? new Lookup { Table = new TableName("public", "boats"), Key = "boat_no" }
                            : null,
                }),
            ],
        };

    private sealed class Stay : IRuleValues
    {
        public RuleAsking Asking { get; } = new(new DateTime(2026, 11, 28, 0, 0, 0, DateTimeKind.Unspecified), "Eva");

        public string? Of(Rule.Field field) => _stay[field.Column.Name];

        public object? Of(Rule.Aggregate aggregate) => throw new NotSupportedException();
    }
}
