using PlainPorch.Contract;

namespace PlainPorch.TestCode;

/// <summary>Computes the double of a size, or fails as the record's name says: for tests.</summary>
public sealed class Doubled : IColumnCode
{
    /// <inheritdoc/>
    public string Table => "zoo.hooked";

    /// <inheritdoc/>
    public string Column => "doubled";

    /// <inheritdoc/>
    public IReadOnlyList<string> Reads => ["name", "size"];

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string?>> ComputeAsync(
        IReadOnlyList<IReadOnlyDictionary<string, string?>> records,
        CancellationToken cancellationToken
    )
    {
        ArgumentNullException.ThrowIfNull(records);
        if (records.Any(record => record["name"] == "uncomputable"))
            throw new InvalidOperationException("No doubles today.");
        if (records.Any(record => record["name"] == "endless"))
            await Task.Delay(TimeSpan.FromSeconds(60), CancellationToken.None);
        if (records.Any(record => record["name"] == "short"))
            return [];
        return
        [
            .. records.Select(record =>
                int.TryParse(record["size"], out var size)
                    ? (2 * size).ToString(System.Globalization.CultureInfo.InvariantCulture)
                    : null
            ),
        ];
    }
}
