using PlainPorch.Core.Definition;
using PlainPorch.Core.Filters;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Query;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>What a form offers to choose among.</summary>
public sealed partial class RecordStore
{
    /// <summary>Finds the records to choose among in a lookup.</summary>
    /// <param name="column">The lookup column.</param>
    /// <param name="question">What is asked of them.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The records; null where the column is no lookup, or what it refers to cannot be read.</returns>
    public async Task<LookupChoices?> ChooseAsync(string column, LookupQuestion question, CancellationToken cancellationToken)
    {
        if (
            _panel.Find(column) is not { Decision.Lookup: { } lookup } bound
            || seen.Porch.Bind(lookup) is not { Table.Rights.Read: true } target
        )
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(_model, connection);
        var choices = await new LookupChooser(reader, target, seen.Porch).FindAsync(
            question,
            await ExampleAsync(reader, bound, cancellationToken),
            cancellationToken
        );
        return choices with { Target = TargetOf(lookup) };
    }

    /// <summary>Some value of a lookup's column with leading zeros, whose form a new one gets; null where there is none.</summary>
    internal async Task<string?> ExampleAsync(SourceReader reader, BoundColumn column, CancellationToken cancellationToken) =>
        column.Type.Kind is ValueKind.Text && column.Decision.Lookup is { Conversion: not ValueConversion.None } ? (
                await reader.ReadAsync(
                    _panel.Table,
                    new RowRequest
                    {
                        Filter = new Filter.Matches(column.Name, "0", TextMatch.Anywhere),
                        Columns = [column.Name],
                        Take = 1,
                    },
                    cancellationToken
                )
            ).FirstOrDefault()?[0] : null;

    /// <summary>Finds the values by which a lookup's records are restricted and that are chosen beforehand.</summary>
    /// <param name="column">The column that is a lookup.</param>
    /// <param name="restriction">The column of the table referred to.</param>
    /// <param name="text">What was typed; null or empty for the first ones.</param>
    /// <param name="cancellationToken">Stops the reading.</param>
    /// <returns>The values; null where the lookup is not restricted so.</returns>
    public async Task<LookupChoices?> ChooseBeforeAsync(
        string column,
        string restriction,
        string? text,
        CancellationToken cancellationToken
    )
    {
        if (
            _panel.Find(column) is not { } bound
            || seen.Porch.Bind(bound) is not { } target
            || !target.Lookup.Within.Any(one => one.From is null && one.Column == restriction)
            || target.Column(restriction) is not { } restricting
            || seen.Porch.Searched(target) is not { } searched
            || searched.IsHidden(restriction)
        )
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        var reader = new SourceReader(_model, connection);
        if (seen.Porch.Bind(restricting) is { } further)
            return await new LookupChooser(reader, further, seen.Porch).FindAsync(new(text), null, cancellationToken);
        var values = await new SuggestionReader(reader, searched, seen.Porch).FindAsync(
            restricting,
            text ?? "",
            cancellationToken
        );
        return new LookupChoices([.. values.Select(value => new LookupChoice(value, value, null))], HasMore: false);
    }

    /// <summary>Finds the values that other records have in a column whose field offers them.</summary>
    /// <param name="column">The column.</param>
    /// <param name="text">What was typed.</param>
    /// <param name="cancellationToken">Stops the looking.</param>
    /// <returns>The values, likely ones first; null where the field offers none.</returns>
    public async Task<IReadOnlyList<string>?> SuggestAsync(string column, string text, CancellationToken cancellationToken)
    {
        if (_panel.Find(column) is not { OffersEarlier: true } bound)
            return null;
        await using var connection = await seen.Connections.OpenConnectionAsync(cancellationToken);
        return await new SuggestionReader(new SourceReader(_model, connection), _panel, seen.Porch).FindAsync(
            bound,
            text,
            cancellationToken
        );
    }

    // Whoever may not change this panel's records adds none beside them.
    private NewTarget? TargetOf(Lookup lookup) =>
        _panel.NotEditableBecause is null
        && seen.Porch.Over(lookup.Table) is { } panel
        && seen.Porch.Bind(panel, sourceIsReadOnly: false) is { CanAdd: true }
            ? new NewTarget(panel.Slug, panel.RecordLabel, lookup.Key, lookup.Where?.Column, lookup.Where?.Value)
            : null;
}
