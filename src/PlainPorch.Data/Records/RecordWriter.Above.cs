using PlainPorch.Core.Values;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>No record comes to stand above itself, whoever else moves records meanwhile.</summary>
public sealed partial class RecordWriter
{
    // Before anything is written: two who move two records under each other must not do so at once.
    private async Task TakeTurnAboveAsync(
        WriteSession session,
        IReadOnlyDictionary<string, string?> values,
        CancellationToken cancellationToken
    )
    {
        if (Panel.Above is { } above && values.GetValueOrDefault(above.Name) is not null)
            await TableLock.TakeAsync(session.Connection, Panel.Table.Name, "what stands above", cancellationToken);
    }

    // Once it is written: null where all is well.
    private async Task<FieldProblem?> CircleAsync(
        WriteSession session,
        IReadOnlyDictionary<string, string?> values,
        Func<IReadOnlyList<string>, bool> isOne,
        CancellationToken cancellationToken
    )
    {
        if (Panel.Above is not { } above || values.GetValueOrDefault(above.Name) is not { } value)
            return null;
        // However far: the way ends at the top, or where it has been.
        var way = await new Ancestry(store.Seen, above).FollowAsync(
            session.Reader,
            value,
            int.MaxValue,
            isOne,
            cancellationToken
        );
        // A circle that was there before, further up, is not of this doing.
        return way.MeetsEnd
            ? new FieldProblem(
                above.Name,
                $"The {Panel.Definition.RecordLabel} would stand above itself: {above.Label} is below it, or is itself. Choose another one."
            )
            : null;
    }
}
