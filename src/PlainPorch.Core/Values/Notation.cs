using System.Text.Json.Serialization;

namespace PlainPorch.Core.Values;

/// <summary>With which marks people write numbers.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<NumberMarks>))]
public enum NumberMarks
{
    /// <summary>1,258.22: a comma between thousands, a decimal point.</summary>
    CommaPoint,

    /// <summary>1.258,22: a point between thousands, a decimal comma.</summary>
    PointComma,

    /// <summary>1 258,22: a space between thousands, a decimal comma.</summary>
    SpaceComma,
}

/// <summary>How the people of a porch write dates and numbers, and how what they type is read.</summary>
/// <param name="Dates">In which order the parts of a date stand.</param>
/// <param name="Numbers">With which marks numbers are written.</param>
public sealed record Notation(DateOrder Dates = DateOrder.DayMonthYear, NumberMarks Numbers = NumberMarks.CommaPoint)
{
    /// <summary>31/12/2019 and 1,258.22, where nothing else was chosen.</summary>
    public static Notation Usual { get; } = new();

    /// <summary>The sign before the fraction of a number.</summary>
    public char DecimalMark => Numbers is NumberMarks.CommaPoint ? '.' : ',';

    /// <summary>What stands between thousands.</summary>
    public char ThousandsMark =>
        Numbers switch
        {
            NumberMarks.CommaPoint => ',',
            NumberMarks.PointComma => '.',
            // Does not let a number break over two lines.
            _ => '\u00A0',
        };
}
