using PlainPorch.Contract;

namespace PlainPorch.TestCode;

/// <summary>Offers what was typed with a number behind it, or fails: for tests.</summary>
public sealed class Offered : IValueCode
{
    /// <inheritdoc/>
    public string Table => "zoo.hooked";

    /// <inheritdoc/>
    public string Column => "name";

    /// <inheritdoc/>
    public Task<IReadOnlyList<string>> FindAsync(string typed, CancellationToken cancellationToken) =>
        typed == "fail"
            ? throw new InvalidOperationException("No values today.")
            : Task.FromResult<IReadOnlyList<string>>([.. Enumerable.Range(1, 100).Select(number => $"{typed} {number}")]);
}
