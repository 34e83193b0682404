using PlainPorch.Core.Definition;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

public sealed class ReferenceFinderTests
{
    [Theory]
    [InlineData("owners", "id int", "boats", "id int, owner_id int", "boats.owner_id -> owners.id")]
    [InlineData("owners", "ownerid int", "boats", "boatid int, ownerid int", "boats.ownerid -> owners.ownerid")]
    [InlineData("owner", "id int", "boat", "id int, id_owner int", "boat.id_owner -> owner.id")]
    [InlineData("OWNERS", "OWNR_NO int", "BOATS", "BOAT_NO int, OWNR_NO int", "BOATS.OWNR_NO -> OWNERS.OWNR_NO")]
    [InlineData("auth_user", "id int", "post", "id int, user_id int", "post.user_id -> auth_user.id")]
    [InlineData("users", "uid big", "task", "id int, owner_uid big", "task.owner_uid -> users.uid")]
    [InlineData("persons", "id int", "report", "id int, approved_by int", "report.approved_by -> persons.id")]
    [InlineData("node", "id int", "edge", "id int, src_node_id int", "edge.src_node_id -> node.id")]
    public void Find_EmptyTables_GoesByTheNames(
        string target,
        string targetColumns,
        string table,
        string columns,
        string expected
    ) => Assert.Equal([expected], new MakeRows().Table(target, targetColumns).Table(table, columns).Held());

    [Theory]
    [InlineData("a", "id int, name text", "b", "id int, name text")]
    [InlineData("media_type", "id int", "alert", "id int, type int")]
    [InlineData("comments", "id int", "post", "id int, num_comments int")]
    [InlineData("session", "id big", "config", "id big, session int")]
    public void Find_NamesThatOnlyLookAlike_AreNoReference(string target, string targetColumns, string table, string columns) =>
        Assert.Empty(new MakeRows().Table(target, targetColumns).Table(table, columns).Held());

    [Fact]
    public void Find_ParentOfItsOwnKind_IsAReferenceToItself() =>
        Assert.Equal(["place.parent_id -> place.id"], new MakeRows().Table("place", "id int, parent_id int").Held());

    [Fact]
    public void Find_TwoModules_StaysWithinItsOwn() =>
        Assert.Equal(
            ["v4_pool.subnet_id -> v4_subnet.id", "v6_pool.subnet_id -> v6_subnet.id"],
            new MakeRows()
                .Table("v4_subnet", "id int")
                .Table("v6_subnet", "id int")
                .Table("v4_pool", "id int, subnet_id int")
                .Table("v6_pool", "id int, subnet_id int")
                .Held()
        );

    [Fact]
    public void Find_IdsThatOverlapByChance_GoesByTheName()
    {
        var schema = new MakeRows()
            .Table("owners", "id int, name text", MakeRows.Count(50, n => [$"{n}", $"Owner {n}"]))
            .Table("berths", "id int, name text", MakeRows.Count(50, n => [$"{n}", $"Berth {n}"]))
            .Table(
                "stays",
                "id int, owner_id int, berth_id int, nights int",
                MakeRows.Count(80, n => [$"{n}", $"{(n % 50) + 1}", $"{(n * 7 % 50) + 1}", $"{(n % 9) + 1}"])
            );
        Assert.Equal(["stays.berth_id -> berths.id", "stays.owner_id -> owners.id"], schema.Held());
    }

    [Fact]
    public void Find_ValuesThatTheNamedTableLacks_LowersIt()
    {
        var schema = new MakeRows()
            .Table("owners", "id int", MakeRows.Count(20, n => [$"{n}"]))
            .Table("boats", "id int, owner_id int", MakeRows.Count(20, n => [$"{n}", $"{n + 5000}"]));
        Assert.Empty(schema.Held());
    }

    [Fact]
    public void Find_ZeroAndBlank_MeanNone()
    {
        var schema = new MakeRows()
            .Table("owners", "id int", MakeRows.Count(20, n => [$"{n}"]))
            .Table("boats", "id int, owner_id int", MakeRows.Count(30, n => [$"{n}", n % 3 == 0 ? "0" : $"{(n % 20) + 1}"]));
        var reference = Assert.Single(schema.Find());
        Assert.Equal(1, reference.Coverage);
        Assert.True(reference.Confidence > 0.9);
    }

