using CsCheck;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Tests.Survey;

/// <summary>Labels that a person need not be ashamed of.</summary>
public sealed class SchemaLabelsTests
{
    // What else stands in the schema, so that it is seen to be English.
    private const string Others =
        "id int, start date, author_name text, custom_field text, member_number text, auth_method text, service_state text, "
        + "group_name text, station_code text, finish date, comment text, reason text, category text, owner_name text";

    [Theory]
    [InlineData("start", "Start")]
    [InlineData("name", "Name")]
    [InlineData("auth_pass", "Auth pass")]
    [InlineData("no_snapshots", "Number of snapshots")]
    [InlineData("num_comments", "Number of comments")]
    [InlineData("member_no", "Member number")]
    [InlineData("cat", "Cat")]
    [InlineData("mode", "Mode")]
    public void ForColumn_WordOrItsBeginning_IsNotTouched(string column, string label) => Assert.Equal(label, ForColumn(column));

    [Theory]
    [InlineData("timeestimated", "Time estimated")]
    [InlineData("lastupdatedby", "Last updated by")]
    [InlineData("customfieldvalue", "Custom field value")]
    [InlineData("freespace", "Free space")]
    [InlineData("therapist", "Therapist")]
    [InlineData("username", "Username")]
    [InlineData("qzxvortel", "Qzxvortel")]
    [InlineData("thingsid", "Things ID")]
    public void ForColumn_RunTogetherWords_ArePartedWhereThatIsSure(string column, string label) =>
        Assert.Equal(label, ForColumn(column));

    [Theory]
    [InlineData("ipv4_address", "IPv4 address")]
    [InlineData("snmpv3_level", "SNMPv3 level")]
    [InlineData("sha1_sum", "SHA1 sum")]
    [InlineData("show_3d", "Show 3D")]
    [InlineData("site_url", "Site URL")]
    [InlineData("address2", "Address 2")]
    [InlineData("x509_cert", "X509 cert")]
    public void ForColumn_Terms_KeepTheirForm(string column, string label) => Assert.Equal(label, ForColumn(column));

    [Theory]
    [InlineData("veh_cd", "Vehicle code", "Vehicle code")]
    [InlineData("veh_cd", "Which car it is, as on the plate", "Veh code")]
    [InlineData("dsc_pct", "Discount percent.", "Discount percent")]
    public void ForColumn_CommentThatSaysTheNameInFull_IsTheLabel(string column, string comment, string label) =>
        Assert.Equal(label, ForColumn(column, comment));

    [Theory]
    [InlineData("boat", "Boats", "boat")]
    [InlineData("tbl_company", "Companies", "company")]
    [InlineData("order_history", "Order history", "order history")]
    [InlineData("URL", "URLs", "URL")]
    [InlineData("customfieldvalue", "Custom field values", "custom field value")]
    [InlineData("lines_ignored", "Lines ignored", "lines ignored")]
    public void ForTable_AnyName_IsInThePluralAndOneOfItInTheSingular(string table, string label, string record)
    {
        var schema = new MakeRows().Table("others", Others).Table(table, "id int, name text");
        var made = new Vocabulary(schema.Snapshot.Tables).Labels.ForTable(new TableName("public", table));
        Assert.Equal((label, record), (made, Labels.ForRecord(made)));
    }

    [Fact]
    public void ForTable_PrefixThatSaysNothing_IsDroppedWhereTheRestIsItsOwn()
    {
        var schema = new MakeRows().Table("others", Others);
        foreach (var name in new[] { "qx_action", "qx_menu", "qx_model", "web_menu", "web_page", "web_shop" })
            schema.Table(name, "id int, name text");
        var labels = new Vocabulary(schema.Snapshot.Tables).Labels;
        Assert.Equal(
            ["Actions", "Qx menus", "Models", "Web menus", "Web pages"],
            new[] { "qx_action", "qx_menu", "qx_model", "web_menu", "web_page" }.Select(name =>
                labels.ForTable(new TableName("public", name))
            )
        );
    }

    [Fact]
    public void ForTable_ModuleOfSeveralWords_IsDroppedWhereTheRestIsItsOwn()
    {
        var schema = new MakeRows().Table("others", Others);
        foreach (var name in new[] { "test_results_app_chart", "test_results_app_query", "test_results_app_suite" })
            schema.Table(name, "id int, name text");
        var labels = new Vocabulary(schema.Snapshot.Tables).Labels;
        Assert.Equal("Charts", labels.ForTable(new TableName("public", "test_results_app_chart")));
    }

    [Fact]
    public void ForColumn_BeginningThatAllColumnsOfATableShare_IsLeftOut()
    {
        var schema = new MakeRows()
            .Table("orders", "ord_id int, ord_date date, ord_total money, ord_note text")
            .Table("lines", "lin_id int, lin_price money, lin_text text, lin_count int");
        var labels = new Vocabulary(schema.Snapshot.Tables).Labels;
        Assert.Equal(
            ["Ord ID", "Date", "Total", "Note"],
            schema.Snapshot.Tables[0].Columns.Select(column => labels.ForColumn(schema.Snapshot.Tables[0].Name, column))
        );
    }

    [Fact]
    public void ForTable_SchemaInAnotherLanguage_IsLeftAlone()
    {
        var schema = new MakeRows()
            .Table("kunden", "kundennr int, nachname text, strasse text, ortschaft text, geburtsdatum date")
            .Table("auftraege", "auftragsnr int, bezeichnung text, betrag money, faelligkeit date, kundennr int")
            .Table("rechnung", "rechnungsnr int, zahlung date, mahnstufe int, waehrung text");
        var labels = new Vocabulary(schema.Snapshot.Tables).Labels;
        Assert.Equal(["Kunden", "Auftraege", "Rechnung"], schema.Snapshot.Tables.Select(table => labels.ForTable(table.Name)));
        Assert.Equal(
            "Geburtsdatum",
            labels.ForColumn(schema.Snapshot.Tables[0].Name, schema.Snapshot.Tables[0].Find("geburtsdatum")!)
        );
    }

    [Fact]
    public void ForColumn_ColumnsOfATable_NeverShareALabel() =>
        Gen.OneOfConst("name", "Name", "NAME", "_name", "name_", "str_name", "x_name", "name1", "name_1", "nm", "id", "__id")
            .HashSet[1, 8]
            .Sample(names =>
            {
                var schema = new MakeRows().Table("things", string.Join(", ", names.Select(name => $"{name} text")));
                var table = schema.Snapshot.Tables[0];
                var labels = new Vocabulary([table]).Labels;
                var made = table.Columns.Select(column => labels.ForColumn(table.Name, column)).ToList();
                Assert.Equal(made.Count, made.Distinct().Count());
            });

    private static string ForColumn(string name, string? comment = null)
    {
        var schema = new MakeRows().Table("others", Others).Table("things", $"key int, {name} text", comment: comment);
        var table = schema.Snapshot.Tables[1];
        return new Vocabulary(schema.Snapshot.Tables).Labels.ForColumn(table.Name, table.Columns[1]);
    }
}
