using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace PlainPorch.Data.Tests.Api;

/// <summary>
/// Values travel unchanged in both directions, those at the limits of every type that PostgreSQL ships included.
/// </summary>
public sealed class ValueLimitTests(ApiFixture api) : IClassFixture<ApiFixture>
{
    // The least, the greatest, and what is odd, of each type.
    private static readonly (string Type, string[] Values)[] _types =
    [
        ("boolean", ["true", "false"]),
        ("smallint", ["-32768", "-1", "0", "32767"]),
        ("integer", ["-2147483648", "0", "2147483647"]),
        ("bigint", ["-9223372036854775808", "9007199254740993", "9223372036854775807"]),
        (
            "numeric",
            [
                "NaN",
                "Infinity",
                "-Infinity",
                "0.00",
                "-0.5",
                "1.10",
                "12345678901234567890123456789012345678901234567890.000000000000000000000000000000000001",
                "0.0000000000000000000000000000000000000001",
            ]
        ),
        ("numeric(10,2)", ["NaN", "-99999999.99", "99999999.99", "0.00", "1.50"]),
        ("numeric(28,10)", ["NaN", "999999999999999999.9999999999", "-0.0000000001"]),
        ("numeric(3,5)", ["0.00999", "-0.00001", "0.00000"]),
        ("numeric(5,-2)", ["9999900", "-100", "0"]),
        ("real", ["NaN", "Infinity", "-Infinity", "3.4028235e+38", "1e-45", "-0", "0.1", "16777216", "1e+22"]),
        (
            "double precision",
            [
                "NaN",
                "Infinity",
                "-Infinity",
                "1.7976931348623157e+308",
                "5e-324",
                "-0",
                "0.1",
                "9007199254740993",
                "1e+22",
                "123456789012345680",
            ]
        ),
        ("money", ["-92233720368547758.08", "92233720368547758.07", "0"]),
        ("oid", ["0", "4294967295"]),
        ("xid", ["3", "4294967295"]),
        ("xid8", ["3", "18446744073709551615"]),
        ("cid", ["0", "4294967295"]),
        ("tid", ["(0,1)", "(4294967295,65535)"]),
        (
            "text",
            [
                "",
                " ",
                "  both ends  ",
                "\n",
                "a\r\nb",
                "\t",
                "=1+1",
                "infinity",
                "null",
                "é e\u0301",
                "\U0001F600\U0001F468\u200D\U0001F469",
                "\u202e",
                "'\"\\%_{}[],;:",
                "constructor",
            ]
        ),
        ("varchar(4)", ["", "abcd", "\U0001F600\U0001F600\U0001F600\U0001F600", "a  "]),
        ("char(4)", ["", "ab", "abcd"]),
        ("\"char\"", ["", "a", "\\300"]),
        ("name", ["", "x"]),
        (
            "date",
            [
                "-infinity",
                "infinity",
                "0001-01-01",
                "9999-12-31",
                "4713-11-24 BC",
                "0044-03-15 BC",
                "0001-12-31 BC",
                "0005-02-29 BC",
                "200000-01-01",
                "5874897-12-31",
                "2024-02-29",
                "1582-10-10",
            ]
        ),
        ("time", ["00:00:00", "23:59:59.999999", "24:00:00", "12:30:00.5"]),
        ("time(0)", ["00:00:00", "23:59:59"]),
        ("timetz", ["00:00:00+15:59:59", "24:00:00-15:59:59", "12:00:00+02"]),
        (
            "timestamp",
            [
                "-infinity",
                "infinity",
                "0001-01-01 00:00:00",
                "9999-12-31 23:59:59.999999",
                "4713-11-24 00:00:00 BC",
                "0044-03-15 12:00:00.5 BC",
                "10000-01-01 00:00:00",
                "294276-12-31 23:59:59.999999",
                "2026-03-29 02:30:00",
            ]
        ),
        ("timestamp(3)", ["9999-12-31 23:59:59.999", "0001-01-01 00:00:00.001"]),
        (
            "timestamptz",
            [
                "-infinity",
                "infinity",
                "0001-01-01 00:00:00+00",
                "9999-12-31 23:59:59.999999+00",
                "4713-11-24 00:00:00+00 BC",
                "0044-03-15 12:00:00.5+00 BC",
                "10000-01-01 00:00:00+00",
                "294276-12-31 23:59:59.999999+00",
            ]
        ),
        (
            "interval",
            ["178000000 years", "-178000000 years", "1 mon -1 day 00:00:00.000001", "00:00:00", "2562047788:00:54.775807"]
        ),
        ("uuid", ["00000000-0000-0000-0000-000000000000", "ffffffff-ffff-ffff-ffff-ffffffffffff"]),
        ("bit(3)", ["000", "101"]),
        ("bit varying", ["", "1", "010"]),
        ("inet", ["0.0.0.0", "192.168.0.1", "192.168.0.1/24", "::", "::ffff:1.2.3.4", "2001:db8::1/64"]),
        ("cidr", ["0.0.0.0/0", "192.168.0.0/24", "2001:db8::/32"]),
        ("macaddr", ["00:00:00:00:00:00", "ff:ff:ff:ff:ff:ff"]),
        ("macaddr8", ["00:00:00:00:00:00:00:00"]),
        ("json", ["{}", "null", "[1, 2.50,  3]", "\"\\u00e9\"", "{\"a\":1,\"a\":2}", "12345678901234567890.10"]),
        ("jsonb", ["{}", "null", "[1, 2.50]", "{\"__proto__\": 1}", "12345678901234567890.10"]),
        ("jsonpath", ["$", "$.\"a\"[*]?(@ > 1)"]),
        ("xml", ["<a/>", "<a b=\"c\">&lt;</a>", "text only"]),
        ("tsvector", ["", "'a':1 'b':2A", "'it''s'"]),
        ("tsquery", ["", "'a' & 'b'", "!'a' <-> 'b'"]),
        ("point", ["(0,0)", "(1e+300,-1e-300)", "(Infinity,NaN)"]),
        ("line", ["{1,-1,0}"]),
        ("lseg", ["[(0,0),(1,1)]"]),
        ("box", ["(1,1),(0,0)"]),
        ("path", ["((0,0),(1,1))", "[(0,0),(1,1)]"]),
        ("polygon", ["((0,0),(1,1),(2,0))"]),
        ("circle", ["<(0,0),5>"]),
        ("int4range", ["empty", "[1,10)", "(,)", "[2147483647,)"]),
        ("int8range", ["empty", "[-9223372036854775808,0)"]),
        ("numrange", ["(0.5,1.50]", "[,NaN]"]),
        ("daterange", ["empty", "[2026-01-01,infinity)", "[\"0044-03-15 BC\",2026-01-01)"]),
        ("tsrange", ["empty", "(\"2026-01-01 00:00:00\",\"9999-12-31 23:59:59.999999\"]"]),
        ("tstzrange", ["(-infinity,infinity)"]),
        ("int4multirange", ["{}", "{[1,3),[5,8)}"]),
        ("int8multirange", ["{[1,3)}"]),
        ("nummultirange", ["{[1.5,2.5]}"]),
        ("datemultirange", ["{[2026-01-01,2026-02-01)}"]),
        ("tsmultirange", ["{}"]),
        ("tstzmultirange", ["{}"]),
        ("pg_lsn", ["0/0", "FFFFFFFF/FFFFFFFF"]),
        ("pg_snapshot", ["10:20:10,14,15"]),
        ("txid_snapshot", ["10:20:10,14,15"]),
        ("regclass", ["pg_class"]),
        ("regtype", ["integer", "-"]),
        ("regproc", ["-"]),
        ("regrole", ["-"]),
        ("regnamespace", ["pg_catalog"]),
        ("regconfig", ["simple"]),
        ("regdictionary", ["simple"]),
        ("regcollation", ["\"C\""]),
        ("refcursor", ["", "c"]),
        ("aclitem", ["=r/porch"]),
        ("edge.day", ["infinity", "0044-03-15 BC", "9999-12-31"]),
        ("edge.mood", ["well", "o, so\" 'so' \\"]),
        ("edge.pair", ["(1,)", "(,\"a \"\"b\"\"\")"]),
    ];

