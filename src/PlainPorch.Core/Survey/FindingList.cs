using System.Collections.Frozen;
using System.Globalization;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Survey;

/// <summary>Joins what a survey found with what a developer decided about it.</summary>
public static class FindingList
{
    // Whoever takes a long text for a short one loses nothing; whoever takes a flag for a marker hides records.
    private static readonly FrozenSet<string> _leanedOn = new[]
    {
        Meaning.RemovedMarker,
        Meaning.Secret,
        Meaning.Sensitive,
        Meaning.Position,
        Meaning.CreatedAt,
        Meaning.CreatedBy,
        Meaning.ChangedAt,
        Meaning.ChangedBy,
        Meaning.DateInDisguise,
        Meaning.TimeInDisguise,
        Meaning.YesNoInDisguise,
        Meaning.Picture,
        Meaning.Several,
    }
        .Select(Name)
        .ToFrozenSet();

    /// <summary>Whether drafts do something with a meaning that a wrong guess would make wrong.</summary>
    internal static bool IsLeanedOn(string meaning) => _leanedOn.Contains(meaning);

    /// <summary>The value of the finding that rows of a table are the same.</summary>
    internal const string Twins = "twins";

    // That the rows overlap is counted; that they should not is only likely.
    private const double OverlapConfidence = 0.7;

    /// <summary>All findings, those that were decided on and are no longer found among them.</summary>
    /// <param name="report">The latest survey.</param>
    /// <param name="decisions">The decisions.</param>
    public static IReadOnlyList<Finding> Of(SurveyReport report, IReadOnlyList<FindingDecision> decisions)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(decisions);
        var bySubject = decisions.ToDictionary(decision => decision.Subject.Id);
        var seen = new HashSet<string>();
        var list = new List<Finding>();
        foreach (var finding in Found(report))
        {
            seen.Add(finding.Subject.Id);
            list.Add(bySubject.TryGetValue(finding.Subject.Id, out var decision) ? Decided(finding, decision) : finding);
        }

