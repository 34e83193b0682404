using PlainPorch.Core.Definition;

namespace PlainPorch.Core.People;

/// <summary>Somebody as a porch knows them.</summary>
/// <param name="Name">What the person is called.</param>
/// <param name="Role">What they may do.</param>
/// <param name="Record">The key of the record that the person is, as addresses have it; null for nobody who is one.</param>
public sealed record PorchMember(string Name, RoleDefinition Role, string? Record);
