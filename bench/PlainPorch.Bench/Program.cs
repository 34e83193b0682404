using System.CommandLine;
using System.Globalization;
using System.Text.Json;
using PlainPorch.Bench;
using PlainPorch.Bench.Lists;
using PlainPorch.Core.Sources;
using PlainPorch.Data.Connections;

var connection = new Option<string>("--connection") { Description = "Connection string of the demo database.", Required = true };
var json = new Option<bool>("--json") { Description = "Prints JSON." };
var rounds = new Option<int>("--rounds")
{
    Description = "How often each piece of work is measured.",
    DefaultValueFactory = _ => 40,
};

var only = new Option<string?>("--only") { Description = "A part of the names of the cases to run." };

var command = new RootCommand("Measures lists and records beside hand-written SQL for the same answers, in one run.")
{
    connection,
    json,
    rounds,
    only,
};
command.SetAction(async arguments =>
{
    if (!ConnectionText.TryRead(arguments.GetValue(connection)!, out var settings, out var problem))
    {
        await Console.Error.WriteLineAsync(problem);
        return 2;
    }

    await using var source = SourceConnection.Create(settings, isReadOnly: false);
    var measured = new List<Measured>();
    var report = new Report();
    IReadOnlyList<Case> cases =
    [
        .. await RecordCases.MakeAsync(source),
        .. await ComputedCases.MakeAsync(source),
        .. await RightsCases.MakeAsync(source),
    ];
    foreach (
        var work in cases.Where(one => one.Name.Contains(arguments.GetValue(only) ?? "", StringComparison.OrdinalIgnoreCase))
    )
    {
        await report.TryAsync(work.Name, async () =>
        {
            measured.Add(await work.MeasureAsync(arguments.GetValue(rounds)));
            report.Check(work.Name, measured[^1].Ratio, work.Floor);
        });
    }

    if (arguments.GetValue(json))
    {
        Console.WriteLine(JsonSerializer.Serialize(measured, JsonSerializerOptions.Web));
        return report.End();
    }

    Console.WriteLine($"{"case", -32}{"ours, ms", 12}{"by hand, ms", 14}{"ratio", 8}{"floor", 8}");
    foreach (var (name, ours, byHand, ratio, floor) in measured)
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{name, -32}{ours, 12:0.00}{byHand, 14:0.00}{ratio, 8:0.00}{floor, 8:0.00}"
            )
        );
    return report.End();
});

var databases = new Option<string[]>("--connection")
{
    Description = "Databases whose declared references are the truth.",
    Required = true,
    AllowMultipleArgumentsPerToken = true,
};
var tell = new Option<bool>("--tell") { Description = "Names each reference that was missed or wrong." };
var survey = new Command("survey", "Measures how well a survey finds references when the declared ones are hidden from it.")
{
    databases,
    tell,
    json,
};
survey.SetAction(arguments =>
    SurveyBench.RunAsync(arguments.GetValue(databases)!, arguments.GetValue(tell), arguments.GetValue(json))
);
command.Add(survey);

var into = new Option<string>("--connection") { Description = "A database to make tables in.", Required = true };
var rows = new Option<int>("--rows") { Description = "How many rows the file has.", DefaultValueFactory = _ => 1_000_000 };
var imports = new Command("imports", "Measures bringing a file into a new table beside a bare COPY.")
{
    into,
    rows,
    rounds,
    json,
};
imports.SetAction(arguments =>
    ImportBench.RunAsync(
        arguments.GetValue(into)!,
        arguments.GetValue(rows),
        Math.Clamp(arguments.GetValue(rounds), 1, 9),
        arguments.GetValue(json)
    )
);
command.Add(imports);
connection.Required = false;

var catalog = new Option<string>("--catalog")
{
    Description = "Connection string of a database for Plain Porch's own tables.",
    Required = true,
};
var web = new Option<string>("--web") { Description = "The program that serves Plain Porch.", Required = true };
var scale = new Option<int>("--scale")
{
    Description = "How large the table is; 20 makes 5 million rows.",
    DefaultValueFactory = _ => 20,
};
var seconds = new Option<double>("--seconds") { Description = "How long each case is asked.", DefaultValueFactory = _ => 4 };
var listed = new Option<string>("--connection") { Description = "Connection string of the demo database.", Required = true };
var port = new Option<int>("--port") { Description = "Where to listen.", Required = true };
var lists = new Command("lists", "Measures lists beside hand-written endpoints, over HTTP.")
{
    listed,
    catalog,
    web,
    scale,
    seconds,
    only,
    json,
};
lists.SetAction(arguments =>
    ConnectionText.TryRead(arguments.GetValue(listed)!, out var settings, out _)
        ? ListsBench.RunAsync(
            settings,
            arguments.GetValue(catalog)!,
            arguments.GetValue(web)!,
            arguments.GetValue(scale),
            arguments.GetValue(seconds),
            arguments.GetValue(only),
            arguments.GetValue(json)
        )
        : Task.FromResult(2)
);
command.Add(lists);
var order = new Command("order", "Measures numbering and moving in a group of a million beside hand-written SQL.")
{
    listed,
    catalog,
    web,
    rounds,
    json,
};
order.SetAction(arguments =>
    ConnectionText.TryRead(arguments.GetValue(listed)!, out var settings, out _)
        ? OrderBench.RunAsync(
            settings,
            arguments.GetValue(catalog)!,
            arguments.GetValue(web)!,
            arguments.GetValue(rounds),
            arguments.GetValue(json)
        )
        : Task.FromResult(2)
);
command.Add(order);
var byHand = new Command("by-hand", "Serves the hand-written endpoints.") { listed, port };
byHand.SetAction(arguments =>
    ConnectionText.TryRead(arguments.GetValue(listed)!, out var settings, out _)
        ? ByHandServer.RunAsync(settings, arguments.GetValue(port))
        : Task.FromResult(2)
);
command.Add(byHand);
return await command.Parse(args).InvokeAsync();