        list.AddRange(
            decisions.Where(decision => decision.Verdict is Verdict.Right && !seen.Contains(decision.Subject.Id)).Select(LostOf)
        );
        return list;
    }

    /// <summary>The report as it holds after the decisions: what was overruled is gone, what was accepted is sure.</summary>
    public static SurveyReport Apply(SurveyReport report, IReadOnlyList<FindingDecision> decisions)
    {
        ArgumentNullException.ThrowIfNull(report);
        ArgumentNullException.ThrowIfNull(decisions);
        var bySubject = decisions.ToDictionary(decision => decision.Subject.Id);
        var references = report
            .References.Where(reference => !reference.Declared)
            .Where(reference =>
                !bySubject.TryGetValue(SubjectOf(reference).Id, out var decision)
                || (decision.Verdict is Verdict.Wrong && decision.Value != ValueOf(reference))
            )
            .Concat(
                decisions
                    .Where(decision => decision is { Verdict: Verdict.Right, Reference: not null })
                    .Select(decision => decision.Reference! with { Confidence = 1 })
            );
        var applied = report with
        {
            References = [.. report.References.Where(reference => reference.Declared), .. references],
            Columns = [.. report.Columns.Select(column => Apply(column, bySubject))],
            Tables = [.. report.Tables.Select(table => Apply(table, bySubject))],
            Checks = Accepted(report, decisions),
        };
        return applied with { Tables = TitleSamples.Shown(applied) };
    }

    // What was said to be right holds, whatever later surveys find.
    private static IReadOnlyList<SurveyedCheck> Accepted(SurveyReport report, IReadOnlyList<FindingDecision> decisions) =>
        [
            .. from decision in decisions
            where decision is { Verdict: Verdict.Right, Subject.Sort: FindingSort.Check }
            where Enum.TryParse<LikelyCheckSort>(decision.Value, ignoreCase: true, out _)
            let sort = Enum.Parse<LikelyCheckSort>(decision.Value, ignoreCase: true)
            let found = report.Checks.FirstOrDefault(check => SubjectOf(check).Id == decision.Subject.Id && check.Sort == sort)
            select (
                found ?? new SurveyedCheck(decision.Subject.Table, sort, decision.Subject.Columns, 1, 0, 0, IsCounted: false)
            ) with
            {
                IsAccepted = true,
            },
        ];

    /// <summary>What the finding of something that rows keep to is about.</summary>
    public static FindingSubject SubjectOf(SurveyedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return new(FindingSort.Check, check.Table, check.Columns);
    }

    /// <summary>What rows keep to, in words.</summary>
    public static string Says(SurveyedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return Words.Of(check);
    }

    /// <summary>The finding's value of something that rows keep to.</summary>
    public static string ValueOf(SurveyedCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        return Name(check.Sort);
    }

    /// <summary>The finding's value of a reference: the columns that it points to.</summary>
    public static string ValueOf(SurveyedReference reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        return $"{reference.RefSchema}.{reference.RefTable}({string.Join(", ", reference.RefColumns)}){(reference.List is { } list ? $" {list.Column} = {list.Value}" : "")}";
    }

    /// <summary>What a reference's finding is about.</summary>
    public static FindingSubject SubjectOf(SurveyedReference reference)
    {
        ArgumentNullException.ThrowIfNull(reference);
        return new(FindingSort.Reference, new TableName(reference.Schema, reference.Table), reference.Columns);
    }

    private static IEnumerable<Finding> Found(SurveyReport report)
    {
        foreach (var reference in report.References)
        {
            var where = reference.Where is null ? "" : $" where {reference.Where}";
            yield return new Finding(
                SubjectOf(reference),
                ValueOf(reference),
                $"refers to {reference.RefSchema}.{reference.RefTable} ({string.Join(", ", reference.RefColumns)}){where}",
                reference.Confidence,
                reference.Declared,
                reference.Evidence,
                null,
                FindingSupport.Found,
                reference
            );
        }

        foreach (var column in report.Columns.Where(column => column.Kind is not Meaning.Plain))
        {
            yield return new Finding(
                new(FindingSort.Meaning, new TableName(column.Schema, column.Table), [column.Name]),
                Name(column.Kind),
                $"is {Words.Of(column.Kind)}",
                column.Confidence,
                false,
                column.Evidence,
                null,
                FindingSupport.Found,
                null
            );
        }

        foreach (var spells in report.Overlaps)
        {
            yield return new Finding(
                new(FindingSort.Overlap, spells.Table, [spells.Begin, spells.End, spells.Of]),
                "overlap",
                string.Create(CultureInfo.InvariantCulture, $"overlap for the same {spells.Of} in {spells.Overlapping:N0} rows"),
                OverlapConfidence,
                false,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"of {spells.Rows:N0} rows, the others begin when the earlier ones with the same {spells.Of} have ended"
                ),
                null,
                FindingSupport.Found,
                null
            );
        }

        foreach (var check in report.Checks)
        {
            yield return new Finding(
                SubjectOf(check),
                ValueOf(check),
                Words.Of(check),
                check.Confidence,
                false,
                Words.WhyOf(check),
                null,
                FindingSupport.Found,
                null
            )
            {
                Check = check,
            };
        }

        foreach (var table in report.Tables)
        {
            var name = new TableName(table.Schema, table.Name);
            if (table.Shape is not TableShape.Main)
                yield return new Finding(
                    new(FindingSort.Shape, name, []),
                    Name(table.Shape),
                    $"is {Words.Of(table.Shape)}",
                    0.8,
                    false,
                    Words.WhyOf(table),
                    null,
                    FindingSupport.Found,
                    null
                );
            foreach (var key in table.CandidateKeys)
            {
                yield return new Finding(
                    new(FindingSort.Key, name, key),
                    string.Join(", ", key),
                    $"could have the key {string.Join(" and ", key)}",
                    key.Count == 1 ? 0.8 : 0.6,
                    false,
                    $"no two of the {(table.RowsAreEstimated ? "rows looked at" : "rows")} have the same values, and none is empty",
                    null,
                    FindingSupport.Found,
                    null
                );
            }

            if (table.Twins > 0)
                yield return new Finding(
                    new(FindingSort.Key, name, []),
                    Twins,
                    table.Twins == 1
                        ? "has no key, and one row is the same as another in every column"
                        : $"has no key, and {table.Twins} rows are the same as another in every column",
                    0.9,
                    false,
                    "nothing distinguishes these rows, so neither can be changed alone",
                    null,
                    FindingSupport.Found,
                    null
                );
            foreach (var miss in table.NearMisses)
            {
                yield return new Finding(
                    new(FindingSort.Key, name, miss.Columns),
                    string.Join(", ", miss.Columns),
                    $"has no key; {string.Join(" and ", miss.Columns)} comes close",
                    0.3,
                    false,
                    $"rows that repeat another's value: {miss.Duplicates}; empty: {miss.Empty}",
                    null,
                    FindingSupport.Found,
                    null
                );
            }
        }
    }

    private static Finding Decided(Finding finding, FindingDecision decision)
    {
        // A decision against one thing says nothing of another that is found now.
        if (decision.Verdict is Verdict.Wrong)
            return decision.Value == finding.Value ? finding with { Verdict = Verdict.Wrong } : finding;
        if (decision.Value == finding.Value)
            return finding with
            {
                Verdict = Verdict.Right,
                Support = finding.Confidence >= ReferenceFinder.Threshold ? FindingSupport.Found : FindingSupport.Otherwise,
            };
        return LostOf(decision) with
        {
            Support = FindingSupport.Otherwise,
            Evidence = $"the survey finds now: {finding.Says} ({finding.Evidence})",
        };
    }

    private static Finding LostOf(FindingDecision decision) =>
        new(
            decision.Subject,
            decision.Value,
            decision.Subject.Sort switch
            {
                FindingSort.Reference => $"refers to {decision.Value}",
                FindingSort.Meaning when Enum.TryParse<Meaning>(decision.Value, ignoreCase: true, out var meaning) =>
                    $"is {Words.Of(meaning)}",
                FindingSort.Shape when Enum.TryParse<TableShape>(decision.Value, ignoreCase: true, out var shape) =>
                    $"is {Words.Of(shape)}",
                FindingSort.Overlap => "overlap",
                FindingSort.Check => $"keep to {string.Join(", ", decision.Subject.Columns)}",
                _ => $"could have the key {decision.Value}",
            },
            1,
            false,
            "you decided it; the data no longer supports it",
            Verdict.Right,
            FindingSupport.Lost,
            decision.Reference
        );

    private static SurveyedColumn Apply(SurveyedColumn column, Dictionary<string, FindingDecision> decisions)
    {
        var subject = new FindingSubject(FindingSort.Meaning, new TableName(column.Schema, column.Table), [column.Name]);
        if (!decisions.TryGetValue(subject.Id, out var decision))
            return column;
        if (decision.Verdict is Verdict.Right && Enum.TryParse<Meaning>(decision.Value, ignoreCase: true, out var decided))
            return column with
            {
                Kind = decided,
                Confidence = 1,
                // What was read for another meaning is not what it means.
                Reading = decided == column.Kind ? column.Reading : null,
            };
        return decision.Verdict is Verdict.Wrong && decision.Value == Name(column.Kind)
            ? column with
            {
                Kind = Meaning.Plain,
                Confidence = 1,
                Reading = null,
            }
            : column;
    }

    private static SurveyedTable Apply(SurveyedTable table, Dictionary<string, FindingDecision> decisions)
    {
        var subject = new FindingSubject(FindingSort.Shape, new TableName(table.Schema, table.Name), []);
        if (!decisions.TryGetValue(subject.Id, out var decision))
            return table;
        if (decision.Verdict is Verdict.Right && Enum.TryParse<TableShape>(decision.Value, ignoreCase: true, out var decided))
            return table with { Shape = decided };
        return decision.Verdict is Verdict.Wrong && decision.Value == Name(table.Shape)
            ? table with
            {
                Shape = TableShape.Main,
            }
            : table;
    }

    private static string Name<T>(T value)
        where T : struct, Enum => value.ToString() is var name ? char.ToLowerInvariant(name[0]) + name[1..] : "";
}
