using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Records;
using PlainPorch.Core.Values;
using PlainPorch.Data.Acts;
using PlainPorch.Data.Records;
using PlainPorch.Web.Panels;

namespace PlainPorch.Web.Records;

/// <summary>Records of another panel that are written together with the one that they refer to.</summary>
/// <param name="Panel">The slug of their panel.</param>
/// <param name="Column">The column of theirs that refers to the record; it is filled in here.</param>
/// <param name="Added">Values of new ones.</param>
/// <param name="Changed">What changes in present ones.</param>
public sealed record BelongingRequest(
    string Panel,
    string Column,
    IReadOnlyList<BelongingAddition>? Added = null,
    IReadOnlyList<BelongingChangeRequest>? Changed = null
);

/// <summary>A new record that belongs to another.</summary>
/// <param name="Values">Column names with texts; columns that are left out get their default.</param>
public sealed record BelongingAddition(IReadOnlyDictionary<string, string?> Values);

/// <summary>What changes in a record that belongs to another.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Version">The version that was shown.</param>
/// <param name="Values">Column names with texts; null empties a column.</param>
public sealed record BelongingChangeRequest(string Key, uint Version, IReadOnlyDictionary<string, string?> Values);

/// <summary>What was given for records that belong to another.</summary>
/// <param name="Parts">What is to be written, where nothing is wrong with it.</param>
/// <param name="Problems">What is wrong, by panel, line and column; empty where all is well.</param>
internal sealed record BelongingInput(IReadOnlyList<Belonging> Parts, IReadOnlyList<FieldProblem> Problems)
{
    /// <summary>How many records can be written together with one.</summary>
    public const int Most = 500;

    /// <summary>Checks what was given.</summary>
    public static async Task<BelongingInput> CheckAsync(
        PanelHere here,
        IReadOnlyList<BelongingRequest> requests,
        ActRunner acts,
        CancellationToken cancellationToken
    )
    {
        if (requests.Sum(request => (request.Added?.Count ?? 0) + (request.Changed?.Count ?? 0)) > Most)
            return Wrong("belonging", $"At most {Most} records can be saved together with one. Save some of them first.");
        var parts = new List<Belonging>();
        var problems = new List<FieldProblem>();
        foreach (var request in requests)
        {
            if (
                here.Opened.Seen.OtherToWrite(request.Panel) is not { } other
                || other.Panel.Find(request.Column) is not { Decision.Lookup: { } lookup } column
                || lookup.Table != here.Bound.Table.Name
            )
                return Wrong(
                    "belonging",
                    $"No records of the panel {request.Panel} refer to these by {request.Column}. Name a panel and a column of it that do."
                );
            if (WhyNot(request, other.Panel) is { } refusal)
                return Wrong("belonging", $"{refusal.Reason} {refusal.Remedy}");
            var store = new RecordStore(other);
            var name = $"{request.Panel}.{request.Column}";
            var added = Checked([.. (request.Added ?? []).Select(one => one.Values)], (values, i) =>
            {
                // What refers to the record is filled in when it is written.
                var assigned = lookup.Also.Select(pair => pair.From).Append(column.Name).ToHashSet();
                if (RecordInput.TooLong(other.Panel, values) is { Count: > 0 } tooLong)
                    return (new CheckedInput(new Dictionary<string, string?>(), tooLong), $"{name}.added.{i}");
                var own = values.Where(pair => !assigned.Contains(pair.Key)).ToDictionary();
                if (NextNumber.ColumnOf(other.Panel) is { } numbered)
                    assigned.Add(numbered.Name);
                return (RecordInput.Check(other.Panel, own, isNew: true, assigned), $"{name}.added.{i}");
            });
            var changes = new List<BelongingChange>();
            foreach (var (change, i) in (request.Changed ?? []).Select((change, i) => (change, i)))
            {
                if (RecordInput.TooLong(other.Panel, change.Values) is { Count: > 0 } tooLong)
                {
                    Note(new CheckedInput(new Dictionary<string, string?>(), tooLong), $"{name}.changed.{i}");
                    continue;
                }

                var given = await store.ChangesAsync(change.Key, change.Values, cancellationToken);
                var input = RecordInput.Check(other.Panel, given, isNew: false, assigned: new HashSet<string>());
                Note(input, $"{name}.changed.{i}");
                if (input.Values.Count > 0)
                    changes.Add(new(change.Key, change.Version, input.Values));
            }

            if (added.Count + changes.Count > 0)
                parts.Add(new Belonging(new RecordWriter(store, acts, here.Opened), column, added, changes, name));
        }

        return new BelongingInput(parts, problems);

        static BelongingInput Wrong(string field, string why) => new([], [new FieldProblem(field, why)]);

        List<IReadOnlyDictionary<string, string?>> Checked(
            IReadOnlyList<IReadOnlyDictionary<string, string?>> lines,
            Func<IReadOnlyDictionary<string, string?>, int, (CheckedInput Input, string Place)> check
        )
        {
            var values = new List<IReadOnlyDictionary<string, string?>>();
            for (var i = 0; i < lines.Count; i++)
            {
                var (input, place) = check(lines[i], i);
                Note(input, place);
                values.Add(input.Values);
            }

            return values;
        }

        void Note(CheckedInput input, string place) =>
            problems.AddRange(
                input.Problems.Select(problem =>
                    problem with
                    {
                        Field = problem.Field.Length == 0 ? place : $"{place}.{problem.Field}",
                    }
                )
            );
    }

    private static Refusal? WhyNot(BelongingRequest request, BoundPanel panel) =>
        request.Added is { Count: > 0 } && !panel.CanAdd
            ? RecordEndpoints.WhyNot(panel, PanelActs.Add, "add records to", "INSERT")
        : request.Changed is { Count: > 0 } && !panel.CanEdit
            ? RecordEndpoints.WhyNot(panel, PanelActs.Change, "change records of", "UPDATE")
        : null;
}
