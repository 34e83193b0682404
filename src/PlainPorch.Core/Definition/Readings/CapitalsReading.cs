using System.Text;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// Names that are stored in capitals alone and shown in ordinary ones. What is stored in small letters as well is shown as it is.
/// </summary>
public sealed record CapitalsReading : TextReading
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "name in capitals, shown in ordinary letters";

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool LeavesValues => true;

    /// <inheritdoc/>
    public override IReadOnlyList<string>? StoredFor(string value, ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(value);
        return [.. new[] { value, value.ToUpperInvariant() }.Distinct().Where(text => Decode(text, stored) == value)];
    }

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (stored.Any(char.IsLower))
            return stored;
        var text = new StringBuilder(stored.Length);
        for (var i = 0; i < stored.Length; i++)
            text.Append(i > 0 && char.IsLetter(stored[i - 1]) ? char.ToLowerInvariant(stored[i]) : stored[i]);
        return text.ToString();
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        ArgumentNullException.ThrowIfNull(value);
        problem = null;
        return value.ToUpperInvariant();
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored) => new Formula.Stored();
}