    // These have no order and key nothing, or identify no record in a porch (JSON).
    private static readonly string[] _keyless =
    [
        "json",
        "jsonb",
        "jsonpath",
        "xml",
        "point",
        "line",
        "lseg",
        "box",
        "path",
        "polygon",
        "circle",
        "xid",
        "cid",
        "pg_snapshot",
        "txid_snapshot",
        "refcursor",
        "aclitem",
    ];

    private static CancellationToken Token => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Record_SavedAsItWasRead_IsAsItWas()
    {
        var tables = _types.SelectMany(type => Columns(type.Type, type.Values)).ToList();
        await PrepareAsync(
            "saved",
            tables.Select(
                (table, i) =>
                    $"""
                        CREATE TABLE saved.t{i} (id int PRIMARY KEY, v {table.Type}, note text);
                        INSERT INTO saved.t{i} VALUES (0, NULL, NULL), {string.Join(
                            ", ",
                            table.Values.Select((value, n) => $"({n + 1}, {Literal(value)}, 'as it was')")
                        )}
                        """
            )
        );
        var saves = 0;
        var differences = new List<string>();
        for (var i = 0; i < tables.Count; i++)
        {
            var panel = await api.MakePanelAsync("saved", $"t{i}");
            var before = await ContentAsync($"saved.t{i}", "id");
            for (var id = 0; id <= tables[i].Values.Length; id++)
            {
                var read = await api.Client.GetAsync($"{panel}/records/{id}", Token);
                var values = (await read.Content.ReadFromJsonAsync<JsonElement>(Token))
                    .GetProperty("values")
                    .EnumerateObject()
                    .Where(value => value.Name != "id")
                    .ToDictionary(value => value.Name, value => value.Value.GetString());
                var saved = await SaveAsync($"{panel}/records/{id}", read.Headers.ETag!.Tag, values);
                saves++;
                if (saved.StatusCode != HttpStatusCode.OK)
                    differences.Add($"{tables[i].Type} {values["v"]}: {await saved.Content.ReadAsStringAsync(Token)}");
            }

            if (await ContentAsync($"saved.t{i}", "id") != before)
                differences.Add($"{tables[i].Type}: was\n{before}\nis\n{await ContentAsync($"saved.t{i}", "id")}");
        }

        Assert.True(differences.Count == 0, string.Join('\n', differences));
        Assert.True(saves >= 586, $"Only {saves} records were saved.");
    }

