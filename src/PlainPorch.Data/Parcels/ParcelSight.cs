using System.Linq.Expressions;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Parcels;

/// <summary>
/// What somebody learns of what was set aside. Its records are no longer in their table, where a condition could tell whose they are: who
/// sees some of a panel's records only sees what they set aside themselves.
/// </summary>
internal static class ParcelSight
{
    /// <summary>What records are called taken together whose panel somebody does not see.</summary>
    public const string Others = "Other records";

    /// <summary>The condition on parcels that somebody learns of.</summary>
    /// <param name="panel">The panel, as the person sees it.</param>
    /// <param name="who">What the person is called.</param>
    public static Expression<Func<ParcelRow, bool>> Tells(OpenPanel panel, string who)
    {
        if (panel.Panels.SeesEverything)
            return parcel => true;
        var slug = panel.Definition.Slug;
        return panel.Bound?.Sight is { Rows: null }
            ? parcel => parcel.Panel == slug
            : parcel => parcel.Panel == slug && parcel.Who == who;
    }

    /// <summary>Whether somebody learns of a parcel.</summary>
    public static bool Tells(OpenPanel panel, string who, ParcelRow parcel) => Tells(panel, who).Compile()(parcel);

    /// <summary>Whether somebody knows of a table's records.</summary>
    public static bool Sees(OpenPanel panel, TableName table) =>
        panel.Panels.SeesEverything || panel.Panels.BoundOver(table) is null or { Sight.Sees: true };

    /// <summary>Whether somebody sees all of a table's records.</summary>
    public static bool SeesAll(OpenPanel panel, TableName table) =>
        panel.Panels.SeesEverything || panel.Panels.BoundOver(table) is null or { Sight: { Sees: true, Rows: null } };
}
