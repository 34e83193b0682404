namespace PlainPorch.Core.Rules;

/// <summary>Reads expressions.</summary>
public static class RuleReader
{
    /// <summary>Reads an expression of a panel.</summary>
    /// <param name="text">The text.</param>
    /// <param name="scope">What it can name.</param>
    /// <param name="rule">The expression; null on failure.</param>
    /// <param name="problem">Why it cannot be used, and where; null on success.</param>
    /// <returns>Whether it can be used.</returns>
    public static bool TryRead(string text, RuleScope scope, out Rule? rule, out RuleProblem? problem)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(scope);
        (rule, problem) = (null, null);
        try
        {
            rule = RuleBinder.Read(text, scope);
            return true;
        }
        catch (RuleProblemException wrong)
        {
            problem = wrong.Problem;
            return false;
        }
    }
}
