using Npgsql;
using PlainPorch.Core.Rules;

namespace PlainPorch.Data.Rules;

/// <summary>Tells from the database's answer what went wrong with an expression.</summary>
internal static class RuleFailures
{
    /// <summary>What went wrong with an expression, where it was that.</summary>
    /// <param name="failure">What happened.</param>
    /// <returns>What went wrong; null for anything else.</returns>
    public static RuleFailure? Of(Exception failure) =>
        (failure as PostgresException)?.SqlState switch
        {
            PostgresErrorCodes.DivisionByZero => RuleFailure.DivisionByZero,
            PostgresErrorCodes.NumericValueOutOfRange or PostgresErrorCodes.DatetimeFieldOverflow => RuleFailure.OutOfRange,
            PostgresErrorCodes.SubstringError => RuleFailure.NegativeLength,
            _ => null,
        };
}
