using System.Globalization;
using System.Text.RegularExpressions;

namespace PlainPorch.Core.Filters;

/// <summary>Where a row is, and which version of it: what tells a row that has no key, until somebody writes to it.</summary>
/// <param name="Partition">The number of the table or partition (PostgreSQL's <c>tableoid</c>).</param>
/// <param name="Spot">Block and line in it (<c>ctid</c>), such as <c>(0,12)</c>.</param>
/// <param name="Version">The row's version (<c>xmin</c>).</param>
public sealed partial record RowPlace(uint Partition, string Spot, uint Version)
{
    /// <summary>How many parts it is told in.</summary>
    public const int Count = 3;

    /// <summary>Reads the three parts.</summary>
    /// <returns>The place; null where they tell none.</returns>
    public static RowPlace? TryRead(IReadOnlyList<string> parts) =>
        parts is [var partition, var spot, var version]
        && uint.TryParse(partition, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
        && uint.TryParse(version, NumberStyles.None, CultureInfo.InvariantCulture, out var seen)
        && SpotForm().Match(spot) is { Success: true } match
        && uint.TryParse(match.Groups[1].ValueSpan, NumberStyles.None, CultureInfo.InvariantCulture, out _)
        && ushort.TryParse(match.Groups[2].ValueSpan, NumberStyles.None, CultureInfo.InvariantCulture, out _)
            ? new RowPlace(number, spot, seen)
            : null;

    /// <summary>The three parts, as <see cref="TryRead"/> reads them.</summary>
    public IReadOnlyList<string> Parts =>
        [Partition.ToString(CultureInfo.InvariantCulture), Spot, Version.ToString(CultureInfo.InvariantCulture)];

    [GeneratedRegex(@"^\(([0-9]{1,10}),([0-9]{1,5})\)$", RegexOptions.CultureInvariant)]
    private static partial Regex SpotForm();
}