    [Fact]
    public void Find_TextWithLeadingZeros_IsReadAsNumber()
    {
        var schema = new MakeRows()
            .Table("meters", "meter_no int", MakeRows.Count(30, n => [$"{n + 1000}"]))
            .Table("readings", "reading_no int, meter_no text", MakeRows.Count(60, n => [$"{n}", $"00{(n % 30) + 1001}"]));
        var reference = Assert.Single(schema.Find(), found => found.Confidence >= ReferenceFinder.Threshold);
        Assert.Equal(ValueConversion.TextToInteger, reference.Conversion);
    }

    [Fact]
    public void Find_SharedCodeTable_NamesTheList()
    {
        string?[][] codes =
        [
            ["RIG", "SLP"],
            ["RIG", "KTC"],
            ["RIG", "CUT"],
            ["PAY", "CASH"],
            ["PAY", "CARD"],
            ["PAY", "BANK"],
        ];
        var schema = new MakeRows()
            .Table("codes", "code_type text, code text", codes, key: ["code_type", "code"])
            .Table("boats", "boat_no int, rig_cd text", MakeRows.Count(30, n => [$"{n}", codes[n % 3][1]]));
        var reference = Assert.Single(schema.Find());
        Assert.Equal(new Discriminator("code_type", "RIG"), reference.Where);
        Assert.True(reference.Confidence > 0.9);
    }

    [Fact]
    public void Find_KeyThatExtendsAnotherTable_RefersToItAndNotBack() =>
        Assert.Equal(
            ["host_inventory.hostid -> hosts.hostid"],
            new MakeRows().Table("hosts", "hostid int").Table("host_inventory", "hostid int, note text").Held()
        );

    [Fact]
    public void Find_CommentThatNamesTheTable_Counts()
    {
        var schema = new MakeRows().Table(
            "owners",
            "owner_no int, agent_no int",
            MakeRows.Count(40, n => [$"{n}", n % 4 == 0 ? $"{(n % 9) + 1}" : null]),
            comment: "Another owner who acts for this one"
        );
        Assert.Equal(["owners.agent_no -> owners.owner_no"], schema.Held());
    }

    [Fact]
    public void Find_KeyOfNoTableByName_RefersToWhatTheOthersReferToMost()
    {
        var schema = new MakeRows()
            .Table("person", "id_person int", MakeRows.Count(90, n => [$"{n}"]))
            .Table("church", "id_church int", MakeRows.Count(8, n => [$"{n}"]))
            .Table("baptism", "id_baptism int, id_person int", MakeRows.Count(60, n => [$"{n}", $"{n}"]))
            .Table("wedding", "id_wedding int, id_groom int, line_no int", MakeRows.Count(30, n => [$"{n}", $"{n * 3}", $"{n}"]));
        Assert.Equal(["baptism.id_person -> person.id_person", "wedding.id_groom -> person.id_person"], schema.Held());
    }

    [Fact]
    public void Find_IdBesideItsKind_IsLeftAlone()
    {
        var schema = new MakeRows()
            .Table("ticket", "id int", MakeRows.Count(60, n => [$"{n}"]))
            .Table("comment", "id int, ticket_id int", MakeRows.Count(60, n => [$"{n + 900}", $"{n}"]))
            .Table(
                "file",
                "id int, subject_type text, subject_id int",
                MakeRows.Count(40, n => [$"{n + 5000}", "ticket", $"{n}"])
            );
        Assert.Equal(["comment.ticket_id -> ticket.id"], schema.Held());
    }

    [Fact]
    public void Find_AnyColumn_GetsOneTargetAtTheMost()
    {
        var schema = new MakeRows()
            .Table("users", "id int")
            .Table("app_users", "id int")
            .Table("old_users", "id int")
            .Table("post", "id int, user_id int");
        Assert.Single(schema.Find(), reference => reference.Table.Name == "post");
    }
}
