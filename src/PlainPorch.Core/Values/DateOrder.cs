using System.Text.Json.Serialization;

namespace PlainPorch.Core.Values;

/// <summary>In which order people write the parts of a date in figures.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<DateOrder>))]
public enum DateOrder
{
    /// <summary>31/12/2019.</summary>
    DayMonthYear,

    /// <summary>12/31/2019.</summary>
    MonthDayYear,
}
