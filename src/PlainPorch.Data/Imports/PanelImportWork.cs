using PlainPorch.Core.Imports;
using PlainPorch.Core.Values;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Imports;

/// <summary>Rows on their way into a panel.</summary>
/// <param name="columns">What the file calls its columns.</param>
/// <param name="rows">The rows, with what becomes of each.</param>
/// <param name="leaving">The keys of the records that are set aside.</param>
internal sealed class PanelImportWork(IReadOnlyList<string> columns, List<PlannedRow> rows, IReadOnlyList<string> leaving)
{
    /// <summary>The rows.</summary>
    public IReadOnlyList<PlannedRow> Rows => rows;

    /// <summary>The keys of the records that are set aside.</summary>
    public IReadOnlyList<string> Leaving => leaving;

    /// <summary>How many others go along with those.</summary>
    public long AlongWith { get; set; }

    /// <summary>Why it cannot be done at all; null where it can.</summary>
    public string? Forbidden { get; set; }

    /// <summary>How many rows are left out.</summary>
    public int Rejected => rows.Count(row => row.Fate is RowFate.Rejected);

    /// <summary>The places of the rows that are written.</summary>
    public List<int> Places() =>
        [.. Enumerable.Range(0, rows.Count).Where(place => rows[place].Fate is RowFate.New or RowFate.Changed)];

    /// <summary>Leaves a row out.</summary>
    public void Reject(int place, FieldProblem reason) =>
        rows[place] = rows[place] with { Fate = RowFate.Rejected, Reason = reason };

    /// <summary>What is told of it.</summary>
    public PanelPlan ToPlan(OpenPanel panel) =>
        PanelPlan.Of(panel.Bound!, rows, columns, [.. leaving], AlongWith, panel.Seen.Porch.Notation) with
        {
            Forbidden = Forbidden,
        };
}
