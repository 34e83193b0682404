namespace PlainPorch.Core.Rules;

/// <summary>An expression as it is written: nothing is known of its names yet.</summary>
/// <param name="Place">Where it stands.</param>
internal abstract record RuleSyntax(RulePlace Place)
{
    /// <summary>A number.</summary>
    internal sealed record Number(RulePlace Place, string Text) : RuleSyntax(Place);

    /// <summary>A text in quotation marks, with the type before it that it is read as (<c>date '2026-01-31'</c>).</summary>
    internal sealed record Quoted(RulePlace Place, string Text, string? Type) : RuleSyntax(Place);

    /// <summary>One of <c>true</c>, <c>false</c> and <c>null</c>; null for null.</summary>
    internal sealed record Word(RulePlace Place, bool? Value) : RuleSyntax(Place);

    /// <summary>A name, perhaps of several parts (<c>owner.town</c>).</summary>
    internal sealed record Name(RulePlace Place, IReadOnlyList<RuleName> Parts) : RuleSyntax(Place);

    /// <summary>A function of something.</summary>
    internal sealed record Call(RulePlace Place, RuleName Function, IReadOnlyList<RuleSyntax> Arguments, RuleSyntax? Filter)
        : RuleSyntax(Place);

    /// <summary>A part of a date (<c>extract(year from arrival)</c>).</summary>
    internal sealed record Extract(RulePlace Place, RuleName Field, RuleSyntax Of) : RuleSyntax(Place);

    /// <summary>A value as another type.</summary>
    internal sealed record Cast(RulePlace Place, RuleSyntax Of, RuleName Type, IReadOnlyList<string> Numbers) : RuleSyntax(Place);

    /// <summary>An operator with what it stands before or between.</summary>
    internal sealed record Operator(RulePlace Place, RuleOperation Operation, IReadOnlyList<RuleSyntax> Parts)
        : RuleSyntax(Place);

    /// <summary>The first case that holds.</summary>
    internal sealed record Case(
        RulePlace Place,
        RuleSyntax? Of,
        IReadOnlyList<(RuleSyntax When, RuleSyntax Then)> Cases,
        RuleSyntax? Else
    ) : RuleSyntax(Place);
}

/// <summary>A name as it is written.</summary>
/// <param name="Place">Where it stands.</param>
/// <param name="Text">The name, without quotation marks.</param>
/// <param name="IsQuoted">Whether it stood in quotation marks, so that capitals count.</param>
internal sealed record RuleName(RulePlace Place, string Text, bool IsQuoted);
