namespace PlainPorch.Core.Rules;

/// <summary>What an expression does with its parts. Unless said otherwise it is null where a part is.</summary>
public enum RuleOperation
{
    /// <summary>Whether both hold; the second is not looked at where the first does not.</summary>
    And,

    /// <summary>Whether one holds; the second is not looked at where the first does.</summary>
    Or,

    /// <summary>Whether it does not hold.</summary>
    Not,

    /// <summary>Whether two are the same; texts to the letter.</summary>
    Equal,

    /// <summary>Whether two differ.</summary>
    NotEqual,

    /// <summary>Whether the first is less; texts by the numbers of their characters in Unicode.</summary>
    Less,

    /// <summary>Whether the first is not more.</summary>
    AtMost,

    /// <summary>Whether the first is more.</summary>
    More,

    /// <summary>Whether the first is not less.</summary>
    AtLeast,

    /// <summary>Whether two differ, where null is a value like others; never null.</summary>
    Distinct,

    /// <summary>Whether two are the same, where null is a value like others; never null.</summary>
    NotDistinct,

    /// <summary>Whether it is null; never null.</summary>
    IsNull,

    /// <summary>Whether it is one of those that follow; read as one comparison after the other.</summary>
    In,

    /// <summary>Whether a text matches a fixed pattern of <c>%</c>, <c>_</c> and <c>\</c>.</summary>
    Like,

    /// <summary>The sum of numbers.</summary>
    Add,

    /// <summary>The difference of numbers.</summary>
    Subtract,

    /// <summary>The product, rounded to ten places.</summary>
    Multiply,

    /// <summary>The quotient, carried to twenty places and rounded to ten.</summary>
    Divide,

    /// <summary>What is left of a division without fractions, with the sign of the dividend.</summary>
    Modulo,

    /// <summary>The number with the other sign.</summary>
    Negate,

    /// <summary>A day or moment later by so many days, rounded to whole ones.</summary>
    AddDays,

    /// <summary>A day or moment earlier by so many days, rounded to whole ones.</summary>
    SubtractDays,

    /// <summary>How many days lie between two.</summary>
    DaysBetween,

    /// <summary>Two texts one after the other.</summary>
    Join,

    /// <summary>The first that is not null.</summary>
    Coalesce,

    /// <summary>The first, or null where it equals the second.</summary>
    NullIf,

    /// <summary>The greatest of those that are not null.</summary>
    Greatest,

    /// <summary>The least of those that are not null.</summary>
    Least,

    /// <summary>The number without its sign.</summary>
    Abs,

    /// <summary>1, 0 or -1.</summary>
    Sign,

    /// <summary>The next whole number below.</summary>
    Floor,

    /// <summary>The next whole number above.</summary>
    Ceiling,

    /// <summary>The number with so many places, halves away from zero.</summary>
    Round,

    /// <summary>The number cut to so many places.</summary>
    Trunc,

    /// <summary>How many characters a text has.</summary>
    Length,

    /// <summary>The text in capitals, of <see cref="RuleLetters"/>.</summary>
    Upper,

    /// <summary>The text in small letters, of <see cref="RuleLetters"/>.</summary>
    Lower,

    /// <summary>The text without the blanks around it.</summary>
    Trim,

    /// <summary>A part of a text, from a place on (from 1), perhaps with a length.</summary>
    Substring,

    /// <summary>So many characters from the left; for a negative number, all but so many.</summary>
    Left,

    /// <summary>So many characters from the right; for a negative number, all but so many.</summary>
    Right,

    /// <summary>The place (from 1) of the first text in the second; 0 where it is not in it.</summary>
    Position,

    /// <summary>The text with each of a part in it replaced.</summary>
    Replace,

    /// <summary>Whether a text begins with another.</summary>
    StartsWith,

    /// <summary>A part of a date or time, which the detail names.</summary>
    Extract,

    /// <summary>A day later by so many months, or the last of its month.</summary>
    AddMonths,

    /// <summary>The value as text.</summary>
    ToText,

    /// <summary>The number with so many digits as the detail says.</summary>
    ToNumber,

    /// <summary>The day of a moment.</summary>
    ToDate,

    /// <summary>The beginning of a day.</summary>
    ToMoment,
}
