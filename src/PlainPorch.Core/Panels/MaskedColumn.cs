using System.Globalization;
using PlainPorch.Core.Definition;

namespace PlainPorch.Core.Panels;

/// <summary>
/// Columns of which somebody sees but the last characters. The database makes what is seen, in a column of another name: whatever
/// can be asked about that one is told by what is seen anyway.
/// </summary>
public static class MaskedColumn
{
    /// <summary>What stands for the characters that are not seen, however many they are.</summary>
    public const string Dots = "••••";

    /// <summary>The name of the column that is seen in place of one.</summary>
    public static string NameFor(string column) => column + "~";

    /// <summary>A panel with such columns in place of those that somebody may not see as they are.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="sight">What the person sees.</param>
    public static PanelDefinition On(PanelDefinition panel, PanelSight sight)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(sight);
        return sight.MaskedColumns.Count == 0
            ? panel
            : panel with
            {
                Columns =
                [
                    .. panel.Columns.SelectMany(column =>
                        sight.MaskedColumns.TryGetValue(column.Name, out var shows)
                        && column is { IsComputed: false, IsSecret: false }
                            ? new[] { column, Of(column, shows) }
                            : [column]
                    ),
                ],
            };
    }

    private static PanelColumn Of(PanelColumn column, int shows)
    {
        // A value that is no longer than what is shown would be seen as a whole.
        var name = $"\"{column.Name.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
        var text = string.Create(
            CultureInfo.InvariantCulture,
            $"case when {name} is null then null when length(cast({name} as text)) > {shows} then '{Dots}' || right(cast({name} as text), {shows}) else '{Dots}' end"
        );
        return new PanelColumn
        {
            Name = NameFor(column.Name),
            Label = column.Label,
            MaskOf = column.Name,
            Expression = text,
            InList = column.InList,
            InForm = column.InForm,
            Section = column.Section,
            Width = column.Width,
            StartsRow = column.StartsRow,
            IsSensitive = column.IsSensitive,
        };
    }
}
