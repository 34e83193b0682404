using System.Text;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>What was put into base64.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<Base64Holds>))]
public enum Base64Holds
{
    /// <summary>A text in UTF-8.</summary>
    Text,

    /// <summary>Bytes of a file or a picture: shown as a size, not typed.</summary>
    Bytes,
}

/// <summary>
/// A text, or the bytes of a file, in base64 (RFC 4648, section 4; line breaks, which section 3.1 leaves open, are not known here).
/// </summary>
public sealed record Base64Reading : TextReading
{
    // In groups of four, the last of which may be filled up.
    private const string Shape = "^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{4}|[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)$";

    // UTF-8 (RFC 3629, section 4) as hexadecimal digits, two for each byte. No zero, which no text can hold.
    private const string Tail = "[89ab].";
    private const string Utf8 =
        "^(?:0[1-9a-f]|[1-7]."
        + $"|c[2-9a-f]{Tail}|d.{Tail}"
        + $"|e0[ab].{Tail}|e[1-9a-cef]{Tail}{Tail}|ed[89].{Tail}"
        + $"|f0[9ab].{Tail}{Tail}|f[1-3]{Tail}{Tail}{Tail}|f48.{Tail}{Tail}"
        + ")*$";

    private static readonly UTF8Encoding _strict = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);
    private static readonly ColumnType _binary = new() { StoreType = "bytea", Kind = ValueKind.Binary };
    private static readonly ColumnType _plain = new() { StoreType = "text", Kind = ValueKind.Text };

    /// <summary>What was put into it.</summary>
    public required Base64Holds Holds { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => Holds is Base64Holds.Text ? "text in base64" : "file in base64";

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => Holds is Base64Holds.Text ? _plain : _binary;

    /// <inheritdoc/>
    public override Formula? ToText(ColumnType stored) =>
        Holds is Base64Holds.Text ? IfText(stored, _ => new Formula.TextFromBase64(Text(stored))) : null;

    /// <inheritdoc/>
    public override string InFormula(string value) => Convert.ToHexStringLower(_strict.GetBytes(value));

    /// <inheritdoc/>
    public override string FromFormula(string made) => _strict.GetString(Convert.FromHexString(made));

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        ArgumentNullException.ThrowIfNull(stored);
        // .NET overlooks blanks between the groups, the database's pattern does not.
        var bytes = new byte[stored.Length];
        if (stored.AsSpan().ContainsAny(" \t\r\n") || !Convert.TryFromBase64String(stored, bytes, out var length))
            return null;
        if (Holds is Base64Holds.Bytes)
            return length.ToString(System.Globalization.CultureInfo.InvariantCulture);
        try
        {
            var text = _strict.GetString(bytes, 0, length);
            return text.Contains('\0', StringComparison.Ordinal) ? null : text;
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        problem = Holds is Base64Holds.Text ? null : "Bytes cannot be typed. Leave it as it is.";
        return problem is null ? Convert.ToBase64String(_strict.GetBytes(value)) : null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored) =>
        Holds is Base64Holds.Text
            ? IfText(stored, digits => digits)
            : new Formula.Chosen([new FormulaCase(new FormulaTest.Matches(Text(stored), Shape), Text(stored))]);

    // One within the other: what is no base64 must not come to be decoded, and what is no UTF-8 not to be a text.
    private Formula.Chosen IfText(ColumnType stored, Func<Formula, Formula> then)
    {
        var digits = new Formula.FromBase64(Text(stored));
        return new Formula.Chosen([
            new FormulaCase(
                new FormulaTest.Matches(Text(stored), Shape),
                new Formula.Chosen([new FormulaCase(new FormulaTest.Matches(digits, Utf8), then(digits))])
            ),
        ]);
    }
}
