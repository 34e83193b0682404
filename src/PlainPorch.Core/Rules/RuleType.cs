using System.Text.Json.Serialization;

namespace PlainPorch.Core.Rules;

/// <summary>What the values of an expression are.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<RuleType>))]
public enum RuleType
{
    /// <summary>Nothing but null: the bare word <c>null</c>, before anything else says what it stands for.</summary>
    Nothing,

    /// <summary>
    /// A number with at most 18 digits before the point and ten after it (<c>numeric(28,10)</c>); greater ones are an error.
    /// </summary>
    Number,

    /// <summary>A text of Unicode characters.</summary>
    Text,

    /// <summary>A day, of the range that PostgreSQL's <c>date</c> has.</summary>
    Date,

    /// <summary>A day and a time without a zone; what has one is taken in UTC.</summary>
    Moment,

    /// <summary>A time of day.</summary>
    Time,

    /// <summary>True or false.</summary>
    Truth,

    /// <summary>What can only be asked whether it is there: bytes, JSON, lists.</summary>
    Other,
}

/// <summary>Where something stands in the text of an expression.</summary>
/// <param name="Start">The place of its first character, from 0.</param>
/// <param name="End">The place behind its last one.</param>
public readonly record struct RulePlace(int Start, int End)
{
    /// <summary>From the beginning of this to the end of another.</summary>
    /// <param name="other">The other one, which does not begin earlier.</param>
    public RulePlace To(RulePlace other) => new(Start, other.End);
}

/// <summary>Why an expression cannot be used.</summary>
/// <param name="Place">Where in its text.</param>
/// <param name="Message">What is wrong, with the remedy.</param>
public sealed record RuleProblem(RulePlace Place, string Message);

/// <summary>An expression that cannot be used, or not so.</summary>
/// <param name="problem">Why, and where.</param>
internal sealed class RuleProblemException(RuleProblem problem) : Exception(problem.Message)
{
    /// <summary>Why, and where.</summary>
    public RuleProblem Problem => problem;

    /// <summary>Says it of a place.</summary>
    public static RuleProblemException At(RulePlace place, string message) => new(new RuleProblem(place, message));
}

/// <summary>What can go wrong when an expression is evaluated, alike here and in the database.</summary>
public enum RuleFailure
{
    /// <summary>Something is divided by zero.</summary>
    DivisionByZero,

    /// <summary>A number, a day or a moment is beyond what there is.</summary>
    OutOfRange,

    /// <summary>A part of a text is asked for whose length is negative.</summary>
    NegativeLength,
}

/// <summary>An expression came to no value.</summary>
/// <param name="failure">What went wrong.</param>
public sealed class RuleFailedException(RuleFailure failure) : Exception(Words(failure))
{
    /// <summary>What went wrong.</summary>
    public RuleFailure Failure => failure;

    /// <summary>What went wrong, as a sentence.</summary>
    /// <param name="failure">Which it is.</param>
    public static string Words(RuleFailure failure) =>
        failure switch
        {
            RuleFailure.DivisionByZero => "Something is divided by zero.",
            RuleFailure.NegativeLength => "A part of a text is asked for whose length is negative.",
            _ => "A number or a date is beyond what can be reckoned with.",
        };
}
