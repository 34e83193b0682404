using Npgsql;
using PlainPorch.Core.Filters;
using PlainPorch.Core.History;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Rules;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;
using PlainPorch.Data.History;
using PlainPorch.Data.Panels;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Rules;

/// <summary>
/// Asks the database whether what an act wrote is as the panels' checks want it, before the act comes to pass. Every act goes
/// through here, whichever way it came in; and the database looks at the rows as its own triggers left them.
/// </summary>
/// <param name="panel">The panel where the act is done.</param>
/// <param name="caller">Who does it.</param>
internal sealed class CheckKeeper(OpenPanel panel, Caller caller)
{
    // So many records are told of each check; who changed a thousand learns nothing from more.
    private const int Told = 3;

    // The panel's checks hold for whoever writes, whatever that one may see.
    private readonly PorchPanels _porch = panel.Panels.SeenBy(EverybodySeesEverything.Instance);

    /// <summary>Looks at what was written.</summary>
    /// <param name="transaction">The act's transaction.</param>
    /// <param name="records">What it did to which records.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>What forbids it; and the checks in spite of which it is done.</returns>
    public async Task<(IReadOnlyList<FieldProblem> Problems, IReadOnlyList<string> Despite)> RunAsync(
        NpgsqlTransaction transaction,
        IReadOnlyList<LoggedRecord> records,
        CancellationToken cancellationToken
    )
    {
        if (await ForbiddenAsync(records, cancellationToken) is { Count: > 0 } forbidden)
            return (forbidden, []);
        var written = records
            .Where(record => record.Act is not (LogAct.SetAside or LogAct.Erased))
            .ToLookup(record => record.Table);
        var asked = (
            from table in written
            from definition in _porch.All
            where definition.Table == table.Key && BoundCheck.AreIn(definition)
            let bound = _porch.Bind(definition, sourceIsReadOnly: false)
            where bound is not null
            from check in BoundCheck.Of(bound, _porch)
            select (Panel: bound, Check: check, Records: table.ToList())
        ).ToList();
        var restricted = RestrictedOf(written);
        if (asked.Count == 0 && restricted.Count == 0)
            return ([], []);
        var reader = new SourceReader(panel.Model, transaction.Connection!) { Transaction = transaction };
        // Of a record without a key the row is found by the transaction that wrote it.
        uint? version = asked
            .Select(one => (one.Panel, one.Records))
            .Concat(restricted)
            .Any(one => one.Records.Exists(record => record.Key is null) || one.Records.Count > RecordSelection.MostOf(one.Panel))
            ? SourceRows.VersionOf(await new SourceRows(transaction.Connection!).TransactionAsync(cancellationToken))
            : null;
        foreach (var (seen, of) in restricted)
        {
            if (await IsOutsideAsync(reader, seen, of, version, cancellationToken))
                return ([Outside(seen)], []);
        }

        var isOne = written.Sum(table => table.Count()) == 1;
        var found = new List<FieldProblem>();
        foreach (var (bound, check, of) in asked)
        {
            try
            {
                found.AddRange(await RunAsync(reader, bound, check, of, version, isOne, cancellationToken));
            }
            catch (PostgresException failure) when (RuleFailures.Of(failure) is { } why)
            {
                // The transaction is at its end with it: nothing else can be asked, and nobody can want it all the same.
                return ([new(check.Check.Column ?? "", CannotBeChecked(check.Check.Message, why))], []);
            }
        }

        var despite = found
            .Select(problem => problem.Warning)
            .OfType<string>()
            .Where(caller.Despite.Contains)
            .Distinct()
            .ToList();
        return ([.. found.Where(problem => problem.Warning is not { } name || !despite.Contains(name))], despite);
    }

