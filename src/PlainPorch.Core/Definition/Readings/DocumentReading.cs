using System.Text.Json;
using System.Text.Json.Serialization;
using System.Xml;
using System.Xml.Linq;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>What sort of document a text holds.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<DocumentMeans>))]
public enum DocumentMeans
{
    /// <summary>JSON.</summary>
    Json,

    /// <summary>XML.</summary>
    Xml,
}

/// <summary>
/// A JSON or XML document in a text. What begins and ends like one counts as one, so that the database finds the same; what is
/// typed must be one to its last sign.
/// </summary>
public sealed record DocumentReading : TextReading
{
    private const string Blanks = " \t\r\n";

    private static readonly ValueLook _json = new(LookSort.Json);
    private static readonly ValueLook _xml = new(LookSort.Xml);

    /// <summary>Which of them.</summary>
    public required DocumentMeans Means { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => Means is DocumentMeans.Json ? "JSON document" : "XML document";

    /// <inheritdoc/>
    [JsonIgnore]
    public override ValueLook? Look => Means is DocumentMeans.Json ? _json : _xml;

    /// <inheritdoc/>
    [JsonIgnore]
    public override bool LeavesValues => true;

    /// <inheritdoc/>
    protected override string? Decode(string stored, ColumnType type)
    {
        var text = stored.AsSpan().Trim(Blanks);
        var isOne =
            text.Length > 1
            && (
                Means is DocumentMeans.Xml
                    ? text[0] == '<' && text[^1] == '>'
                    : (text[0] == '{' && text[^1] == '}') || (text[0] == '[' && text[^1] == ']')
            );
        return isOne ? stored : null;
    }

    /// <inheritdoc/>
    protected override string? Encode(string value, ColumnType stored, out string? problem)
    {
        problem = Decode(value, stored) is null
            ? $"Not a {Says}. It has to begin with {(Means is DocumentMeans.Json ? "{ or [" : "<")}, and end so."
            : ProblemWith(value);
        return problem is null ? value : null;
    }

    /// <inheritdoc/>
    protected override Formula Compute(ColumnType stored) =>
        new Formula.Chosen([
            new FormulaCase(
                new FormulaTest.Matches(
                    Text(stored),
                    Means is DocumentMeans.Xml
                        ? $"^[{Blanks}]*<.*>[{Blanks}]*$"
                        : $"^[{Blanks}]*(?:\\{{.*\\}}|\\[.*\\])[{Blanks}]*$"
                ),
                new Formula.Stored()
            ),
        ]);

    private string? ProblemWith(string document)
    {
        try
        {
            if (Means is DocumentMeans.Json)
            {
                using var _ = JsonDocument.Parse(document);
            }
            else
            {
                using var reader = XmlReader.Create(
                    new StringReader(document.Trim()),
                    new XmlReaderSettings { DtdProcessing = DtdProcessing.Ignore, XmlResolver = null }
                );
                XDocument.Load(reader);
            }

            return null;
        }
        catch (JsonException wrong)
        {
            return $"Not a JSON document: something is wrong in line {wrong.LineNumber + 1}, at sign {wrong.BytePositionInLine + 1}. Correct it.";
        }
        catch (XmlException wrong)
        {
            return $"Not an XML document: something is wrong in line {wrong.LineNumber}, at sign {wrong.LinePosition}. Correct it.";
        }
    }
}
