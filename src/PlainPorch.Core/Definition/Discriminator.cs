namespace PlainPorch.Core.Definition;

/// <summary>Which of the lists in a shared code table is meant.</summary>
/// <param name="Column">The column that parts the lists.</param>
/// <param name="Value">The list's value in it.</param>
public sealed record Discriminator(string Column, string Value);