    // What somebody writes stays among what that one sees. Records elsewhere that change with it are not theirs to answer for.
    private List<(BoundPanel Panel, List<LoggedRecord> Records)> RestrictedOf(ILookup<TableName, LoggedRecord> written) =>
        [
            .. from table in written
            let isOwn = table.Key == panel.Bound!.Table.Name
            let seen = isOwn ? panel.Bound! : panel.Panels.BoundOver(table.Key)
            where seen?.Sight is { Sees: true, Rows: not null }
            let concerned = table.Where(record => isOwn || record.Act is LogAct.Added).ToList()
            where concerned.Count > 0
            select (seen, concerned),
        ];

    private async Task<bool> IsOutsideAsync(
        SourceReader reader,
        BoundPanel seen,
        List<LoggedRecord> records,
        uint? version,
        CancellationToken cancellationToken
    )
    {
        var whole = _porch.Bind(seen.Definition, sourceIsReadOnly: false)!;
        var request = new RowRequest
        {
            // By everybody's eyes: by the person's own, what is outside is not there.
            Filter = Filter.Join(Among(whole, records, version), new Filter.Not(seen.Sight.Rows!)),
            Columns = [whole.Identity.Exists ? whole.Identity.Columns[0] : whole.Table.Columns[0].Name],
            Take = 1,
        };
        return (await reader.ReadAsync(whole.Table, request, cancellationToken)).Count > 0;
    }

    private static FieldProblem Outside(BoundPanel seen)
    {
        var by = seen.Sight.Fills.Keys.Select(seen.Find).OfType<BoundColumn>().FirstOrDefault();
        return new(
            by?.Name ?? "",
            by is null
                ? $"It would not be among the {seen.Definition.Label} that you may see. Change it, or ask whoever manages this porch."
                : $"With this it would not be among the {seen.Definition.Label} that you may see. Choose what is yours."
        );
    }

    // What the records were before the act: another connection sees them so until it comes to pass, and whatever was written to is
    // locked until then.
    private async Task<IReadOnlyList<FieldProblem>> ForbiddenAsync(
        IReadOnlyList<LoggedRecord> records,
        CancellationToken cancellationToken
    )
    {
        var asked = (
            from table in records.ToLookup(record => record.Table)
            from definition in _porch.All
            where definition.Table == table.Key && definition is not { ChangeIf: null, RemoveIf: null }
            let bound = _porch.Bind(definition, sourceIsReadOnly: false)
            where bound is not null
            from one in new[]
            {
                (Condition: BoundCondition.Of(definition.ChangeIf, bound, _porch), IsRemoval: false),
                (Condition: BoundCondition.Of(definition.RemoveIf, bound, _porch), IsRemoval: true),
            }
            where one.Condition is not null
            let concerned = table.Where(record => record.Key is not null && IsRemoval(record.Act) == one.IsRemoval).ToList()
            where concerned.Count > 0
            select (Panel: bound, Condition: one.Condition!, Records: concerned)
        ).ToList();
        if (asked.Count == 0)
            return [];
        await using var connection = await panel.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(panel.Model, connection);
        var found = new List<FieldProblem>();
        foreach (var (bound, condition, of) in asked)
        {
            foreach (var some in of.Chunk(RecordSelection.MostOf(bound)))
                found.AddRange(await ForbiddenAsync(reader, bound, condition, some, records.Count == 1, cancellationToken));
        }

        return [.. found.Take(Told)];
    }

