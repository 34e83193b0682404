using System.Globalization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>
/// What the references of a schema say together: tables that only join others are referred to by none; where several columns of
/// one name are known to mean one table, the others of that name mean it too; and of tables that fit alike it is the one that
/// most others refer to.
/// </summary>
internal sealed class ReferenceAgreement
{
    private const int EnoughAgree = 2;
    private const double AgreeingShare = 0.75;
    private const double AgreedConfidence = 0.7;

    // Guesses do not make each other surer.
    private const double SureOfName = 0.84;

    // By so much a candidate of its own name may be better than what the others agree on.
    private const double Nearly = 0.01;
    private const double Tied = 0.01;

    private readonly SchemaCustoms _customs;
    private readonly HashSet<TableName> _joins;
    private readonly Dictionary<string, (TableName Target, string Key, int Count)> _agreed;
    private readonly Dictionary<TableName, int> _uses;
    private readonly Dictionary<TableName, Table> _tables;

    /// <summary>Learns what is agreed on.</summary>
    /// <param name="customs">How names are made in the schema.</param>
    /// <param name="tables">The tables, with what they declare.</param>
    /// <param name="found">The best reference of each column that has one.</param>
    public ReferenceAgreement(SchemaCustoms customs, IReadOnlyList<Table> tables, IEnumerable<Reference> found)
    {
        _customs = customs;
        _tables = tables.ToDictionary(table => table.Name);
        var held = found
            .Concat(tables.SelectMany(table => table.ForeignKeys.Select(key => Reference.Declared(table, key))))
            .Where(reference => reference is { Confidence: >= ReferenceFinder.Threshold, Where: null })
            .ToList();
        var own = held.ToLookup(reference => reference.Table);
        _joins = [.. tables.Where(table => JoinTables.IsOne(table, [.. own[table.Name]], customs)).Select(table => table.Name)];
        _uses = held.GroupBy(reference => reference.Target).ToDictionary(group => group.Key, group => group.Count());
        _agreed = [];
        foreach (
            var group in held.Where(reference =>
                    reference.Columns.Count == 1
                    && reference.Confidence >= SureOfName
                    && reference.Target != reference.Table
                    && !_joins.Contains(reference.Target)
                )
                .GroupBy(reference => NameOf(reference.Table, reference.Columns[0]))
                .Where(group => group.Key is not null)
        )
        {
            var best = group
                .GroupBy(reference => (reference.Target, Key: reference.TargetColumns[0]))
                .MaxBy(same => same.Count())!;
            if (best.Count() >= EnoughAgree && best.Count() >= AgreeingShare * group.Count())
                _agreed[group.Key!] = (best.Key.Target, best.Key.Key, best.Count());
        }
    }

    /// <summary>Decides what a column refers to.</summary>
    /// <param name="table">Its table.</param>
    /// <param name="column">The column.</param>
    /// <param name="candidates">What it may refer to.</param>
    /// <param name="choose">How the best of them is chosen.</param>
    /// <returns>The reference; null where there is none worth showing.</returns>
    public Reference? Decide(
        Table table,
        Column column,
        IReadOnlyList<Reference> candidates,
        Func<IEnumerable<Reference>, Reference?> choose
    )
    {
        var left = candidates.Where(candidate => !_joins.Contains(candidate.Target) || candidate.NamesTheTable).ToList();
        if (AgreedOn(table, column) is { } agreed)
        {
            var there = left.Find(candidate => candidate.Target == agreed.Target && candidate.TargetColumns[0] == agreed.Key);
            var best = left.Count == 0 ? 0 : left.Max(candidate => candidate.Confidence);
            if (Follow(table, column, agreed, there) is { } followed && followed.Confidence >= best - Nearly)
                return followed;
        }

        return choose(MostUsedOfTied(left));
    }

    private (TableName Target, string Key, int Count)? AgreedOn(Table table, Column column) =>
        NameOf(table.Name, column.Name) is { } name && _agreed.TryGetValue(name, out var agreed) && agreed.Target != table.Name
            ? agreed
            : null;

    private Reference? Follow(Table table, Column column, (TableName Target, string Key, int Count) agreed, Reference? there)
    {
        var key = _tables[agreed.Target].Find(agreed.Key)!;
        if (
            column.Type.Kind != key.Type.Kind
            || column.Type.MaxLength != key.Type.MaxLength
            || table.Keys.Any(own => own.Columns is [var only] && only == column.Name)
            // Values that were compared and do not fit outweigh what other tables say.
            || there is { Coverage: < 0.9 }
        )
            return null;
        var says = string.Create(CultureInfo.InvariantCulture, $"{agreed.Count} other columns of this name refer there");
        return there is null
            ? new Reference
            {
                Table = table.Name,
                Columns = [column.Name],
                Target = agreed.Target,
                TargetColumns = [agreed.Key],
                Confidence = AgreedConfidence,
                Evidence = says,
            }
            : there with
            {
                Confidence = Math.Round(Math.Min(0.99, Math.Max(there.Confidence, AgreedConfidence)), 3),
                Evidence = $"{there.Evidence}; {says}",
            };
    }

    // What nearer tables do not decide, use does.
    private IEnumerable<Reference> MostUsedOfTied(List<Reference> candidates)
    {
        if (candidates.Count < 2)
            return candidates;
        var best = candidates.Max(candidate => candidate.Confidence);
        var tied = candidates.Where(candidate => candidate.Confidence >= best - Tied).ToList();
        if (tied.DistinctBy(candidate => candidate.Target).Count() < 2)
            return candidates;
        var byUse = tied.OrderByDescending(candidate => _uses.GetValueOrDefault(candidate.Target)).ToList();
        return _uses.GetValueOrDefault(byUse[0].Target) > _uses.GetValueOrDefault(byUse[1].Target)
            ? candidates
                .Except(tied)
                .Append(
                    byUse[0] with
                    {
                        Confidence = best * 0.9,
                        Evidence = $"{byUse[0].Evidence}; of the tables that fit, most others refer to this one",
                    }
                )
                .Where(candidate => candidate.Target == byUse[0].Target || candidate.Confidence < best * 0.9)
            : candidates;
    }

    private string? NameOf(TableName table, string column)
    {
        var core = Vocabulary.Core(_customs.Of(table, column));
        return core.Count == 0 ? null : string.Join(' ', core);
    }
}
