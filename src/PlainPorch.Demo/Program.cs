using System.CommandLine;
using System.Diagnostics;
using System.Globalization;
using Npgsql;
using PlainPorch.Demo;

var connection = new Option<string>("--connection")
{
    Description = "Connection string of a server, as a user who may create databases.",
    Required = true,
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
        var wanted = arguments.GetValue(scale);
        var name = arguments.GetValue(database)!;
        var demo = new DemoDatabase(arguments.GetValue(connection)!, name, wanted ?? 1);
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
return await command.Parse(args).InvokeAsync();
