using PlainPorch.Core.Panels;

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

    /// <summary>A column's name as it is written in an expression: in quotation marks where it is no plain word.</summary>
    /// <param name="column">The column.</param>
    public static string NameOf(BoundColumn column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return NameOf(column.Name);
    }

    /// <summary>A name as it is written in an expression: in quotation marks where it is no plain word.</summary>
    /// <param name="name">The exact name.</param>
    public static string NameOf(string name) => RuleNames.Quoted(name);

    /// <summary>An expression in which columns stand by their names, and not by the labels that people may change.</summary>
    /// <param name="text">The text.</param>
    /// <param name="scope">What it can name.</param>
    /// <returns>The text; as it was where it cannot be read.</returns>
    public static string WithNames(string text, RuleScope scope)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(scope);
        try
        {
            RuleBinder.Read(text, scope, out var renamed);
            return renamed
                .DistinctBy(one => one.Place.Start)
                .OrderByDescending(one => one.Place.Start)
                .Aggregate(text, (now, one) => now[..one.Place.Start] + one.Name + now[one.Place.End..]);
        }
        catch (RuleProblemException)
        {
            return text;
        }
    }
}
