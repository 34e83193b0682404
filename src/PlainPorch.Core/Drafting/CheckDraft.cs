using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Drafting;

/// <summary>Says what nearly all rows of a table keep to as a check of a panel over it.</summary>
public static class CheckDraft
{
    /// <summary>The check.</summary>
    /// <param name="found">What the rows keep to.</param>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The panels of its porch: what refers to the same record is called as there.</param>
    /// <returns>The check; null where the panel does not have what it takes, such as a column or a lookup.</returns>
    public static RecordCheck? Of(SurveyedCheck found, BoundPanel panel, PorchPanels porch)
    {
        ArgumentNullException.ThrowIfNull(found);
        ArgumentNullException.ThrowIfNull(panel);
        var columns = found.Columns.Select(panel.Find).OfType<BoundColumn>().ToList();
        if (
            columns.Count != found.Columns.Count
            || columns.Count != ColumnsOf(found.Sort)
            || columns.Exists(column => panel.IsHidden(column.Name))
        )
            return null;
        var names = columns.Select(column => RuleNames.Quoted(column.Name)).ToList();
        var labels = columns.Select(column => column.Label).ToList();
        var drafted = found.Sort switch
        {
            LikelyCheckSort.InOrder => (
                $"{names[0]} <= {names[1]}",
                columns[1].Type.IsNumber
                    ? $"{labels[0]} cannot be more than {labels[1]}."
                    : $"{labels[1]} cannot be before {labels[0]}.",
                columns[1].Type.IsNumber ? columns[0] : columns[1]
            ),
            LikelyCheckSort.Product => (
                $"{names[0]} = {Rounded(columns[0], $"{names[1]} * {names[2]}")}",
                $"{labels[0]} should be {labels[1]} times {labels[2]}.",
                columns[0]
            ),
            LikelyCheckSort.Days => (
                $"{names[0]} = {Rounded(columns[0], $"({names[2]} - {names[1]}) * {names[3]}")}",
                $"{labels[0]} should be the days from {labels[1]} to {labels[2]}, times {labels[3]}.",
                columns[0]
            ),
            LikelyCheckSort.Sum => (
                $"{names[0]} = {names[1]} + {names[2]}",
                $"{labels[0]} should be {labels[1]} and {labels[2]} taken together.",
                columns[0]
            ),
            LikelyCheckSort.OneOpen => Among(found, panel, porch) is ({ } others, { } apart)
                ? (
                    $"{names[0]} is not null or not exists({others}) filter (where {apart} and {names[0]} is null)",
                    $"Another one with the same {labels[1]} has no {labels[0]} yet.",
                    columns[1]
                )
                : default((string, string, BoundColumn)?),
            LikelyCheckSort.Apart => Among(found, panel, porch) is ({ } others, { } apart)
                ? (
                    $"not exists({others}) filter (where {apart} and {names[0]} < record.{names[1]} and {names[1]} > record.{names[0]})",
                    $"Another one with the same {labels[2]} overlaps with it.",
                    columns[2]
                )
                : default((string, string, BoundColumn)?),
            _ => throw new ArgumentOutOfRangeException(nameof(found), found, "A sort of check that is not known here."),
        };
        return drafted is not var (condition, message, at)
            ? null
            : new RecordCheck
            {
                Name = Cut(message, RecordCheck.MostOfName),
                Condition = condition,
                Message = Cut(message, PanelCheck.MaxLabelLength),
                Column = at.Name,
            };
    }

    /// <summary>The proposals among what was found that a panel does not demand already.</summary>
    /// <param name="found">What nearly all rows keep to.</param>
    /// <param name="panel">The panel.</param>
    /// <param name="porch">The panels of its porch.</param>
    public static IReadOnlyList<(SurveyedCheck Found, RecordCheck Check)> NotYetIn(
        IEnumerable<SurveyedCheck> found,
        BoundPanel panel,
        PorchPanels porch
    )
    {
        ArgumentNullException.ThrowIfNull(found);
        ArgumentNullException.ThrowIfNull(panel);
        var scope = new RuleScope(panel, porch);
        var present = panel.Definition.Checks.Select(check => SignatureOf(check.Condition, scope)).ToHashSet();
        return
        [
            .. from one in found
            where one.Table == panel.Table.Name
            let check = Of(one, panel, porch)
            where check is not null && SignatureOf(check.Condition, scope) is not null
            where Spellings(one, check.Condition).All(condition => !present.Contains(SignatureOf(condition, scope)))
            select (one, check),
        ];
    }

    private static string Cut(string text, int most) => text.Length <= most ? text : text[..most];

    // What somebody decided about comes as it was sent.
    private static int ColumnsOf(LikelyCheckSort sort) =>
        sort switch
        {
            LikelyCheckSort.InOrder or LikelyCheckSort.OneOpen => 2,
            LikelyCheckSort.Days => 4,
            _ => 3,
        };

    // What is at most another can be said the other way round.
    private static IEnumerable<string> Spellings(SurveyedCheck found, string condition) =>
        found.Sort is LikelyCheckSort.InOrder
            ? [condition, $"{RuleNames.Quoted(found.Columns[1])} >= {RuleNames.Quoted(found.Columns[0])}"]
            : [condition];

    // The same condition may be written with other blanks, or with labels.
    private static string? SignatureOf(string condition, RuleScope scope) =>
        RuleReader.TryRead(condition, scope, out var rule, out _) ? rule!.Signature() : null;

    // Numbers are compared as they are stored.
    private static string Rounded(BoundColumn amount, string expression) =>
        (amount.Schema.Type.IsInteger ? 0 : amount.Schema.Type.Scale) is { } scale
            ? string.Create(CultureInfo.InvariantCulture, $"round({expression}, {scale})")
            : $"round({expression}, 4)";

    // How the others of the same record are named, and what tells them from this one.
    private static (string? Others, string? Apart) Among(SurveyedCheck found, BoundPanel panel, PorchPanels porch)
    {
        var scope = new RuleScope(panel, porch);
        if (
            !panel.Identity.Exists
            || scope.Columns.FirstOrDefault(column => column.Name == found.Columns[^1]) is not { } of
            || scope.Follow(of) is not { } there
        )
            return (null, null);
        var name = there
            .Scope.Related.Where(kind => kind.Related.Panel.Table.Name == panel.Table.Name && kind.Related.Column.Name == of.Name)
            .OrderByDescending(kind => kind.Related.Panel.Definition.Slug == panel.Definition.Slug)
            .Select(kind => kind.Name)
            .FirstOrDefault();
        var parts = panel.Identity.Columns.Select(RuleNames.Quoted).Select(key => $"{key} <> record.{key}").ToList();
        return name is null
            ? (null, null)
            : (
                $"{RuleNames.Quoted(of.Name)}.{RuleNames.Quoted(name)}",
                parts is [var only] ? only : $"({string.Join(" or ", parts)})"
            );
    }
}
