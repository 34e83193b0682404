using PlainPorch.Core.Panels;
using PlainPorch.Core.Query;
using PlainPorch.Data.Lookups;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Query;

/// <summary>Says in words what a list is restricted to, records by their titles.</summary>
/// <param name="panel">The panel.</param>
/// <param name="reader">Reads the source.</param>
/// <param name="porch">The porch's panels.</param>
internal sealed class PlanWords(BoundPanel panel, SourceReader reader, PorchPanels porch)
{
    /// <summary>The pieces of a list's condition, in order.</summary>
    public async Task<IReadOnlyList<FilterPiece>> SayAsync(ListPlan plan, CancellationToken cancellationToken)
    {
        var pieces = new List<FilterPiece>();
        pieces.AddRange(
            plan.Search.Select(part => new FilterPiece(PieceSort.Search, part.Says, Start: part.Start, Length: part.Length))
        );
        pieces.AddRange(
            plan.Conditions.Select((condition, i) => (condition, i))
                .Where(pair => pair.condition is not null)
                .Select(pair => new FilterPiece(PieceSort.Condition, pair.condition!.Says, Index: pair.i))
        );
        foreach (var narrowing in plan.Narrowings)
        {
            var column = panel.Find(narrowing.Column)!;
            var titles = column.Decision.Lookup is { } lookup
                ? (await new LookupReader(porch).ReadAsync(reader, [(column.Name, lookup, narrowing.Values)], cancellationToken))[
                    column.Name
                ]
                : null;
            pieces.Add(
                new FilterPiece(
                    PieceSort.Narrowing,
                    narrowing.Say(column, porch.Notation, value => titles?.GetValueOrDefault(value)?.Title),
                    Column: column.Name
                )
            );
        }

        pieces.AddRange(
            plan.Unfit.Select(column => new FilterPiece(
                PieceSort.Unfit,
                $"{column.Label} does not fit: no {column.Reading!.Says}",
                Column: column.Name
            ))
        );
        if (plan.Breaks is { } broken)
            pieces.Add(new FilterPiece(PieceSort.Breaks, $"Does not keep to: {broken.Says}"));
        return pieces;
    }
}
