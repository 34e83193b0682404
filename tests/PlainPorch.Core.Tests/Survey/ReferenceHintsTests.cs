using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

/// <summary>References by what is written down elsewhere than in names: views, sequences, keys of several columns.</summary>
public sealed class ReferenceHintsTests
{
    [Theory]
    [InlineData(" SELECT b.name FROM (boats b JOIN people p ON ((b.skip = p.nr)));")]
    [InlineData(" SELECT b.name FROM boats b, people p WHERE (p.nr = b.skip);")]
    [InlineData(" SELECT boats.name FROM (public.boats LEFT JOIN people p ON (((boats.skip)::integer = p.nr)));")]
    public void Find_ViewThatJoins_IsEvidence(string sql)
    {
        var made = new MakeRows().Table("people", "nr int, name text").Table("boats", "id int, skip int, name text");
        Assert.Empty(made.Held());
        var view = new Table
        {
            Name = new TableName("public", "v"),
            Kind = TableKind.View,
            Columns = [Make.Column("name")],
            ViewSql = sql,
        };
        var snapshot = made.Snapshot with { Tables = [.. made.Snapshot.Tables, view] };
        var rows = made.Rows.Append(new(view.Name, TableRows.None(view))).ToDictionary();
        var found = ReferenceFinder.Find(snapshot, rows).Single(reference => reference.Confidence >= ReferenceFinder.Threshold);
        Assert.Equal(("boats", "skip", "people"), (found.Table.Name, found.Columns[0], found.Target.Name));
        Assert.Contains("a view joins them", found.Evidence, StringComparison.Ordinal);
    }

    [Fact]
    public void ViewJoins_QuotedNamesOfAnotherSchema_AreRead()
    {
        var name = new TableName("Old Place", "BOATS");
        var boats = new Table
        {
            Name = name,
            Kind = TableKind.Table,
            Columns = [Make.Column("OWNR NO"), Make.Column("NO")],
        };
        var view = new Table
        {
            Name = new TableName("public", "v"),
            Kind = TableKind.View,
            Columns = [],
            ViewSql = """ SELECT 1 FROM ("Old Place"."BOATS" a JOIN "Old Place"."BOATS" b ON ((a."OWNR NO" = b."NO")));""",
        };
        var joins = ViewJoins.Find(
            new SchemaSnapshot
            {
                TakenAt = default,
                ServerVersion = "15",
                Tables = [boats, view],
            }
        );
        Assert.Contains((name, "OWNR NO", name, "NO"), joins);
    }

    [Fact]
    public void Find_KeyOfSeveralColumns_IsReferredToAsAWhole()
    {
        var made = new MakeRows()
            .Table("site", "site_cd text, name text", MakeRows.Count(4, n => [$"S{n}", $"Site {n}"]))
            .Table(
                "bin",
                "site_cd text, bin_no int, tonnes int",
                MakeRows.Count(40, n => [$"S{1 + (n % 4)}", $"{1 + (n / 4)}", "9"]),
                key: ["site_cd", "bin_no"]
            )
            .Table(
                "level",
                "id int, site_cd text, bin_no int",
                MakeRows.Count(60, n => [$"{n}", $"S{1 + ((1 + (n % 40)) % 4)}", $"{1 + ((1 + (n % 40)) / 4)}"])
            );
        var found = made.Find().Single(reference => reference.Columns.Count == 2);
        Assert.Equal(("level", "bin"), (found.Table.Name, found.Target.Name));
        Assert.True(found.Confidence > 0.8, found.Evidence);
    }

    [Fact]
    public void Find_CombinationsThatAreNotThere_AreNoReference()
    {
        var made = new MakeRows()
            .Table("bin", "site_cd text, bin_no int", MakeRows.Count(40, n => [$"S{n}", $"{n}"]), key: ["site_cd", "bin_no"])
            .Table("level", "id int, site_cd text, bin_no int", MakeRows.Count(60, n => [$"{n}", $"S{n % 4}", $"{90 + n}"]));
        Assert.DoesNotContain(made.Find(), reference => reference.Columns.Count == 2);
    }

    [Fact]
    public void Find_TwoJoinsOfTheSameTables_DoNotReferToEachOther()
    {
        var made = new MakeRows()
            .Table("boat", "id int")
            .Table("kit", "id int")
            .Table("boat_kit", "boat_id int, kit_id int", key: ["boat_id", "kit_id"])
            .Table("kit_check", "id int, boat_id int, kit_id int");
        Assert.DoesNotContain(made.Find(), reference => reference.Columns.Count == 2);
    }

    [Fact]
    public void Find_SameSequenceForBoth_IsEvidence()
    {
        var made = new MakeRows().Table("ledger", "id int, note text").Table("voucher", "vnr int, entry int");
        Column Numbered(Column column, string name) =>
            column.Name == name ? column with { DefaultSql = "nextval('one'::regclass)" } : column;
        var tables = made
            .Snapshot.Tables.Select(table =>
                table with
                {
                    Columns = [.. table.Columns.Select(column => Numbered(column, table.Name.Name == "ledger" ? "id" : "entry"))],
                }
            )
            .ToList();
        var snapshot = made.Snapshot with { Tables = tables };
        var found = ReferenceFinder
            .Find(snapshot, tables.ToDictionary(table => table.Name, table => TableRows.None(table)))
            .Single(reference => reference.Confidence >= ReferenceFinder.Threshold);
        Assert.Equal(("voucher", "entry", "ledger"), (found.Table.Name, found.Columns[0], found.Target.Name));
    }

    [Fact]
    public void Find_CodesWrittenInTwoWays_AreComparedAlike()
    {
        var found = new MakeRows()
            .Table("rig", "rig_cd text, label text", MakeRows.Count(8, n => [$"RIG{n}", $"Rig {n}"]))
            .Table(
                "boat",
                "id int, rig_cd text",
                MakeRows.Count(60, n => [$"{n}", n % 2 == 0 ? $"rig{1 + (n % 8)} " : $"RIG{1 + (n % 8)}"])
            )
            .Find()
            .Single(reference => reference.Confidence >= ReferenceFinder.Threshold);
        Assert.Equal((ValueConversion.TrimmedAnyCase, 1.0), (found.Conversion, found.Coverage));
    }

    [Fact]
    public void Find_InitialsOfATable_AreItsName() =>
        Assert.Equal(
            ["receipt.po_id -> purchase_order.id"],
            new MakeRows().Table("purchase_order", "id int, placed date").Table("receipt", "id int, po_id int").Held()
        );

    [Theory]
    [InlineData(
        "usergroups",
        "id int, name text",
        "hstgrp",
        "groupid int, name text",
        "rights",
        "rightid int, groupid int",
        "rights.groupid -> hstgrp.groupid"
    )]
    [InlineData(
        "problem",
        "eventid int, name text",
        "events",
        "eventid int, clock int",
        "problem_tag",
        "problemtagid int, eventid int",
        "problem.eventid -> events.eventid|problem_tag.eventid -> problem.eventid"
    )]
    [InlineData(
        "user",
        "id int, name text",
        "nonlocal_user",
        "user_id int, x text",
        "token",
        "id int, user_id int",
        "token.user_id -> user.id"
    )]
    public void Find_KeysOfOneName_GoToTheTableThatIsMeant(
        string first,
        string firstColumns,
        string second,
        string secondColumns,
        string table,
        string columns,
        string expected
    ) =>
        Assert.Equal(
            expected.Split('|'),
            new MakeRows().Table(first, firstColumns).Table(second, secondColumns).Table(table, columns).Held()
        );
}
