using Microsoft.Extensions.Configuration;
using PlainPorch.Contract;

namespace PlainPorch.TestCode;

/// <summary>Does what the name of a record says, and writes down what it is told: for tests.</summary>
/// <param name="configuration">Says in which file it is written down: <c>PORCH_TEST_NOTES</c>.</param>
public sealed class Hooked(IConfiguration configuration) : IRecordCode
{
    private static readonly Lock _writing = new();

    /// <inheritdoc/>
    public string Table => "zoo.hooked";

    private string Notes => configuration["PORCH_TEST_NOTES"]!;

    /// <inheritdoc/>
    public Task BeforeAsync(ActInProgress act, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(act);
        foreach (var record in act.Records)
        {
            var name = record.Values.GetValueOrDefault("name");
            switch (name)
            {
                case "refuse":
                    record.Refuse("Not this one.", "name");
                    break;
                case "throw":
                    throw new InvalidOperationException("Out of order.");
                case "hang":
                    // Deaf to whoever wants it to end.
                    Thread.Sleep(TimeSpan.FromSeconds(5));
                    break;
                case "wrong":
                    record.Set("size", "much");
                    break;
                case "rekey":
                    record.Set("id", "9999");
                    break;
                case " blank ":
                    record.Set("name", "blank");
                    record.Set("size", "7");
                    break;
                default:
                    break;
            }

            act.Afterwards(
                $"{record.Act} {record.Key} {name} {string.Join(",", record.Changes.Select(change => change.Column))}"
            );
        }

        return Task.CompletedTask;
    }

    /// <inheritdoc/>
    public Task AfterAsync(Afterwards afterwards, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(afterwards);
        if (afterwards.Content.Contains("unheard", StringComparison.Ordinal) && !File.Exists(Notes + ".up"))
            throw new InvalidOperationException("Nobody answers.");
        lock (_writing)
            File.AppendAllText(Notes, $"{afterwards.Content}\n");
        return Task.CompletedTask;
    }
}
