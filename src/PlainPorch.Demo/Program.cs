using System.CommandLine;
using System.Diagnostics;
using System.Globalization;
using Npgsql;
using PlainPorch.Demo;

var connection = new Option<string?>("--connection")
{
    Description = "Connection string of a server, as a user who may create databases.",
};
var database = new Option<string>("--database")
{
    Description = "What the demo database is to be called.",
    DefaultValueFactory = _ => "wrenmouth",
};
var scale = new Option<int?>("--scale")
{
    Description = "Multiplies the large tables; 20 makes 5 million meter readings. A database of another scale is made anew.",
};
scale.Validators.Add(result =>
{
    if (result.GetValueOrDefault<int?>() is < 1 or > 200)
        result.AddError("--scale takes a number from 1 to 200.");
});

var command = new RootCommand("Makes the demo database of Plain Porch: the records of Wrenmouth Harbour Office, all made up.")
{
    connection,
    database,
    scale,
};
command.SetAction(
    async (arguments, cancellationToken) =>
    {
        if (arguments.GetValue(connection) is not { } server)
        {
            await Console.Error.WriteLineAsync("--connection is missing: the server on which the demo database is made.");
            return 2;
        }

        var wanted = arguments.GetValue(scale);
        var name = arguments.GetValue(database)!;
        var demo = new DemoDatabase(server, name, wanted ?? 1);
        try
        {
            await demo.DropLeftoverAsync(cancellationToken);
            var present = await demo.FindScaleAsync(cancellationToken);
            if (present is not null && (wanted is null || wanted == present))
            {
                Console.WriteLine($"The demo database {name} is there already (scale {present}).");
                return 0;
            }

            var watch = Stopwatch.StartNew();
            await demo.MakeAsync(line => Console.WriteLine($"  {line}"), cancellationToken);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"Made the demo database {name} in {watch.Elapsed.TotalSeconds:0.0} s."
                )
            );
            return 0;
        }
        catch (Exception failure) when (failure is NpgsqlException or ArgumentException)
        {
            await Console.Error.WriteLineAsync($"The demo database could not be made: {failure.Message}");
            return 2;
        }
    }
);
var folder = new Argument<string>("FOLDER") { Description = "The folder; it is made." };
var files = new Command("files", "Writes the harbour's old files, to be brought in.") { folder };
files.SetAction(arguments => OldFiles.Write(arguments.GetValue(folder)!));
command.Add(files);

var address = new Option<string>("--address") { Description = "Where Plain Porch is.", Required = true };
var source = new Option<string>("--source") { Description = "The demo database, as a postgresql:// URL.", Required = true };
var definition = new Option<FileInfo>("--definition") { Description = "The porch's definition.", Required = true };
var code = new Option<string>("--code") { Description = "The code by which the first account is made.", Required = true };
var setUp = new Command(
    "set-up",
    "Sets the demo's porch up at a running Plain Porch that has no source yet, and lets its people in."
)
{
    address,
    source,
    definition,
    code,
};
setUp.SetAction(
    async (arguments, cancellationToken) =>
    {
        using var http = new HttpClient
        {
            BaseAddress = new Uri(arguments.GetValue(address)!),
            Timeout = TimeSpan.FromMinutes(2),
        };
        try
        {
            if (
                await new PorchSetUp(http, arguments.GetValue(code)!).RunAsync(
                    arguments.GetValue(source)!,
                    arguments.GetValue(definition)!,
                    cancellationToken
                )
            )
                Console.WriteLine("Set up the demo's porch.");
            DemoPeople.Tell(Console.Out);
            return 0;
        }
        catch (Exception failure)
            when (failure is HttpRequestException or IOException or UriFormatException or System.Text.Json.JsonException)
        {
            await Console.Error.WriteLineAsync($"The demo's porch could not be set up: {failure.Message}");
            return 2;
        }
    }
);
command.Subcommands.Add(setUp);
return await command.Parse(args).InvokeAsync();