    [Fact]
    public async Task Record_OfAnyKey_IsFoundByTheKeyInItsList_AndNoOtherIs()
    {
        var tables = _types
            .Where(type => !_keyless.Contains(type.Type))
            .Concat([
                ("int[]", ["{}", "{1,2}", "{NULL}", "{{1,2},{3,4}}", "[0:1]={1,2}"]),
                ("text[]", ["{}", "{\"a,b\"}", "{\"\"}", "{{a},{b}}"]),
                ("date[]", ["{infinity,9999-12-31}"]),
            ])
            .ToList();
        await PrepareAsync(
            "keyed",
            tables.Select(
                (table, i) =>
                    $"""
                        CREATE TABLE keyed.t{i} (v {table.Item1} PRIMARY KEY, note text, more text);
                        INSERT INTO keyed.t{i} VALUES {string.Join(
                            ", ",
                            table.Item2.Select(value => $"({Literal(value)}, '')")
                        )} ON CONFLICT DO NOTHING
                        """
            )
        );
        var wrong = new List<string>();
        var (asked, compared) = (0, 0);
        for (var i = 0; i < tables.Count; i++)
        {
            var panel = await api.MakePanelAsync("keyed", $"t{i}");
            var rows = (await api.Client.GetFromJsonAsync<JsonElement>($"{panel}/records?sort=v&size=100", Token))
                .GetProperty("rows")
                .EnumerateArray()
                .ToList();
            foreach (var key in rows.Select(row => row.GetProperty("key").GetString()!))
            {
                asked++;
                var record = $"{panel}/records/{Uri.EscapeDataString(key)}";
                var read = await api.Client.GetAsync(record, Token);
                if (read.StatusCode != HttpStatusCode.OK)
                {
                    wrong.Add($"{tables[i].Item1} {key}: {read.StatusCode}");
                    continue;
                }

                var saved = await SaveAsync(record, read.Headers.ETag!.Tag, new() { ["note"] = key });
                if (saved.StatusCode != HttpStatusCode.OK)
                {
                    wrong.Add($"{tables[i].Item1} {key}: {await saved.Content.ReadAsStringAsync(Token)}");
                    continue;
                }

                var value = (await saved.Content.ReadFromJsonAsync<JsonElement>(Token))
                    .GetProperty("values")
                    .GetProperty("v")
                    .GetString();
                var condition = JsonSerializer.Serialize(
                    new
                    {
                        column = "v",
                        @is = "is",
                        values = new[] { value },
                    }
                );
                var page = await api.Client.GetFromJsonAsync<JsonElement>(
                    $"{panel}/records?where={Uri.EscapeDataString(condition)}",
                    Token
                );
                if (page.GetProperty("dropped").GetArrayLength() > 0)
                    continue;
                compared++;
                var found = page.GetProperty("rows").EnumerateArray().Select(row => row.GetProperty("key").GetString()).ToList();
                if (found is not [var only] || only != key)
                    wrong.Add($"{tables[i].Item1} {key}: a condition on {value} finds {string.Join(' ', found)}");
            }

            // And all of them together, by one list of values.
            var keys = rows.ConvertAll(row => row.GetProperty("key").GetString());
            var together = await api.Client.PostAsJsonAsync(
                $"{panel}/changes",
                new { keys, values = new { more = "together" } },
                Token
            );
            if (await api.Zoo.AskAsync<long>($"SELECT count(*) FROM keyed.t{i} WHERE more = 'together'") != rows.Count)
                wrong.Add($"{tables[i].Item1}: not all are found together, {await together.Content.ReadAsStringAsync(Token)}");

            if (await api.Zoo.AskAsync<long>($"SELECT count(DISTINCT note) FROM keyed.t{i} WHERE note <> ''") != rows.Count)
                wrong.Add($"{tables[i].Item1}: not each key found its own record");
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
        Assert.True(asked > 150 && compared > 75, $"Only {asked} keys were asked for, and {compared} values.");
    }

    // A type by itself, and in an array with an empty item, of one and of two dimensions.
    private static IEnumerable<(string Type, string[] Values)> Columns(string type, string[] values)
    {
        yield return (type, values);
        var items = values
            .Select(value =>
                "\""
                + value.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)
                + "\""
            )
            .ToList();
        // Boxes hold commas, and are parted by semicolons.
        var sign = type == "box" ? ';' : ',';
        yield return (
            $"{type}[]",
            [
                .. items.Select(item => $"{{{item}{sign}NULL}}"),
                $"{{{string.Join(sign, items)}}}",
                $"{{{{{items[0]}}}{sign}{{{items[^1]}}}}}",
                "{}",
            ]
        );
    }

