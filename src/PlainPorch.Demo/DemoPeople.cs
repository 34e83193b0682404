namespace PlainPorch.Demo;

/// <summary>Somebody who can sign in to the demo.</summary>
/// <param name="Name">What the person is called.</param>
/// <param name="Email">The mail address.</param>
/// <param name="Password">The password, which is no secret: the demo listens to its own computer alone.</param>
/// <param name="Title">What the person is at the harbour office.</param>
/// <param name="Role">The role's slug; null for a developer.</param>
/// <param name="Record">The record that the person is; null for none.</param>
internal sealed record DemoPerson(
    string Name,
    string Email,
    string Password,
    string Title,
    string? Role = null,
    string? Record = null
);

/// <summary>The people of the demo.</summary>
internal static class DemoPeople
{
    /// <summary>Who sets the porch up.</summary>
    public static DemoPerson Developer { get; } =
        new("Dot Marlowe", "dot@wrenmouth.example", "ten gulls on a slipway", "developer");

    /// <summary>Who is let in.</summary>
    public static IReadOnlyList<DemoPerson> All { get; } =
    [
        new("Hester Quayle", "hester@wrenmouth.example", "brass bell at low water", "harbour master", "harbour-master"),
        new("Cyril Plank", "cyril@wrenmouth.example", "green ink and blotter", "clerk", "clerk"),
        new("Moira Lamb", "moira@wrenmouth.example", "torch and wet ladder", "meter reader", "meter-reader"),
        new("Alvera Bode", "alvera@wrenmouth.example", "two oars one bucket", "boat owner", "boat-owner", "17"),
    ];

    /// <summary>Tells how to sign in.</summary>
    public static void Tell(TextWriter writer)
    {
        writer.WriteLine("Sign in as one of these:");
        foreach (var person in All.Prepend(Developer))
            writer.WriteLine($"  {person.Title, -15} {person.Email, -26} {person.Password}");
    }
}