    private async Task<IEnumerable<FieldProblem>> ForbiddenAsync(
        SourceReader reader,
        BoundPanel bound,
        BoundCondition condition,
        IReadOnlyList<LoggedRecord> records,
        bool isOne,
        CancellationToken cancellationToken
    )
    {
        if (condition.Rule is not { } rule)
            return
            [
                new(
                    "",
                    $"Which records of {bound.Definition.Label} can be changed or removed cannot be read any more: {condition.Problem!.Message} Correct it in the set-up."
                ),
            ];
        // An act may tell of a record twice, as of one that is moved and numbered.
        var byKey = records.GroupBy(record => KeyBefore(bound, record)).ToDictionary(same => same.Key, same => same.First());
        if (!RecordSelection.TryRead(bound, [.. byKey.Keys], out var selection, out _))
            throw new InvalidOperationException($"Keys that the logbook has are none of {bound.Table.Name}.");
        var asking = new RuleAsking(_porch.Now.DateTime, caller.Name);
        try
        {
            var rows = await reader.ReadAsync(
                bound.Table,
                new RowRequest
                {
                    Filter = Filter.Join(selection!.Filter, new Filter.Fulfils(new AskedRule(rule.IsFalse(), asking))),
                    Columns = bound.Identity.Columns,
                    Take = Told,
                },
                cancellationToken
            );
            return rows.Select(row => KeyOf(bound, bound.Identity.Columns, row))
                .Select(key => new FieldProblem(
                    "",
                    isOne
                        ? condition.Condition.Message
                        : $"{byKey.GetValueOrDefault(key)?.Title ?? key}: {condition.Condition.Message}"
                ));
        }
        catch (PostgresException failure) when (RuleFailures.Of(failure) is { } why)
        {
            return [new("", CannotBeChecked(condition.Condition.Message, why))];
        }
    }

    private static string CannotBeChecked(string message, RuleFailure why) =>
        $"“{message}” cannot be checked. {RuleFailedException.Words(why)}";

    private static bool? IsRemoval(LogAct act) =>
        act switch
        {
            LogAct.SetAside or LogAct.Erased => true,
            LogAct.Added or LogAct.BroughtBack => null,
            _ => false,
        };

    private static string KeyBefore(BoundPanel bound, LoggedRecord record) =>
        record.Changes.Any(change => bound.IsIdentifying(change.Column)) && RecordKey.ValuesOf(bound, record.Key!) is { } values
            ? RecordKey.Write([
                .. bound.Identity.Columns.Zip(values, (column, value) =>
                    record.Changes.FirstOrDefault(change => change.Column == column)?.From ?? value
                ),
            ])
            : record.Key!;

    private static string KeyOf(BoundPanel bound, IReadOnlyList<string> identity, string?[] row) =>
        RecordKey.Write([.. RowValues.Of(bound.Table, identity, row).Values.Select(value => value ?? "")]);

    private async Task<IEnumerable<FieldProblem>> RunAsync(
        SourceReader reader,
        BoundPanel bound,
        BoundCheck known,
        IReadOnlyList<LoggedRecord> records,
        uint? version,
        bool isOne,
        CancellationToken cancellationToken
    )
    {
        if (known.Rule is not { } rule)
            return
            [
                new(
                    "",
                    $"The check “{known.Check.Name}” cannot be read any more: {known.Problem!.Message} Correct it in the set-up of {bound.Definition.Label}."
                ),
            ];
        var columns = rule.Columns().ToHashSet();
        var concerned = records
            .Where(record =>
                // Of many the logbook may tell nothing but their number.
                record.Act
                    is LogAct.Added
                        or LogAct.BroughtBack
                || record.Changes.Count == 0
                || record.Changes.Any(change => columns.Contains(change.Column))
            )
            .ToList();
        if (concerned.Count == 0)
            return [];
        var asking = new RuleAsking(_porch.Now.DateTime, caller.Name);
        var identity = bound.Identity.Exists ? bound.Identity.Columns : [bound.Table.Columns[0].Name];
        var rows = await reader.ReadAsync(
            bound.Table,
            new RowRequest
            {
                Filter = Filter.Join(Among(bound, concerned, version), new Filter.Fulfils(new AskedRule(rule.IsFalse(), asking))),
                Columns = [.. identity],
                Take = Told,
            },
            cancellationToken
        );
        return rows.Select(row => KeyOf(bound, identity, row))
            .Select(key => known.Says(isOne ? null : concerned.FirstOrDefault(record => record.Key == key)?.Title ?? key));
    }

    private static Filter Among(BoundPanel bound, IReadOnlyList<LoggedRecord> records, uint? version) =>
        version is { } own ? new Filter.WrittenBy(own)
        : RecordSelection.TryRead(bound, [.. records.Select(record => record.Key!)], out var selection, out _) ? selection!.Filter
        : throw new InvalidOperationException($"Keys that the logbook has are none of {bound.Table.Name}.");
}
