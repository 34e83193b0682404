using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tidying;

/// <summary>Checks what spellings are to become before the database is asked.</summary>
public static class TidyingCheck
{
    /// <summary>The greatest number of spellings that are changed together.</summary>
    public const int MostChanges = 5_000;

    /// <summary>Checks changes.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="column">The column's exact name.</param>
    /// <param name="wished">Stored spellings with the values that they become, as people type them.</param>
    /// <param name="changes">The changes with what is stored; those that change nothing are left out.</param>
    /// <returns>What is wrong, each with the spelling as its field; empty where nothing is.</returns>
    public static IReadOnlyList<FieldProblem> Check(
        BoundPanel panel,
        string column,
        IReadOnlyList<SpellingChange> wished,
        out IReadOnlyList<SpellingChange> changes
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(wished);
        var (checkedChanges, problems) = (new List<SpellingChange>(), new List<FieldProblem>());
        changes = checkedChanges;
        if (wished.Count is 0 or > MostChanges)
            return
            [
                new(
                    "changes",
                    wished.Count == 0
                        ? "No spelling is to become another. Choose some."
                        : $"At most {MostChanges} spellings can be changed together. Change some first."
                ),
            ];
        var byTarget = new Dictionary<(bool IsNone, string? To), CheckedInput>();
        var twice = wished
            .GroupBy(change => change.From)
            .Where(alike => alike.Count() > 1)
            .Select(alike => alike.Key)
            .ToHashSet();
        foreach (var change in wished)
        {
            // To be emptied and to be a text without a sign are two things.
            var target = (change.To is null, change.To);
            if (!byTarget.TryGetValue(target, out var input))
                byTarget[target] = input = RecordInput.Check(
                    panel,
                    new Dictionary<string, string?> { [column] = change.To },
                    isNew: false,
                    assigned: new HashSet<string>()
                );
            if (twice.Contains(change.From))
                problems.Add(new(change.From, $"“{change.From}” is to become two things. Choose one."));
            else if (input.Problems is [var problem, ..])
                problems.Add(new(change.From, problem.Message));
            else if (input.Values[column] != change.From)
                checkedChanges.Add(change with { To = input.Values[column] });
        }

        if (problems.Count == 0 && checkedChanges.Count == 0)
            problems.Add(new("changes", "All these spellings are already what they are to become. Choose others."));
        return problems;
    }
}
