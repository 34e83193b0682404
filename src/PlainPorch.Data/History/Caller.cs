namespace PlainPorch.Data.History;

/// <summary>
/// Who asks for something to be done. The one place that names people: the web layer fills it in for each request.
/// </summary>
public sealed class Caller
{
    /// <summary>What somebody is called as long as nobody signs in.</summary>
    public const string ThisComputer = "this computer";

    /// <summary>Who asks.</summary>
    public string Name { get; set; } = ThisComputer;

    /// <summary>From where, such as an IP address; empty where that is not known.</summary>
    public string From { get; set; } = "";

    /// <summary>
    /// The key that the request bears (Idempotency-Key), under which its answer is kept; null where it bears none.
    /// </summary>
    public string? RequestKey { get; set; }

    /// <summary>The checks that warn, by their names, in spite of which it is to be done.</summary>
    public IReadOnlySet<string> Despite { get; set; } = new HashSet<string>();
}
