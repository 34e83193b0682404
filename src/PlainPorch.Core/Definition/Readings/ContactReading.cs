using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>By what somebody is reached.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<ContactMeans>))]
public enum ContactMeans
{
    /// <summary>E-mail.</summary>
    Email,

    /// <summary>An address of the web.</summary>
    Web,

    /// <summary>A telephone.</summary>
    Phone,
}

/// <summary>An e-mail address, an address of the web or a telephone number: shown as a link that opens it.</summary>
public sealed record ContactReading : TextReading
{
    private static readonly ValueLook _email = new(LookSort.Email);
    private static readonly ValueLook _web = new(LookSort.Web);
    private static readonly ValueLook _phone = new(LookSort.Phone);

    /// <summary>Which of them.</summary>
    public required ContactMeans Means { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says =>
        Means switch
        {
            ContactMeans.Email => "e-mail address",
            ContactMeans.Web => "web address",
            _ => "telephone number",
        };

    /// <inheritdoc/>
    [JsonIgnore]
    public override ValueLook? Look =>
        Means switch
        {
            ContactMeans.Email => _email,
            ContactMeans.Web => _web,
            _ => _phone,
        };

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool LeavesValues => true;

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type) => stored;

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        problem = null;
        return value;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored) => new Formula.Stored();
}
