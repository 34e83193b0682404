namespace PlainPorch.Core.Values;

/// <summary>What is wrong with one field.</summary>
/// <param name="Field">The field's name.</param>
/// <param name="Message">What is wrong and what to do, for people.</param>
public sealed record FieldProblem(string Field, string Message)
{
    /// <summary>The check that warns of it, in spite of which it can be done; null where it cannot.</summary>
    public string? Warning { get; init; }
}