    private static string Literal(string value) => $"'{value.Replace("'", "''", StringComparison.Ordinal)}'";

    private async Task PrepareAsync(string schema, IEnumerable<string> tables)
    {
        await api.Zoo.ExecuteAsync(
            $"""
            CREATE SCHEMA IF NOT EXISTS edge; CREATE SCHEMA {schema};
            DO $$ BEGIN
                CREATE DOMAIN edge.day AS date; CREATE TYPE edge.mood AS ENUM ('well', 'o, so" ''so'' \'); CREATE TYPE edge.pair AS (a int, b text);
            EXCEPTION WHEN duplicate_object THEN NULL; END $$;
            {string.Join(";\n", tables)}
            """
        );
        await api.Client.PostAsync($"/api/sources/{api.SourceId}/snapshot", null, Token);
    }

    private Task<string> ContentAsync(string table, string order) =>
        api.Zoo.AskAsync<string>(
            $"SELECT string_agg(concat_ws('|', {order}, coalesce(v::text, 'NULL'), pg_column_size(v), note), E'\\n' ORDER BY {order}) FROM {table}"
        );

    private Task<HttpResponseMessage> SaveAsync(string address, string version, Dictionary<string, string?> values) =>
        api.PutAsync(address, version.Trim('"'), new { values });
}
