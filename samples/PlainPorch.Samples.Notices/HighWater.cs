using System.Globalization;
using PlainPorch.Contract;

namespace PlainPorch.Samples.Notices;

/// <summary>
/// About when the water is high on the day of arrival: what no expression can tell. High water follows the moon's passage over the meridian
/// by a time that is the place's own, and the moon passes 24 h / 29.530589 later each day. A rule of thumb, good to an hour or so, and
/// no table of tides.
/// </summary>
public sealed class HighWater : IColumnCode
{
    // The new moon of 2000-01-06 18:14 UTC, and the mean length of a lunation (Meeus, Astronomical Algorithms, chapter 49).
    private static readonly DateTime _newMoon = new(2000, 1, 6, 18, 14, 0, DateTimeKind.Utc);
    private const double DaysOfLunation = 29.530588853;

    // By how much high water comes after the moon's passage at Wrenmouth, and how long it is from one to the next.
    private const double HoursLate = 5.4;
    private const double HoursApart = 12.42;

    /// <inheritdoc/>
    public string Table => "register.STAYS";

    /// <inheritdoc/>
    public string Column => "high_water";

    /// <inheritdoc/>
    public IReadOnlyList<string> Reads => ["ARR_DT"];

    /// <inheritdoc/>
    public Task<IReadOnlyList<string?>> ComputeAsync(
        IReadOnlyList<IReadOnlyDictionary<string, string?>> records,
        CancellationToken cancellationToken
    ) => Task.FromResult<IReadOnlyList<string?>>([.. records.Select(record => On(StayNotices.DayOf(record["ARR_DT"])))]);

    /// <summary>About when the water is high on a day, such as <c>about 05:40</c>; null for no day.</summary>
    /// <param name="day">The day; the time is in UTC.</param>
    public static string? On(DateOnly? day)
    {
        if (day is not { } date)
            return null;
        var noon = date.ToDateTime(new TimeOnly(12, 0), DateTimeKind.Utc);
        var age = (noon - _newMoon).TotalDays % DaysOfLunation;
        var passage = 12 + (24 * (age < 0 ? age + DaysOfLunation : age) / DaysOfLunation);
        var first = (passage + HoursLate) % HoursApart;
        // To ten minutes: more would be made up.
        var minutes = (int)Math.Round(first * 6, MidpointRounding.AwayFromZero) * 10;
        return string.Create(CultureInfo.InvariantCulture, $"about {minutes / 60:00}:{minutes % 60:00}");
    }
}
