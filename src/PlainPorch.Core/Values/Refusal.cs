namespace PlainPorch.Core.Values;

/// <summary>Why something cannot be done, and what would help.</summary>
/// <param name="Reason">The reason, as a sentence.</param>
/// <param name="Remedy">The remedy, as a sentence.</param>
public sealed record Refusal(string Reason, string Remedy);
