using PlainPorch.Core.Panels;
using PlainPorch.Core.People;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.People;

/// <summary>Who a person or a program is that asks, as it was found by a cookie or a token.</summary>
/// <param name="Person">The person's number; null for a program.</param>
/// <param name="Name">What they are called in the logbook.</param>
/// <param name="IsDeveloper">Whether they set porches up.</param>
/// <param name="Porches">What they are in which porch, by the porch's slug.</param>
public sealed record KnownAsker(int? Person, string Name, bool IsDeveloper, IReadOnlyDictionary<string, AskerInPorch> Porches)
{
    /// <summary>What stands behind the name of a program, so that it is never taken for a person.</summary>
    public const string TokenMark = " (token)";

    /// <summary>The number of the session; null for a program.</summary>
    public int? Session { get; init; }
}

/// <summary>What somebody is in a porch.</summary>
/// <param name="Role">The role's slug.</param>
/// <param name="Record">The key of the record that the person is; null for none.</param>
public sealed record AskerInPorch(string Role, string? Record);

/// <summary>
/// Who asks in this request: as long as nobody was found, nobody, who sees nothing. What the person may see of a porch is decided
/// here and nowhere else.
/// </summary>
public sealed class Asker : IWhoSees
{
    private readonly Dictionary<int, (PorchPanels Panels, IPanelSights? Sights)> _sights = [];

    /// <summary>Who it is; null for nobody who is known.</summary>
    public KnownAsker? Known { get; set; }

    /// <summary>From where, such as an IP address; empty for the program itself.</summary>
    public string From { get; set; } = "";

    /// <summary>Whether it is the program itself, at work of its own: it sees everything.</summary>
    public bool IsProgram { get; set; }

    /// <summary>The role that a developer wants to see a porch as, by its slug; null for as it is.</summary>
    public string? SeesAs { get; set; }

    /// <summary>The record that the developer wants to be then; null for none.</summary>
    public string? SeesAsRecord { get; set; }

    /// <summary>Whether everything in every porch is seen.</summary>
    public bool SeesAll => IsProgram || (Known is { IsDeveloper: true } && SeesAs is null);

    /// <inheritdoc/>
    public bool IsLetInto(PorchRow porch) => SeesAll || MemberOf(porch) is not null;

    /// <inheritdoc/>
    public bool SeesPanel(PorchRow porch, string panel) => SeesAll || MemberOf(porch)?.Role.SeesPanel(panel) == true;

    /// <summary>Whether the person invites and administers the people of a porch.</summary>
    public bool ManagesPeopleOf(PorchRow porch) =>
        Known is { IsDeveloper: true }
            ? SeesAs is null
            : MemberOf(porch) is { Role.ManagesPeople: true } && Known is { Person: not null };

    /// <summary>What the person is in a porch.</summary>
    /// <returns>It; null for a developer who sees all, and for whoever is not let in.</returns>
    public PorchMember? MemberOf(PorchRow porch)
    {
        ArgumentNullException.ThrowIfNull(porch);
        if (SeesAll || Known is not { } known)
            return null;
        var (slug, record) =
            known.IsDeveloper ? (SeesAs, SeesAsRecord)
            : known.Porches.TryGetValue(porch.Slug, out var here) ? (here.Role, here.Record)
            : (null, null);
        return porch.ReadRoles().FirstOrDefault(role => role.Slug == slug) is { } role
            ? new PorchMember(known.Name, role, record)
            : null;
    }

    /// <inheritdoc/>
    public IPanelSights? In(PorchRow porch, PorchPanels panels)
    {
        ArgumentNullException.ThrowIfNull(porch);
        if (SeesAll)
            return EverybodySeesEverything.Instance;
        if (_sights.TryGetValue(porch.Id, out var known) && ReferenceEquals(known.Panels, panels))
            return known.Sights;
        var sights = MemberOf(porch) is { } member ? new MemberSights(member, panels) : null;
        _sights[porch.Id] = (panels, sights);
        return sights;
    }
}
