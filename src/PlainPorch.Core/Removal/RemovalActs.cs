using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Removal;

/// <summary>Decides, table by table, what is done with the rows that a removal takes along.</summary>
public sealed class RemovalActs
{
    private readonly Dictionary<TableName, RowAct> _acts = [];

    private RemovalActs() { }

    /// <summary>The tables whose rows a removal may take.</summary>
    public IReadOnlyCollection<TableName> Tables => _acts.Keys;

    /// <summary>What is done with the rows of a table.</summary>
    public RowAct Of(TableName table) => _acts[table];

    /// <summary>Decides from the table whose records are removed.</summary>
    /// <param name="porch">The porch's panels.</param>
    /// <param name="references">All references.</param>
    /// <param name="table">The table.</param>
    /// <param name="act">What is done with its records.</param>
    public static RemovalActs From(PorchPanels porch, RemovalReferences references, TableName table, RowAct act)
    {
        ArgumentNullException.ThrowIfNull(porch);
        ArgumentNullException.ThrowIfNull(references);
        var acts = new RemovalActs();
        acts._acts[table] = act;
        var open = new Queue<TableName>([table]);
        // A table's act only grows, so this ends.
        while (open.TryDequeue(out var referred))
        {
            foreach (var reference in references.To(referred))
            {
                var ofReferred = acts._acts[referred];
                if (reference.EffectOf(ofReferred).Effect is not RemovalEffect.GoesAlong)
                    continue;
                var own = ActOf(porch, reference, ofReferred);
                if (acts._acts.TryGetValue(reference.Table.Name, out var before) && before >= own)
                    continue;
                acts._acts[reference.Table.Name] = own;
                open.Enqueue(reference.Table.Name);
            }
        }

        return acts;
    }

    // Where a row leaves its table, the database lets no row stay that refers to it by a declared key, marked or not.
    private static RowAct ActOf(PorchPanels porch, RemovalReference reference, RowAct ofReferred)
    {
        if (ofReferred is RowAct.Erase)
            return RowAct.Erase;
        var isHeld = ofReferred is RowAct.Move && reference.Declared is not null;
        var canStay =
            RecordIdentity.Of(reference.Table).Exists && porch.BoundOver(reference.Table.Name) is { Manner: RemovalManner.Mark };
        return canStay && !isHeld ? RowAct.Mark : RowAct.Move;
    }
}
